"""Fuzzed sheets: whatever the text, reading, checking, mending and moving it neither fail nor stand still."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from pathlib import Path

import chickadee
from chickadee.checks import CHECKS, USUAL
from chickadee.formats import smf
from chickadee.reshape import by_octaves, by_semitones, by_steps
from chickadee.sheet import CannotEdit, Reading, apply_edits, read
from chickadee.sheet.bounds import MOST_EVENTS
from chickadee.sheet.tidy import tidy

from .figures import Figures
from .trials import Trial, run

SONGS = Path(chickadee.__file__).parent / "songs"
SIGNS = (
    "C4", "f#3", "Bb5", "G♯4", "E", "bb", "B#3", "60", "71=1/2", "^1", "^5", "^4#", "440Hz", "rest", ".", "-", "-=2", "0", "C-1", "G9",
    "C4&E4&G4", "{Am}", "{G7/B}=2", "{F#dim 3}", "{Caug rising}=3", "{Am there and back by 1/3}=3", "{C strum}&C5", "=x", "H4", "|",
    ">C4", "'D4", "(", ")", ")=2", ") x2", ")=1/3 backwards", "[mf]", "[key D minor]", "[meter 3/4]", "[meter 7/8]", "[pedal]", "[lift]",
    "[tempo 90]", "[slow to 60 over 4]", "[swing 60%]", "[louder]", "[vary 6]", "[sound glass bell]", "p", "q", "p up 5", "q x3", "||",
    "q down 2 steps", "upside-down", "backwards", "on ^1 ^3", "stretched 2", "squeezed 3", "to the end", "up 1 octave", "// hm", "&", "{",
    "}", "[", "]", "=", "C4:2,", "CEGEC", "C 4", "R", "‘E4", "=0,5", "C4=0.33", "x", "\t", " ", "﻿", "x500", "=999999", "=1/9999",
    "\nphrase p\n", "\nphrase q\n", "\nphrase P\n", "\nphrase q-2\n", "\nvoice A\n", "\nvoice Drums\nsound: drum kit\n", "\nphrase a&b\n",
    "\nkey: E minor\n", "\nmeter: 6/8\n", "\nticks: 4\n", "\npickup: 1\n", "\noctave: 5\n", "\nrange: C4 to C5\n", "\nwords: la la-la _\n",
    "\nstress: 90 60\n", "\nswing: 60%\n", "\nallow: C D E\n", "\nkeys: q C4, w {Am}\n", "\ngap: 0\n", "\nsound: flute\n", "\nlevel: pp\n", "\n",
    "kick", "snare=1/2", "hat", "\nnonsense: 3\n", "\ntempo: quarter. = 60\n", "\ntuning: 442\n", "\nphrase\n", "\nvoice\n", "bar", "=bar", "=4bars",
)  # fmt: skip
_ODD = ("\0", "\ud800", "😀", "\u00a0", "\u2028", "\r", "é", "٣", "²", "İ", "\x1b", "\u202e", "ſ", "Ａ")
_SLOW = 2.0  # seconds of the processor that a use of a sheet may take
_LARGE = 0.1  # of the sheets may be laid out to hundreds of thousands of signs, which take long
_PER_SIGN = 2e-5  # and for each sign and note that it is laid out to


def soup(chance: random.Random) -> str:
    """Signs in any order."""
    text = " ".join(chance.choice(SIGNS) for _ in range(int(2 ** chance.uniform(0, 6.5))))
    return text if chance.random() < _LARGE else text.replace("x500", "x5").replace("=999999", "=99")


def mutated(chance: random.Random, texts: list[str]) -> str:
    """One of some texts with some of its parts gone, doubled, moved or put elsewhere."""
    text = chance.choice(texts)
    for _ in range(chance.randint(1, 12)):
        at, to = sorted(chance.randrange(len(text) + 1) for _ in range(2))
        to = min(to, at + chance.choice((1, 2, 10, 200)))
        kind = chance.randrange(6)
        if kind == 0:
            text = text[:at] + text[to:]
        elif kind == 1:
            text = text[:to] + text[at:to] * chance.choice((1, 1, 2, 20)) + text[to:]
        elif kind == 2:
            text = text[:at] + chance.choice(SIGNS) + text[at:]
        elif kind == 3:
            text = text[:at] + chance.choice(_ODD) + text[to:]
        elif kind == 4:
            text = text[:at] + text[at:to][::-1] + text[to:]
        else:
            text = text[:at] + text[at:to].replace(" ", chance.choice(("", "\n", "  "))) + text[to:]
    return text


def try_reading(text: str) -> Reading:
    """Read and check a text by every rule, with nothing that would hide a fault."""
    reading = read(text)
    found = [finding for check in CHECKS for finding in check.findings(reading, USUAL)]
    checked = reading.with_findings(found)
    assert checked.text == text
    for finding in checked.findings:
        assert 0 <= finding.start <= finding.end <= len(text), finding
        assert finding.message and finding.message.isprintable() and len(finding.message) <= 400, finding
    for note in checked.song.notes:
        assert note.length > 0 and 0 <= note.number <= 127 and 1 <= note.loudness <= 127, note
        assert all(0 <= start < end <= len(text) for start, end in note.spans), note
    return checked


def try_using(reading: Reading, chance: random.Random, figures: Figures, most: float) -> float:
    """Do with a reading what a user might: apply fixes, move it, tidy it, write it as a MIDI file.

    Each may take ``most`` seconds, or what the size of what it makes allows. Returns the seconds that all took.
    """
    begun = time.process_time()
    text = reading.text
    uses: list[Callable[[], object]] = [
        lambda edits=fix.edits: read(apply_edits(text, edits))  # type: ignore[misc]
        for finding in chance.sample(reading.findings, min(4, len(reading.findings)))
        for fix in finding.fixes
    ]
    uses += [
        lambda: by_semitones(reading, chance.randint(-13, 13)),
        lambda: by_steps(reading, chance.randint(-5, 5)),
        lambda: by_octaves(reading, chance.randint(-2, 2)),
        lambda: smf.write(reading.song),
        lambda: try_tidying(text),
    ]
    for use in uses:
        start = time.process_time()
        allowed = most
        try:
            allowed = max(most, _allowed_for(use()))
        except (CannotEdit, smf.InexactError):
            continue
        finally:
            figures.took("uses of them", time.process_time() - start, allowed, text)
    return time.process_time() - begun


def _allowed_for(made: object) -> float:
    """The seconds that a use may take for what it made: a fix may make a tune much longer."""
    return _SLOW + _PER_SIGN * _laid_out(made) if isinstance(made, Reading) else 0.0


def try_tidying(text: str) -> None:
    """Tidy a sheet; one that is tidy stays as it is."""
    tidied = tidy(text)
    assert tidy(tidied) == tidied


def fuzz(first: int, count: int, seed: int, figures: Figures) -> None:
    """Try so many sheets."""
    texts = [path.read_text("utf-8") for path in sorted(SONGS.glob("*.chick"))]

    def make(chance: random.Random, index: int) -> Trial:
        text = soup(chance) if chance.random() < 0.85 else mutated(chance, texts)
        return Trial("sheets", text, lambda: attempt(text, chance, figures))

    run(make, first, count, seed, figures)


def attempt(text: str, chance: random.Random, figures: Figures) -> float:
    """Try a sheet, and now and then what a user does with it; the seconds that its size allows."""
    reading = try_reading(text)
    more = _PER_SIGN * _laid_out(reading)
    if chance.random() < 0.1:
        more += try_using(reading, chance, figures, _SLOW + more)  # each of those uses is timed by itself
    return more


def _laid_out(reading: Reading) -> int:
    """The signs and notes that a sheet was laid out to; where it is too large, as many as there may be."""
    return MOST_EVENTS if reading.too_large else reading.size

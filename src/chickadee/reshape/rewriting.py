"""Writing another pitch where a sign stands, in its writer's way: names stay names, numbers numbers, steps steps."""

from __future__ import annotations

import re
from collections.abc import Callable

from ..sheet import CannotEdit
from ..sheet.sites import Site
from ..sheet.written import ChordSign, Drum, Hertz, Named, Number, Step
from ..theory import CHORD_KINDS, Chord, Key, Naming, Pitch, PitchName

__all__ = ["NoSymbol", "rewritten"]

_CHORD = re.compile(
    r"(\{\s*)([A-Ga-g](?:##|#|♯|bb|b|♭)?)([^/\s}]*(?:6/9)?)(/[A-Ga-g](?:#|♯|b|♭)?)?(\s+-?[0-9](?=\s|\}))?"
)
_MOST_STEPS = 99
_FLAT = "b"
_SHARP = "#"


class NoSymbol(CannotEdit):
    """A chord symbol whose pitches, moved one by one, make no chord that has a symbol."""


def rewritten(
    site: Site, move: Callable[[Pitch], Pitch], key: Key, tuning: float = 440.0, naming: Naming | None = None
) -> str:
    """How a sign is written when its pitches are moved and the key in force there is ``key``.

    Pitches are named in a tradition, the one that they are named in now where none is given.

    A chord symbol keeps its kind where all its pitches move alike, and otherwise takes the symbol of what they make.
    Raises CannotEdit where a pitch leaves MIDI's, and NoSymbol where moved pitches make no known chord.
    """
    what = site.sign.what
    if isinstance(what, Drum):
        return site.text
    old = site.pitches(tuning)
    new = [move(pitch) for pitch in old]
    for pitch in new:
        if not 0 <= pitch.number <= 127:
            raise CannotEdit(f"{old[new.index(pitch)].pretty} would be outside the range of MIDI, C-1 to G9.")
    if isinstance(what, Number):
        return str(new[0].number)
    if isinstance(what, Hertz):
        return _hertz(what.hertz * 2 ** ((new[0].number - old[0].number) / 12), site.text)
    if isinstance(what, Step):
        return _step(site, what, new[0], key)
    if isinstance(what, Named):
        return _named(site, what, new[0], naming or what.naming)
    return _chord(site, what, old, new, move)


def _named(site: Site, what: Named, pitch: Pitch, naming: Naming) -> str:
    """A name; without an octave where there was none and the new one is that in force."""
    bare = what.octave is None and pitch.octave == site.octave
    return _in_style(pitch.name, site.text, naming) + ("" if bare else str(pitch.octave))


def _in_style(name: PitchName, text: str, naming: Naming = Naming.LETTERS) -> str:
    """A name with small letters and ♯ ♭ where a text has them."""
    written = naming.text(name)
    if naming == Naming.LETTERS and ("♯" in text or "♭" in text):
        written = name.pretty
    letter = text[:1]
    return written[0].lower() + written[1:] if letter.islower() else written


def _step(site: Site, what: Step, pitch: Pitch, key: Key) -> str:
    """The step of a key that has a pitch; its name where no step from ^1 up reaches it."""
    for raised in dict.fromkeys((what.raised, 0, 1, -1)):
        for step in range(1, _MOST_STEPS + 1):
            found = key.at_step(step, site.octave, raised).number
            if found == pitch.number:
                return f"^{step}{_SHARP * raised if raised > 0 else _FLAT * -raised}"
            if found > pitch.number:
                break
    return pitch.text


def _hertz(exact: float, text: str) -> str:
    """A frequency with as few decimals as keep it within a ten-thousandth of a hertz."""
    for decimals in range(5):
        if abs(float(f"{exact:.{decimals}f}") - exact) <= 1e-4:
            break
    return f"{exact:.{decimals}f}{text[re.search('[A-Za-z]', text).start() :]}"  # type: ignore[union-attr]


def _chord(site: Site, what: ChordSign, old: list[Pitch], new: list[Pitch], move: Callable[[Pitch], Pitch]) -> str:
    found = _CHORD.match(site.text)
    assert found is not None
    chord = what.chord
    root_place = 1 if what.chord.bass else 0
    root = new[root_place]
    bass = move(old[0]).name if chord.bass else None
    numbers = [pitch.number for pitch in new]
    symbol = found[3]
    if [pitch.number for pitch in Chord(root.name, chord.kind, bass).pitches(root.octave)] != numbers:
        made = ((kind, Chord(root.name, kind, bass).pitches(root.octave)) for kind in CHORD_KINDS.values())
        kind = next((kind for kind, pitches in made if [pitch.number for pitch in pitches] == numbers), None)
        if kind is None:
            raise NoSymbol(f"{site.text} makes no chord with a symbol when its pitches move one by one.")
        symbol = kind.symbol
    octave = found[5] or ""
    if octave:
        octave = octave[: len(octave) - len(octave.strip())] + str(root.octave)
    elif root.octave != site.octave:
        octave = f" {root.octave}"
    slash = f"/{_in_style(bass, found[4][1:])}" if bass and found[4] else ""
    return f"{found[1]}{_in_style(root.name, found[2])}{symbol}{slash}{octave}{site.text[found.end() :]}"

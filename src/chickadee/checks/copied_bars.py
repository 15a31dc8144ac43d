"""Bars that were copied out could be a phrase."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..sheet.names import free_name
from ..sheet.tree import BarLine, Block
from ..sheet.word import read_word
from .check import Check
from .profile import Profile

__all__ = ["CopiedBars"]

_FEWEST_BARS = 2
_FEWEST_NOTES = 6
_MOST_PLACES = 8  # of equal bars that a copy is compared with, the first ones


class _Bar(NamedTuple):
    """A bar as it is written, without its line."""

    words: tuple[str, ...]
    start: int
    end: int
    """The end of its line."""

    @property
    def text(self) -> str:
        """Its words with one space between."""
        return " ".join(self.words)

    @property
    def notes(self) -> int:
        """How many of its words strike something."""
        return sum(bool(read_word(word).signs) for word in self.words)


class CopiedBars(Check):
    """Reports bars that a voice repeats. Its fix writes them as a phrase that is used twice."""

    rule = Rule("copied-bars", Severity.HINT, "Bars that a voice repeats and that could be a phrase.")
    why = "A mistake in copied bars must be corrected in every copy; a phrase is corrected once."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each run of bars that was copied, at the copy."""
        for voice in reading.sheet.voices:
            bars = list(_bars(reading.text, voice))
            for first, second, count in _runs(bars):
                run = bars[first : first + count]
                plain = not voice.syllables and not any("//" in bar.words for bar in run)
                if plain and sum(bar.notes for bar in run) >= _FEWEST_NOTES:
                    message = (
                        f"These {count} bars of {voice.name} repeat earlier ones; a phrase would write them once."
                    )
                    fix = _as_phrase(reading, voice, bars, (first, second, count))
                    yield self.rule.at(bars[second].start, bars[second + count - 1].end, message, fix)


def _bars(text: str, voice: Block) -> Iterator[_Bar]:
    """The bars of a voice's own text that a line closes."""
    start = -1
    for node in voice.body:
        if type(node) is not BarLine:
            start = node.start if start < 0 else start
        elif start >= 0:
            yield _Bar(tuple(text[start : node.start].split()), start, node.end)
            start = -1


def _runs(bars: list[_Bar]) -> Iterator[tuple[int, int, int]]:
    """(first, second, count) of the longest runs of bars that stand again later, none over another."""
    places: dict[tuple[str, ...], list[int]] = {}
    here = 0
    if len({bar.words for bar in bars}) == len(bars):
        return
    while here < len(bars):
        best = (0, 0)
        for before in places.get(bars[here].words, []):
            count = 0
            while (
                before + count < here
                and here + count < len(bars)
                and bars[before + count].words == bars[here + count].words
            ):
                count += 1
            best = max(best, (count, before))
        count, before = best
        for bar in range(here, here + max(1, count)):
            known = places.setdefault(bars[bar].words, [])
            if len(known) < _MOST_PLACES:
                known.append(bar)
        if count >= _FEWEST_BARS:
            yield before, here, count
        here += max(1, count)


def _as_phrase(reading: Reading, voice: Block, bars: list[_Bar], run: tuple[int, int, int]) -> Fix:
    text = reading.text
    first, second, count = run
    sheet = reading.sheet
    name = free_name("again", "phrase", {phrase.lower() for phrase in sheet.phrases})
    music = " | ".join(bar.text for bar in bars[first : first + count])
    header = text.rfind("\n", 0, voice.start) + 1 if voice.start != voice.body[0].start else None
    phrase = f"phrase {name}\n  {music} |\n\n"
    if header is None:  # notes before any block are a voice without a header, which a phrase would take in
        phrase = f"{phrase}voice {voice.name}\n"
        header = text.rfind("\n", 0, voice.body[0].start) + 1
    edits = [TextEdit(header, header, phrase)]
    for place in (first, second):
        edits.append(TextEdit(bars[place].start, bars[place + count - 1].end, f"{name} |"))
    return Fix(f"Write the phrase “{name}”", tuple(edits))

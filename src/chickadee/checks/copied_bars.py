"""Bars that were copied out could be a phrase."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..sheet.names import free_name
from ..sheet.tree import BarLine, Block, Item, Node
from .check import Check
from .profile import Profile

__all__ = ["CopiedBars"]

_FEWEST_BARS, _FEWEST_NOTES = 2, 6


class _Bar(NamedTuple):
    """A bar as it is written, without its line."""

    text: str
    notes: int
    start: int
    end: int


class CopiedBars(Check):
    """Reports bars that stand a second time in a voice, and writing them as a phrase that is used twice."""

    rule = Rule("copied-bars", Severity.HINT, "Bars that stand twice in a voice and could be a phrase.")
    why = "What is copied is mended in one place only; a phrase is mended everywhere."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each run of bars that was copied, at the copy."""
        for voice in reading.sheet.voices:
            bars = list(_bars(reading.text, voice))
            for first, second, count in _runs(bars):
                notes = sum(bar.notes for bar in bars[first : first + count])
                if notes >= _FEWEST_NOTES and not voice.syllables:
                    message = (
                        f"These {count} bars of {voice.name} stood before; as a phrase they would be written once."
                    )
                    fix = _as_phrase(reading, voice, bars, (first, second, count))
                    yield self.rule.at(bars[second].start, bars[second + count - 1].end, message, fix)


def _bars(text: str, voice: Block) -> Iterator[_Bar]:
    """The bars of a voice's own text that a line closes."""
    inside: list[Node] = []
    for node in voice.body:
        if not isinstance(node, BarLine):
            inside.append(node)
            continue
        if inside:
            written = " ".join(text[each.start : each.end] for each in inside)
            notes = sum(isinstance(each, Item) and bool(each.word.signs) for each in inside)
            yield _Bar(written, notes, inside[0].start, node.end)
        inside = []


def _runs(bars: list[_Bar]) -> Iterator[tuple[int, int, int]]:
    """(first, second, count) of the longest runs of bars that stand again later, none over another."""
    places: dict[str, list[int]] = {}
    here = 0
    while here < len(bars):
        best = (0, 0)
        for before in places.get(bars[here].text, []):
            count = 0
            while (before + count < here and here + count < len(bars)
                   and bars[before + count].text == bars[here + count].text):  # fmt: skip
                count += 1
            best = max(best, (count, before))
        count, before = best
        for bar in range(here, here + max(1, count)):
            places.setdefault(bars[bar].text, []).append(bar)
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
        phrase, header = f"{phrase}voice {voice.name}\n", text.rfind("\n", 0, voice.body[0].start) + 1
    edits = [TextEdit(header, header, phrase)]
    for place in (first, second):
        edits.append(TextEdit(bars[place].start, bars[place + count - 1].end, f"{name} |"))
    return Fix(f"Write the phrase “{name}”", tuple(edits))

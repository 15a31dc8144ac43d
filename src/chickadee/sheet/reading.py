"""A sheet, read: its song, its findings, and the way from text to notes and back."""

from __future__ import annotations

import gc
from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from itertools import accumulate, chain

from ..caching import latest
from ..notebook import drawn
from ..song import Meter, Note, Song
from . import rules
from .bars import Bar, bars_of
from .bounds import MOST_FINDINGS, TooMany
from .expand import expand
from .finding import Finding, Severity
from .length import Lengths
from .parse import parse
from .sites import Place, Site, places_of
from .tree import Block, Sheet, groups_in, is_written_so, items_in
from .walk import Event
from .word import Word

_HEAVY = 400_000  # notes and signs of readings that are kept together

__all__ = ["Reading", "collector_paused", "not_read", "read"]


@dataclass(frozen=True, repr=False)
class Reading:
    """A sheet that was read.

    >>> reading = read("C4 60 E4=2 |")
    >>> [note.number for note in reading.song.notes], reading.findings
    ([60, 60, 64], ())
    >>> reading.place(3)
    (1, 4)
    """

    text: str
    sheet: Sheet
    song: Song
    events: tuple[tuple[Event, ...], ...]
    """For each voice, in order of time: what its text does."""
    unused: tuple[tuple[Event, ...], ...]
    """The events of each phrase that no voice uses."""
    findings: tuple[Finding, ...]
    """In order of place."""

    def __repr__(self) -> str:
        count = len(self.findings)
        return f"<Reading of {self.song.summary}, {count} finding{'s' * (count != 1)}>"

    def _repr_html_(self) -> str | None:
        """The timeline with a player, and the findings, for a notebook."""
        return drawn(self)

    @property
    def has_errors(self) -> bool:
        """True if any finding is an error."""
        return any(finding.severity is Severity.ERROR for finding in self.findings)

    @property
    def size(self) -> int:
        """The notes and signs that are laid out, which is what a reading takes memory for."""
        return len(self.song.notes) + sum(map(len, (*self.events, *self.unused)))

    @property
    def too_large(self) -> str:
        """The sentence that says why the tune is too large to be a song; empty where it is one."""
        found = (each.message for each in self.findings if each.code == rules.TOO_LARGE.code)
        return next(found, "") if not self.song.voices else ""

    @cached_property
    def bars(self) -> tuple[Bar, ...]:
        """Every bar that a bar line closes, voice by voice; then those inside the phrases that no voice uses."""
        grid = self.song.grid
        found = [bar for voice, events in enumerate(self.events) for bar in bars_of(voice, events, grid)]
        inside = [bar for events in self.unused for bar in list(bars_of(len(self.events), events, grid))[1:]]
        return (*found, *inside)

    @cached_property
    def places(self) -> dict[int, frozenset[Place]]:
        """The places in which the signs of each block, by its identity, are read where it is used."""
        return places_of(self.sheet)

    @cached_property
    def sites(self) -> tuple[Site, ...]:
        """Every sign that names pitches, block by block, without those that are only nearly the language."""
        ticks = self._first_ticks()
        return tuple(
            Site(
                block,
                item,
                sign,
                item.word.text[sign.start : sign.end],
                self.song.key_at(ticks.get(item.start, 0)),
                self.places[id(block)],
            )
            for block in (*self.sheet.phrases.values(), *self.sheet.voices)
            for item in items_in(block.body)
            if is_written_so(self.text, item)
            for sign in item.word.signs
        )

    def site_at(self, note: Note) -> Site | None:
        """The sign that strikes a note; None for a word that is only nearly the language."""
        return self._sites_by_spans.get(note.spans[0][0])

    def numbers_of(self, note: Note) -> set[int]:
        """The MIDI numbers that the sign of a note sounds as, wherever it is used."""
        return self._numbers_by_spans[note.spans[0]]

    @property
    def lengths(self) -> Lengths:
        """How the sheet counts lengths."""
        return Lengths(self.sheet.settings.meter or Meter(), self.sheet.settings.ticks)

    def own_ticks(self, word: Word, tick: int) -> Fraction:
        """The ticks that a word's own length asks for at a tick, before anything is done to it."""
        return self.lengths.ticks(word.length, self.song.grid.meter_at(tick))

    @cached_property
    def _sites_by_spans(self) -> dict[int, Site]:
        return {site.item.start if len(site.item.word.signs) == 1 else site.start: site for site in self.sites}

    @cached_property
    def _numbers_by_spans(self) -> dict[tuple[int, int], set[int]]:
        found: dict[tuple[int, int], set[int]] = {}
        for note in self.song.notes:
            found.setdefault(note.spans[0], set()).add(note.number)
        return found

    def block_at(self, offset: int) -> Block | None:
        """The voice or phrase whose music an offset lies in, or None."""
        starts, blocks = self._blocks
        place = bisect_right(starts, offset) - 1
        return blocks[place] if place >= 0 and offset < blocks[place].body[-1].end else None

    def is_fitted(self, offset: int) -> bool:
        """Return whether an offset lies inside a group that is fitted into a length."""
        starts, ends = self._fitted
        place = bisect_right(starts, offset) - 1
        return place >= 0 and offset < ends[place]

    @cached_property
    def _blocks(self) -> tuple[list[int], list[Block]]:
        """The blocks that hold music, in order of place, and where the music of each begins."""
        blocks = [block for block in (*self.sheet.voices, *self.sheet.phrases.values()) if block.body]
        blocks.sort(key=lambda block: block.body[0].start)
        return [block.body[0].start for block in blocks], blocks

    @cached_property
    def _fitted(self) -> tuple[list[int], list[int]]:
        """Where fitted groups begin and end, without those that stand inside another."""
        starts = []
        ends = [0]
        for block in self._blocks[1]:
            for group in groups_in(block.body):
                if group.length is not None and group.start >= ends[-1]:
                    starts.append(group.start)
                    ends.append(group.end)
        return starts, ends[1:]

    def _first_ticks(self) -> dict[int, int]:
        """The tick at which each item is first met, by its offset."""
        found: dict[int, int] = {}
        for events in (*self.events, *self.unused):
            for event in events:
                if event.tick <= found.get(event.start, event.tick):
                    found[event.start] = event.tick
        return found

    def with_findings(self, more: Iterable[Finding]) -> Reading:
        """The same reading with further findings, all in order of place; those of a place and rule count once."""
        found: dict[tuple[int, int, str], Finding] = {}
        for finding in chain(self.findings, more):
            if len(found) > MOST_FINDINGS:
                break
            if len(found) == MOST_FINDINGS:
                message = (
                    f"There are more than {MOST_FINDINGS:,} findings here; the rest are shown once these are fixed."
                )
                finding = rules.MORE.at(len(self.text), len(self.text), message)
            found.setdefault((finding.start, finding.end, finding.code), finding)
        new = replace(self, findings=tuple(found[place] for place in sorted(found)))
        known: dict[str, object] = {
            name: self.__dict__[name]
            for name in ("bars", "places", "sites", "_spans", "_reach", "_line_starts")
            if name in self.__dict__
        }
        new.__dict__.update(known)  # what does not depend on the findings need not be worked out again
        return new

    def notes_at(self, start: int, end: int) -> list[int]:
        """Indices of notes whose source spans touch the characters from ``start`` to ``end``, in order of time."""
        first = bisect_left(self._reach, start)
        near = self._spans[first : bisect_right(self._spans, (end, len(self.text) + 1, 0))]
        if start == end:
            return sorted({note for _, span_end, note in near if span_end >= start})
        return sorted({note for span_start, span_end, note in near if span_end > start and span_start < end})

    def text_of(self, note: Note) -> str:
        """The text that strikes a note."""
        start, end = note.spans[0]
        return self.text[start:end]

    def place(self, offset: int) -> tuple[int, int]:
        """The line and column of an offset, both counted from 1, columns in characters."""
        line = bisect_right(self._line_starts, offset)
        return line, offset - self._line_starts[line - 1] + 1

    @cached_property
    def _spans(self) -> list[tuple[int, int, int]]:
        return sorted((start, end, index) for index, note in enumerate(self.song.notes) for start, end in note.spans)

    @cached_property
    def _reach(self) -> list[int]:
        """The furthest end of a span up to each of ``_spans``."""
        return list(accumulate((end for _, end, _ in self._spans), max))

    @cached_property
    def _line_starts(self) -> list[int]:
        starts = [0]
        at = self.text.find("\n")
        while at >= 0:
            starts.append(at + 1)
            at = self.text.find("\n", at + 1)
        return starts


def _size_of(reading: Reading) -> int:
    return reading.size


@latest(2, _HEAVY, _size_of)  # an edit that was tried out is read once
def read(text: str) -> Reading:
    """Read a sheet. Never fails: what cannot be read is a finding, and everything else still sounds."""
    with collector_paused():
        sheet, findings = _parsed(text)
        expansion = expand(sheet)
        reading = Reading(text, sheet, expansion.song, expansion.events, expansion.unused, ())
        return reading.with_findings([*findings, *expansion.findings])


def not_read(text: str) -> Reading:
    """The reading of a text at which the reader itself failed: no song, and one finding over all of it."""
    sheet, _ = parse("")
    message = (
        "Chickadee could not read this tune because of an internal error. The text is complete and can be saved."
    )
    return Reading(text, sheet, expand(sheet).song, (), (), (rules.NOT_READ.at(0, len(text), message),))


def _parsed(text: str) -> tuple[Sheet, list[Finding]]:
    """The tree of a text and its findings; of a text beyond the bounds an empty tree, and that it is so."""
    try:
        return parse(text)
    except TooMany as fault:
        return parse("")[0], [rules.TOO_LARGE.at(fault.start, fault.end, fault.sentence)]


@contextmanager
def collector_paused() -> Iterator[None]:
    """Turn garbage collection off: reading and checking make very many small tuples and no cycle."""
    was_working = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_working:
            gc.enable()

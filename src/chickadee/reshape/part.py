"""Which part of a tune is to be reshaped."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..sheet import CannotEdit, Reading
from ..sheet.sites import Site
from ..sheet.tree import Block, Use, is_written_so, items_in, uses_in

__all__ = ["SONG", "Part", "Scope", "blocks_of", "notes_of", "scope_of"]


@dataclass(frozen=True, slots=True)
class Part:
    """The whole song, one voice, one phrase, or some notes.

    >>> Part.of_voice(1).is_song, Part().is_song
    (False, True)
    """

    voice: int | None = None
    phrase: str | None = None
    notes: frozenset[int] | None = None
    """Indices of notes."""

    @classmethod
    def of_voice(cls, voice: int) -> Part:
        """One voice, by its index."""
        return cls(voice=voice)

    @classmethod
    def of_phrase(cls, name: str) -> Part:
        """One phrase, by its name."""
        return cls(phrase=name)

    @classmethod
    def of_notes(cls, notes: Iterable[int]) -> Part:
        """Some notes, by their indices: all the signs that write them."""
        return cls(notes=frozenset(notes))

    @property
    def is_song(self) -> bool:
        """True if everything belongs to it."""
        return self.voice is None and self.phrase is None and self.notes is None


SONG = Part()
"""Everything."""


@dataclass(frozen=True, slots=True)
class Scope:
    """The signs and uses of a part in the text."""

    sites: tuple[Site, ...]
    """The signs that are to be changed; drums are not among them."""
    uses: tuple[Use, ...]
    """Phrases used here whose text belongs to others too: the use is to be changed, not the phrase."""


def scope_of(reading: Reading, part: Part) -> Scope:
    """The signs and uses of a part; each sign is there once, however often it sounds. Raises CannotEdit."""
    _refuse_near_misses(reading)
    sites = [site for site in reading.sites if not site.is_drum]
    if part.notes is not None:
        spans = {reading.song.notes[index].spans[0] for index in part.notes}
        return Scope(tuple(site for site in sites if spans & {(site.start, site.end), _whole_word(site)}), ())
    blocks = blocks_of(reading, part)
    inside = {id(block) for block in blocks}
    phrases = reading.sheet.phrases
    uses = [use for block in blocks for use in uses_in(block.body) if use.name in phrases]
    return Scope(
        tuple(site for site in sites if id(site.block) in inside),
        tuple(use for use in uses if id(phrases[use.name]) not in inside),
    )


def _refuse_near_misses(reading: Reading) -> None:
    """Refuse near misses: what is only nearly the language has no signs that could be changed."""
    for block in (*reading.sheet.phrases.values(), *reading.sheet.voices):
        for item in items_in(block.body):
            if item.word.signs and not is_written_so(reading.text, item):
                written = reading.text[item.start : item.end]
                line = reading.place(item.start)[0]
                raise CannotEdit(
                    f"“{written}” in line {line} is not quite written in the language; please apply its hint first."
                )


def notes_of(reading: Reading, part: Part, drums: bool = False) -> list[int]:
    """Indices of the notes that a part sounds as, without or with drums."""
    song = reading.song
    tuned = [index for index, note in enumerate(song.notes) if drums or not song.voices[note.voice].is_drums]
    if part.notes is not None:
        return [index for index in tuned if index in part.notes]
    if part.voice is not None:
        return [index for index in tuned if song.notes[index].voice == part.voice]
    if part.phrase is not None:
        spans = [(block.body[0].start, block.body[-1].end) for block in blocks_of(reading, part) if block.body]
        return [index for index in tuned if any(start <= song.notes[index].spans[0][0] < end for start, end in spans)]
    return tuned


def _whole_word(site: Site) -> tuple[int, int]:
    """The offsets of a sign's word where it is the only one in it, which is then a note's source span."""
    lone = len(site.item.word.signs) == 1
    return (site.item.start, site.item.end) if lone else (site.start, site.end)


def blocks_of(reading: Reading, part: Part) -> list[Block]:
    """The blocks that belong to a part and to nothing else."""
    sheet = reading.sheet
    every: list[Block] = [*sheet.phrases.values(), *sheet.voices]
    if part.is_song:
        return every
    inside: list[Block] = [sheet.phrases[part.phrase]] if part.phrase is not None else [sheet.voices[part.voice or 0]]
    while True:
        mine = {id(block) for block in inside}
        elsewhere = {use.name for block in every if id(block) not in mine for use in uses_in(block.body)}
        here = {use.name for block in inside for use in uses_in(block.body)} & sheet.phrases.keys()
        more = [sheet.phrases[name] for name in here - elsewhere if id(sheet.phrases[name]) not in mine]
        if not more:
            return inside
        inside += more

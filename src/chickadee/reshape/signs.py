"""Every sign of a sheet that names pitches, with what it means where it stands."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..sheet import CannotEdit, Reading
from ..sheet.tree import Block, Item, items_in, uses_in
from ..sheet.word import Sign
from ..sheet.written import ChordSign, Named, Step
from ..song.drums import DRUM_SOUND
from ..theory import Key

__all__ = ["Place", "Site", "sites_of"]

_USUAL_OCTAVE = 4


@dataclass(frozen=True, slots=True)
class Place:
    """What a block's signs are read in where it is used; a phrase without an octave can have several."""

    octave: int
    """Of letters without one."""
    given: bool
    """Whether a property says so, of the block or of what it is used in."""
    drums: bool


@dataclass(frozen=True, slots=True)
class Site:
    """A sign that names pitches.

    >>> from chickadee import read
    >>> [(site.text, site.key.text) for site in sites_of(read("key: G major\\nB4&67=2"))]
    [('B4', 'G major'), ('67', 'G major')]
    """

    block: Block
    item: Item
    sign: Sign
    text: str
    key: Key
    """The key in force where it first sounds."""
    places: frozenset[Place]

    @property
    def start(self) -> int:
        """Offsets in the sheet of the first character and of the one after the last."""
        return self.item.start + self.sign.start

    @property
    def end(self) -> int:
        return self.item.start + self.sign.end

    @property
    def is_drum(self) -> bool:
        """Whether it names a percussion key, everywhere it is used."""
        return all(place.drums for place in self.places)

    @property
    def octave(self) -> int:
        """The octave that a letter without one has here. Raises CannotEdit where uses give different ones."""
        octaves = {(place.octave, place.given) for place in self.places}
        if len(octaves) > 1:
            raise CannotEdit(
                f"“{self.text}” in the phrase {self.block.name} has no octave and is used in several; "
                "please give the phrase an octave first."
            )
        return octaves.pop()[0]

    @property
    def follows_octave(self) -> bool:
        """Whether it is written without an octave, which a property gives it."""
        what = self.sign.what
        bare = isinstance(what, Step) or (isinstance(what, Named | ChordSign) and what.octave is None)
        return bare and all(place.given for place in self.places)


def sites_of(reading: Reading) -> list[Site]:
    """Every sign of a sheet that names pitches, block by block. Raises CannotEdit for a near miss among them."""
    places = _places(reading)
    ticks = _first_ticks(reading)
    found = []
    for block in (*reading.sheet.phrases.values(), *reading.sheet.voices):
        for item in items_in(block.body):
            if item.word.signs and len(item.word.text) != item.end - item.start:
                line, _ = reading.place(item.start)
                written = reading.text[item.start : item.end]
                raise CannotEdit(f"“{written}” in line {line} is not quite written in the language; "
                                 "please apply its hint first.")  # fmt: skip
            key = reading.song.key_at(ticks.get(item.start, 0))
            for sign in item.word.signs:
                text = item.word.text[sign.start : sign.end]
                found.append(Site(block, item, sign, text, key, frozenset(places[id(block)])))
    return found


def _places(reading: Reading) -> dict[int, set[Place]]:
    """Where each block is used, by the block's identity."""
    sheet = reading.sheet
    song = sheet.settings.octave
    usual = Place(_USUAL_OCTAVE if song is None else song, song is not None, drums=False)
    found: dict[int, set[Place]] = {}

    def visit(block: Block, outer: Place) -> None:
        own = block.settings.octave
        place = outer if own is None else Place(own, True, outer.drums)
        if place in found.setdefault(id(block), set()):
            return
        found[id(block)].add(place)
        for use in uses_in(block.body):
            if use.name in sheet.phrases:
                visit(sheet.phrases[use.name], place)

    for voice in sheet.voices:
        visit(voice, replace(usual, drums=voice.settings.sound == DRUM_SOUND))
    for phrase in sheet.phrases.values():
        if id(phrase) not in found:
            visit(phrase, usual)
    return found


def _first_ticks(reading: Reading) -> dict[int, int]:
    """The tick at which each item is first met, by its offset."""
    found: dict[int, int] = {}
    for events in (*reading.events, *reading.unused):
        for event in events:
            if event.tick <= found.get(event.start, event.tick):
                found[event.start] = event.tick
    return found

"""Every sign of a sheet that names pitches, with what it means where it stands."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..faults import InputFault
from ..song.drums import DRUM_SOUND
from ..theory import Key, Pitch, nearest_number
from .tree import Block, Item, Sheet, uses_in
from .word import Sign
from .written import DEFAULT_OCTAVE, ChordSign, Hertz, Named, Step

__all__ = ["CannotEdit", "Place", "Site", "places_of"]


class CannotEdit(InputFault):
    """An edit that the text cannot take; its text says why in one sentence."""


@dataclass(frozen=True, slots=True)
class Place:
    """The key and octave in which a block's signs are read where it is used; a phrase can have several."""

    octave: int
    """Of letters without one."""
    given: bool
    """True if a property says so, of the block or of what it is used in."""
    drums: bool


@dataclass(frozen=True, slots=True)
class Site:
    """A sign that names pitches.

    >>> from chickadee import read
    >>> site = read("key: G major\\nB4&67=2").sites[1]
    >>> site.text, [pitch.text for pitch in site.pitches()]
    ('67', ['G4'])
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
        """True if it names a percussion key, everywhere it is used."""
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

    def pitches(self, tuning: float = 440.0) -> list[Pitch]:
        """The pitches it names by itself, before anything is done to a group or phrase it stands in.

        ``tuning`` is the frequency of A4 in Hz. Raises CannotEdit as :attr:`octave` does.
        """
        what = self.sign.what
        key = self.key
        if isinstance(what, Named):
            return [what.name.at(self.octave if what.octave is None else what.octave)]
        if isinstance(what, ChordSign):
            return list(what.chord.pitches(self.octave if what.octave is None else what.octave))
        if isinstance(what, Step):
            return [key.at_step(what.step, self.octave, what.raised)]
        if isinstance(what, Hertz):
            return [key.spell(nearest_number(what.hertz, tuning))]
        return [key.spell(what.number)]

    @property
    def is_bare(self) -> bool:
        """True if it is written without an octave."""
        what = self.sign.what
        return isinstance(what, Step) or (isinstance(what, Named | ChordSign) and what.octave is None)

    @property
    def follows_octave(self) -> bool:
        """True if it is written without an octave, which a property gives it."""
        return self.is_bare and all(place.given for place in self.places)

    def within(self, octave: int) -> Site:
        """The same sign as it is read in one of its octaves."""
        mine = [place for place in self.places if place.octave == octave]
        return replace(self, places=frozenset(mine[:1] or [Place(octave, True, False)]))


def places_of(sheet: Sheet) -> dict[int, frozenset[Place]]:
    """Where each block is used, by the block's identity."""
    song = sheet.settings.octave
    usual = Place(DEFAULT_OCTAVE if song is None else song, song is not None, drums=False)
    found: dict[int, set[Place]] = {}

    def visit(block: Block, outer: Place) -> None:
        own = block.settings.octave
        place = outer if own is None else Place(own, True, outer.drums)
        if place in found.setdefault(id(block), set()):
            return
        found[id(block)].add(place)
        for use in uses_in(block.body):
            if use.start not in sheet.left_out:
                visit(sheet.phrases[use.name], place)

    for voice in sheet.voices:
        visit(voice, replace(usual, drums=voice.settings.sound == DRUM_SOUND))
    for phrase in sheet.phrases.values():
        if id(phrase) not in found:
            visit(phrase, usual)
    return {block: frozenset(places) for block, places in found.items()}

"""A bar as it is written: its lines of notes and rests, each with type, tuplet, beam, stem, ties and accidentals."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum
from typing import NamedTuple

from ..song import Meter, Note
from ..theory import Key, Pitch
from .accidentals import DrawnAccidental
from .clefs import DrumHead
from .lengths import WrittenLength
from .tuplets import Tuplet

__all__ = ["Beam", "NotatedBar", "NotatedItem", "NotatedLine", "NoteHead", "Stem"]


class Beam(Enum):
    """The part of one beam that a stem has."""

    BEGIN = "begin"
    CONTINUE = "continue"
    END = "end"
    FORWARD_HOOK = "forward hook"
    BACKWARD_HOOK = "backward hook"


class Stem(Enum):
    """Where a stem goes."""

    UP = "up"
    DOWN = "down"


class NoteHead(NamedTuple):
    """One pitch of what is struck together."""

    note: Note
    pitch: Pitch
    """As it is drawn."""
    place: int
    """Steps from the staff's lowest line up."""
    accidental: DrawnAccidental | None
    tied: bool
    """True if it is held into the next item of its line."""
    shape: DrumHead = DrumHead.PLAIN


class NotatedItem(NamedTuple):
    """One written note, chord or rest."""

    start: int
    """The tick at which it sounds, or rests, from the song's start."""
    end: int
    length: WrittenLength
    heads: tuple[NoteHead, ...] = ()
    """From the lowest; none for a rest."""
    struck: bool = True
    """False if it only goes on sounding."""
    whole_bar: bool = False
    """True for the rest that fills a whole bar, which stands in its middle."""
    exact: bool = True
    """False if its place or length has no notation and the nearest is written."""
    tuplet: Tuplet | None = None
    """The tuplet it is part of, in ticks of the whole bar."""
    beams: tuple[Beam, ...] = ()
    """The part of each of its beams, from the one that is farthest from the heads."""
    stem: Stem | None = None
    """None for rests and whole notes."""

    @property
    def is_rest(self) -> bool:
        """True if nothing sounds."""
        return not self.heads


@dataclass(frozen=True, slots=True)
class NotatedLine:
    """Notes and rests of one bar that follow one another without a gap."""

    staff: int
    """The staff it stands on, from 0."""
    number: int
    """The place of the line among those of its voice, from 0."""
    items: tuple[NotatedItem, ...]


@dataclass(frozen=True, slots=True)
class NotatedBar:
    """One bar of a voice."""

    number: int
    start: int
    """Ticks from the song's start."""
    end: int
    meter: Meter
    key: Key
    lines: tuple[NotatedLine, ...]

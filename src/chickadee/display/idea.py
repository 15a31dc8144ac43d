"""An idea as the window shows it: its song, where it is heard from, and its facts in one line."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from itertools import pairwise
from operator import attrgetter

from ..ideas.proposing import Proposal, Way
from ..ideas.recipe import Recipe
from ..sheet import Reading, TextEdit, read
from ..song import Song
from . import words

__all__ = ["Idea"]


@dataclass(frozen=True, slots=True)
class Idea:
    """A tune of its own, or a change of the open one."""

    title: str
    reading: Reading
    facts: str
    edits: tuple[TextEdit, ...] = ()
    """The edits of the open tune's sheet, where it is a change."""
    new: Song | None = None
    """The new notes of the open tune, as a song of those alone."""
    voice: int = 0
    """The voice of the song that the contour shows."""
    start: int = 0
    """The tick from which on it is heard."""

    @property
    def song(self) -> Song:
        """The tune, or the open one with the change."""
        return self.reading.song

    @classmethod
    def of_tune(cls, text: str, recipe: Recipe) -> Idea:
        """A practice tune."""
        reading = read(text)
        song = reading.song
        line = [song.notes[place] for place in song.melody(0)]
        low = min(line, key=attrgetter("number"))
        high = max(line, key=attrgetter("number"))
        places = {pitch.number: place for place, pitch in enumerate(recipe.ladder)}
        moves = [abs(places.get(two.number, 0) - places.get(one.number, 0)) for one, two in pairwise(line)]
        steps = round(100 * sum(move <= 1 for move in moves) / max(1, len(moves)))
        facts = (
            f"{words.counted(len(line), 'note')} · {low.pitch.pretty} to {high.pitch.pretty} · "
            f"{steps}% steps · {words.clock(song.seconds)}"
        )
        return cls(song.title, reading, facts)

    @classmethod
    def of_change(cls, proposal: Proposal, way: Way, before: Song, number: int) -> Idea:
        """A change of the open tune."""
        song = proposal.reading.song
        mine = [song.notes[place] for place in song.by_voice[proposal.voice].tolist()]
        start = song.grid.start(proposal.first_bar)
        old = {(note.start, note.length, note.number) for note in before.notes if note.voice == proposal.voice}
        new = [note for note in mine if (note.start, note.length, note.number) not in old]
        if way in (Way.ANSWER, Way.SECOND):
            facts = f"{words.counted(len(new), 'new note')}: " + " ".join(
                song.naming.pitch_pretty(note.pitch) for note in new[:12]
            )
        elif way is Way.CHORDS:
            signs = re.findall(r"\{([^}]*)\}", proposal.edits[0].text)
            facts = " · ".join(sign.replace("#", "♯").replace("b", "♭") for sign in signs)
        else:
            facts = f"{len(new)} of {words.counted(len(mine), 'note')} change"
        title = way.value[:1].upper() + way.value[1:]
        shown = replace(song, notes=tuple(new))
        return cls(f"{title} {number}", proposal.reading, facts, proposal.edits, shown, proposal.voice, start)

"""Tempos written into a sheet where some ticks are, so that it goes as fast as was heard."""

from __future__ import annotations

import re
from collections.abc import Mapping

from .edits import set_property
from .finding import TextEdit, apply_edits
from .meaning import EventKind
from .reading import Reading, read
from .sites import CannotEdit

__all__ = ["set_tempos"]

_TEMPO_BEFORE = re.compile(r"\[tempo [^\]\n]*\]\s*$")
_CLOSE = 0.002  # of a tempo, by which what was written may be off


def set_tempos(reading: Reading, tempos: Mapping[int, float]) -> list[TextEdit]:
    """Write the tempo that holds from each of some ticks on, in beats a minute.

    The first is the tune's own; others stand before what begins at their ticks. Raises CannotEdit where nothing
    begins at one of them, or it would be played at other places too.
    """
    (_, own), *later = sorted(tempos.items())
    edits = set_property(reading, "tempo", _text(own))
    for tick, tempo in later:
        at = _sign_at(reading, tick)
        before = _TEMPO_BEFORE.search(reading.text, 0, at)
        edits.append(TextEdit(before.start() if before else at, at, f"[tempo {_text(tempo)}] "))
    song = read(apply_edits(reading.text, edits)).song
    for tick, tempo in tempos.items():
        found = float(song.tempo.tempo_at(tick)) * song.grid.meter_at(tick).lower / 4
        if abs(found - tempo) > _CLOSE * tempo:
            raise CannotEdit("A phrase or a repeat here is played at other places too; please write the bars out.")
    if len(song.tempo.tempos) != len(tempos) or [each.start for each in song.notes] != [
        each.start for each in reading.song.notes
    ]:
        raise CannotEdit("The tune has changes of tempo of its own; take them out first.")
    return edits


def _sign_at(reading: Reading, tick: int) -> int:
    """The offset of a sign that begins at a tick."""
    for events in reading.events:
        for event in events:
            if event.tick == tick and event.kind in (EventKind.STRIKE, EventKind.REST):
                return event.start
    number = reading.song.grid.number_at(tick)
    raise CannotEdit(f"Nothing begins where bar {number} does; split the note that is held over its bar line.")


def _text(tempo: float) -> str:
    return f"{tempo:.2f}".rstrip("0").rstrip(".")

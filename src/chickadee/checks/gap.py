"""Equal notes in a row need a gap to be heard apart."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Fix, Reading, Rule, Severity
from ..sheet.edits import set_property
from ..song import Note
from ..song.song import DEFAULT_GAP
from .check import Check
from .profile import Profile

__all__ = ["NoGap"]


class NoGap(Check):
    """Reports the first of a voice's repeated notes with no gap between them. Its fix gives the voice a gap."""

    rule = Rule("no-gap", Severity.WARNING, "Equal notes in a row with no gap between them.")
    why = "Without a moment of silence two equal notes are heard as one long one."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each voice."""
        song = reading.song
        without = {index for index, voice in enumerate(song.voices) if voice.gap == 0 and not voice.is_drums}
        ends: dict[tuple[int, int], Note] = {}
        for note in song.notes if without else ():
            before = ends.get((note.voice, note.number))
            if note.voice in without and before is not None and before.end == note.start and not before.short:
                without.discard(note.voice)
                name = note.pitch.pretty
                message = (
                    f"{name} is repeated without a gap, so the two sound as one; {DEFAULT_GAP} seconds separate them."
                )
                own = reading.sheet.voices[note.voice].settings.gap is not None
                edits = set_property(reading, "gap", str(DEFAULT_GAP), note.voice if own else None)
                fix = Fix(f"Set the gap to {DEFAULT_GAP} seconds", tuple(edits))
                yield self.rule.at(*note.spans[0], message, fix)
            ends[note.voice, note.number] = note

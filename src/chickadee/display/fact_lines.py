"""The facts of a tune as names and values to read."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from ..song.facts import Facts
from ..theory import Naming
from . import words

__all__ = ["lines_of"]


def lines_of(facts: Facts, naming: Naming = Naming.LETTERS) -> list[tuple[str, str]]:
    """The facts as names and values, in the order they are shown, pitches named in a tradition."""
    if not facts.notes:
        return [("Notes", "none yet")]
    lines = [
        ("Notes", f"{facts.notes:,}"),
        ("Length", f"{words.counted_beats(facts.beats)}, {facts.seconds:.1f} seconds"),
    ]
    if facts.range is not None:
        low, high = facts.range
        wide = high.number - low.number
        lines.append(
            (
                "Range",
                f"{naming.pitch_pretty(low)} ({low.number}) to {naming.pitch_pretty(high)} ({high.number}), "
                f"{words.counted(wide, 'semitone')}",
            )
        )
        lines.append(("Different pitches", str(len(facts.pitches))))
        lines.append(
            (
                "Pitches",
                _counted((f"{naming.pitch_pretty(pitch)} ({pitch.number})", count) for pitch, count in facts.pitches),
            )
        )
        lines.append(("Intervals", _counted(facts.intervals) or "none"))
    lines.append(("Lengths in quarters", _counted((words.beats(length), count) for length, count in facts.lengths)))
    lines.append(
        ("Smallest tick", f"{words.counted_beats(facts.tick)}, which every start and length is a multiple of")
    )
    lines.append(("Used again", f"{_percent(facts.shared)} of the notes come from text that is used again"))
    return lines


def _counted(pairs: Iterable[tuple[str, int]]) -> str:
    return ", ".join(f"{name} × {count}" for name, count in pairs)


def _percent(part: Fraction) -> str:
    return f"{round(100 * part)} %"

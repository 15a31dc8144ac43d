"""A class's own dialect read backwards: its lines as plain steps."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from .dialect import Dialect
from .line_patterns import line_pattern

__all__ = ["in_plain_steps", "is_spoken"]

_MOST_LINES = 2_000  # that are looked at
_LEAST = 0.6  # of the lines that must be the dialect's


def in_plain_steps(line: str, dialects: Sequence[Dialect]) -> str | None:
    """Return a line of one of some dialects as a plain step; None for a line of none of them.

    >>> from .dialect import read_dialect
    >>> text = 'title = "Ruf"\\ntempo = "zeit {tempo}"\\nplay = "spiele {pitch} {beats}"\\nrest = "ruhe {beats}"'
    >>> in_plain_steps("Spiele 60 1/2", [read_dialect(text)])
    'play 60 for 1/2'
    """
    for dialect in dialects:
        for key, step in _STEPS.items():
            template = getattr(dialect, key)
            if not template or template == "{part}":
                continue
            found = line_pattern(template).fullmatch(line.strip())
            if found is not None:
                return _plain(dialect, step, found.groupdict())
    return None


def is_spoken(text: str, dialects: Sequence[Dialect]) -> bool:
    """Return whether a text is a program in one of some dialects."""
    lines = [line for line in text.split("\n", _MOST_LINES)[:_MOST_LINES] if line.strip()]
    known = sum(in_plain_steps(line, dialects) is not None for line in lines)
    return bool(dialects) and known > 0 and known >= len(lines) * _LEAST


def _plain(dialect: Dialect, step: str, values: Mapping[str, str]) -> str:
    """A plain step with the values of a dialect's line."""
    known = {
        "pitches": _pitches(dialect, values.get("pitches") or values.get("pitch") or ""),
        "beats": _beats(dialect, values.get("beats", "1")),
        "part": re.sub(r"\W+", "-", values.get("part", "")).strip("-") or "part",
    }
    return step.format_map({**values, **known})


def _pitches(dialect: Dialect, text: str) -> str:
    joint = dialect.between.strip()
    several = text.split(joint) if joint else text.split()
    return " ".join(_pitch(dialect, each.strip()) for each in several if each.strip())


def _pitch(dialect: Dialect, text: str) -> str:
    found = line_pattern(dialect.pitch).fullmatch(text)
    values = found.groupdict() if found is not None else {}
    return values.get("name") or values.get("number") or text


def _beats(dialect: Dialect, text: str) -> str:
    found = line_pattern(dialect.fraction).fullmatch(text.strip())
    if found is None:
        return text.strip()
    values = found.groupdict()
    return f"{values.get('over', '1')}/{values.get('under', '1')}"


_STEPS = {
    "tempo": "tempo {tempo}", "chord": "play {pitches} for {beats}", "ring_chord": "let {pitches} ring for {beats}",
    "ring": "let {pitches} ring for {beats}", "play": "play {pitches} for {beats}", "rest": "rest {beats}",
    "wait": "wait {beats}", "repeat": "repeat {times}", "repeat_end": "end", "moved_part": "part {part}",
    "part": "part {part}", "part_end": "end", "lowered_call": "{part} down {up}", "moved_call": "{part} up {up}",
    "call": "call {part}",
}  # fmt: skip
"""For each key of a dialect the plain step that its template stands for."""

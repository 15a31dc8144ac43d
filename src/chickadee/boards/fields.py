"""The fields of a target's templates, and the way back: patterns that match what a template writes."""

from __future__ import annotations

import re
from string import Formatter

from ..templates import read_format

__all__ = ["FIELDS", "TEXT_FIELDS", "pattern_of"]

FIELDS = {
    "number": "the MIDI number",
    "code": "the MIDI number minus `minus`",
    "place": "the pitch's place in `pitches`, counted from 0",
    "name": "the pitch's name, F#4",
    "letter": "its letter",
    "accidental": "#, b or nothing",
    "octave": "its octave",
    "hertz": "its frequency",
    "beats": "the length in beats",
    "seconds": "the length in seconds, with `wait`",
    "milliseconds": "the length in whole milliseconds, with `wait`",
    "ticks": "the length in ticks",
    "word": "the syllable sung on it",
    "cell": "the cell that a jump goes back to, counted from 0",
    "sound": "the code of a sound",
    "title": "the tune's title",
    "voice": "the voice's name",
    "line": "the number of the line, counted from 1",
    "suffix": "nothing for the first line, then _2, _3 …",
    "tick": "the tick in beats",
    "tick_ms": "the tick in milliseconds, to a tenth",
    "tempo": "the tempo in beats a minute",
}
"""The fields of a template, in braces and perhaps with a format as in ``{code:02}`` or ``{hertz:08.2f}``."""

_INTEGER = r"-?[0-9]+"
_DECIMAL = r"-?[0-9]+(?:\.[0-9]+)?"
_TEXTS = {
    "name": r"[A-G](?:##|bb|#|b)?-?[0-9]", "letter": "[A-G]", "accidental": "(?:##|bb|#|b)?", "tick": "[0-9/]+",
    "suffix": "(?:_[0-9]+)?", "title": r"[^\n]*?", "voice": r"[^\n]*?", "word": r"[^\n,]*?",
}  # fmt: skip
TEXT_FIELDS = frozenset(_TEXTS)
"""The fields that are no numbers."""
_DECIMALS = {"hertz", "beats", "seconds", "tick_ms", "tempo"}


def pattern_of(template: str) -> str:
    """Return a pattern that matches what a template writes, its fields as groups of their names.

    Spaces and line ends may be more or fewer.
    """
    parts = []
    used = set()
    pieces = list(Formatter().parse(template))
    for place, (literal, name, form, _) in enumerate(pieces):
        words = re.split(r"(\s+)", literal)
        parts.append("".join(_space(each) if each.isspace() else re.escape(each) for each in words))
        if name is None:
            continue
        following = pieces[place + 1] if place + 1 < len(pieces) else ("", None, None, None)
        is_joined = following[0][:1].isdigit() or (not following[0] and following[1] is not None)
        before, pattern, after = _field_pattern(name, form or "", is_joined)
        group = f"(?:{pattern})" if name in used else f"(?P<{name}>{pattern})"
        parts.append(before + group + after)
        used.add(name)
    return "".join(parts)


def _field_pattern(name: str, form: str, is_joined: bool) -> tuple[str, str, str]:
    """Return the pattern of a field, and of the blanks that may pad it before and after.

    A field ``is_joined`` where more digits may follow at once, so that only its width tells where it ends.
    """
    wanted = read_format(form)
    if name in TEXT_FIELDS:
        return "", _TEXTS[name], "[^\\S\n]*" if wanted.width else ""
    if wanted.zero and is_joined:
        return "", rf"[0-9.]{{{wanted.width}}}" if wanted.digits else rf"[0-9]{{{wanted.width}}}", ""
    if name == "octave" and not wanted.width:
        return "", "-?[0-9]", ""
    is_decimal = name in _DECIMALS and wanted.kind != "d"
    return "[^\\S\n]*" if wanted.width and not wanted.zero else "", _DECIMAL if is_decimal else _INTEGER, ""


def _space(piece: str) -> str:
    return r"[^\S\n]*\n\s*" if "\n" in piece else r"[^\S\n]*"

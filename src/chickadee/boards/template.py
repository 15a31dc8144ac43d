"""Templates of a target: texts with fields in braces, checked, filled in, and read back."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from string import Formatter

from ..faults import InputFault

__all__ = [
    "FIELDS",
    "TEXT_FIELDS",
    "FieldValue",
    "TemplateFault",
    "check_template",
    "fields_of",
    "filled",
    "pattern_of",
]

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
_FORM = re.compile(r"(?P<zero>0?)(?P<width>[0-9]{0,2})(?:\.(?P<digits>[0-9]))?(?P<kind>[dfs]?)")


class TemplateFault(InputFault):
    """A template says something that cannot be; its text goes on after the template's name."""


@dataclass(frozen=True, slots=True)
class FieldValue:
    """The value of a field: a text, and the number it is where it is one."""

    text: str
    number: Fraction | None = None

    @classmethod
    def of(cls, number: int | float | Fraction, text: str | None = None) -> FieldValue:
        """A number, written as a text or as whole numbers are."""
        return cls(str(number) if text is None else text, Fraction(number))


@dataclass(frozen=True, slots=True)
class _Format:
    """A format after a field's name."""

    zero: bool
    width: int
    digits: int | None
    kind: str

    def written(self, value: FieldValue) -> str:
        """The text of a value in this format. Numbers are padded at their left and texts at their right."""
        if value.number is None:
            return value.text.ljust(self.width)
        text = value.text
        if self.digits is not None or self.kind == "f":
            text = f"{float(value.number):.{6 if self.digits is None else self.digits}f}"
        elif self.kind == "d":
            text = str(round(value.number))
        return text.zfill(self.width) if self.zero else text.rjust(self.width)


def check_template(template: str) -> None:
    """Raise TemplateFault for a template that cannot be filled in."""
    try:
        parts = list(Formatter().parse(template))
    except ValueError:
        raise TemplateFault("has a brace that is not closed; a brace itself is written twice") from None
    for _, name, form, conversion in parts:
        if name is None:
            continue
        if name not in FIELDS:
            raise TemplateFault(f"names {{{name[:40]}}}, which is no field; there are {', '.join(FIELDS)}")
        if conversion:
            raise TemplateFault(f"has !{conversion} after {name}; a format is like :02")
        _read_format(name, form or "")


def _read_format(name: str, form: str) -> _Format:
    found = _FORM.fullmatch(form)
    if found is None:
        raise TemplateFault(f"has the format :{form[:20]}; formats are like :02, :5 or :08.2f")
    digits = int(found["digits"]) if found["digits"] else None
    if name in TEXT_FIELDS and (found["kind"] in ("d", "f") or digits is not None or found["zero"]):
        raise TemplateFault(f"has the format :{form} for {name}, which is a text; formats of texts are like :5")
    if name not in TEXT_FIELDS and (found["kind"] == "s" or (found["kind"] == "d" and digits is not None)):
        raise TemplateFault(f"has the format :{form} for {name}, which is a number; formats are like :02 or :.2f")
    return _Format(bool(found["zero"]), int(found["width"] or 0), digits, found["kind"])


def filled(template: str, values: Mapping[str, FieldValue]) -> str:
    """Return a template with its fields filled in.

    >>> filled("{hertz:08.2f}|{name:4}|{{", {"hertz": FieldValue.of(440.0, "440"), "name": FieldValue("A4")})
    '00440.00|A4  |{'
    """
    written = []
    for literal, name, form in _parts_of(template):
        written.append(literal)
        if name is not None:
            written.append(form.written(values[name]) if form is not None else values[name].text)
    return "".join(written)


@lru_cache(256)
def _parts_of(template: str) -> tuple[tuple[str, str | None, _Format | None], ...]:
    """The parts of a template: a literal, the field after it, and how that is written where it is not plain."""
    return tuple(
        (literal, name, _read_format(name, form) if name is not None and form else None)
        for literal, name, form, _ in Formatter().parse(template)
    )


@lru_cache(256)
def fields_of(template: str) -> frozenset[str]:
    """The fields that a template names."""
    return frozenset(name for _, name, _, _ in Formatter().parse(template) if name)


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
    wanted = _read_format(name, form)
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

"""Templates: texts with fields in braces, checked and filled in."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from string import Formatter

from .faults import InputFault

__all__ = ["FieldFormat", "FieldValue", "TemplateFault", "check_template", "fields_of", "filled", "read_format"]

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
class FieldFormat:
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


def check_template(template: str, known: Collection[str], texts: Collection[str]) -> None:
    """Raise TemplateFault for a template that cannot be filled in.

    ``known`` are the fields that it may name, ``texts`` those of them that are no numbers.
    """
    try:
        parts = list(Formatter().parse(template))
    except ValueError:
        raise TemplateFault("has a brace that is not closed; a brace itself is written twice") from None
    for _, name, form, conversion in parts:
        if name is None:
            continue
        if name not in known:
            raise TemplateFault(f"names {{{name[:40]}}}, which is no field; there are {', '.join(known)}")
        if conversion:
            raise TemplateFault(f"has !{conversion} after {name}; a format is like :02")
        _check_format(name, form or "", name in texts)


def _check_format(name: str, form: str, is_text: bool) -> None:
    found = _FORM.fullmatch(form)
    if found is None:
        raise TemplateFault(f"has the format :{form[:20]}; formats are like :02, :5 or :08.2f")
    if is_text and (found["kind"] in ("d", "f") or found["digits"] or found["zero"]):
        raise TemplateFault(f"has the format :{form} for {name}, which is a text; formats of texts are like :5")
    if not is_text and (found["kind"] == "s" or (found["kind"] == "d" and found["digits"])):
        raise TemplateFault(f"has the format :{form} for {name}, which is a number; formats are like :02 or :.2f")


def read_format(form: str) -> FieldFormat:
    """Read the format after a field's name, such as ``08.2f``. Raises TemplateFault."""
    found = _FORM.fullmatch(form)
    if found is None:
        raise TemplateFault(f"has the format :{form[:20]}")
    digits = int(found["digits"]) if found["digits"] else None
    return FieldFormat(bool(found["zero"]), int(found["width"] or 0), digits, found["kind"])


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
def _parts_of(template: str) -> tuple[tuple[str, str | None, FieldFormat | None], ...]:
    """The parts of a template: a literal, the field after it, and how that is written where it is not plain."""
    return tuple(
        (literal, name, read_format(form) if name is not None and form else None)
        for literal, name, form, _ in Formatter().parse(template)
    )


@lru_cache(256)
def fields_of(template: str) -> frozenset[str]:
    """The fields that a template names."""
    return frozenset(name for _, name, _, _ in Formatter().parse(template) if name)

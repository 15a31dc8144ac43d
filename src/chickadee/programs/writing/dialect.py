"""Dialects: how a language spells a strike, a rest, a repeat or a part, from a TOML file."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from enum import Enum
from fractions import Fraction
from typing import Any

from ...faults import InputFault
from ...files import printable
from ...templates import FieldValue, TemplateFault, check_template, fields_of, filled
from ...toml_text import TomlKeys, read_toml, written_value

__all__ = ["FIELDS", "Dialect", "DialectFault", "Level", "read_dialect", "spelled", "written_dialect"]

FIELDS = {
    "pitch": "the pitch, as the key `pitch` spells it",
    "pitches": "the pitches of a chord",
    "count": "how many pitches a chord has",
    "number": "the MIDI number",
    "name": "the pitch's name, F#4",
    "beats": "the length in beats",
    "over": "the upper number of a part of a beat",
    "under": "its lower number",
    "tempo": "beats a minute",
    "times": "how often something is repeated",
    "counter": "the name of a counter: i, j, k …",
    "part": "the name of a part",
    "up": "the semitones by which a part is moved",
    "list": "the name of a list",
    "lists": "the names of the lists",
    "items": "the names of their items",
    "title": "the tune's title",
}
"""The fields of the templates, in braces."""
_MOST_INDENTS = 8
_MOST_WRAP = 999
_LANGUAGES = ("", "python", "javascript", "c", "java")
_NEEDED = ("tempo", "play", "rest")
_TOGETHER = (("part", "call"), ("moved_part", "moved_call"), ("pitch_list", "beats_list"))
"""Keys that are of use only with one another."""


class DialectFault(InputFault):
    """A dialect says something that cannot be: its text says in which line, which key, and what is allowed."""


class Level(Enum):
    """The levels of a lesson, by the names that the command line gives them."""

    LINE = "line"
    """Line by line."""
    REPEATS = "repeats"
    PARTS = "parts"
    DATA = "data"
    """Lists, and one loop over them."""


@dataclass(frozen=True, slots=True)
class Dialect:
    """How a language spells the steps of a tune. All but the first few are templates.

    >>> text = 'title = "Ours"\\ntempo = "T {tempo}"\\nplay = "P {pitch} {beats}"\\nrest = "R {beats}"'
    >>> dialect = read_dialect(text)
    >>> dialect.suffix, dialect.levels, spelled(dialect.rest, beats="2")
    ('.txt', (<Level.LINE: 'line'>,), 'R 2')
    """

    title: str
    """The name by which it is chosen."""
    id: str = ""
    """The name of its file, without ``.toml``."""
    language: str = ""
    """The language that it is traced as: ``python``, ``javascript``, ``c`` or ``java``; empty for plain steps."""
    suffix: str = ".txt"
    """Of the file that the text is for."""
    comment: str = ""
    """The line with the tune's title."""
    head: str = ""
    """Before everything."""
    foot: str = ""
    """After everything."""
    runs: str = ""
    """Defines what is called, so that the program runs by itself."""
    runs_chords: str = ""
    """The same for chords, where there are any."""
    runs_rings: str = ""
    """The same for what rings on, where anything does."""
    begin: str = ""
    """Before the steps that are in no part."""
    end: str = ""
    """After them."""
    indent: str = "  "
    """Before what stands in a repeat or a part."""
    part_indents: int = 0
    """How far parts are indented."""
    main_indents: int = 0
    """How far the steps that are in no part are indented."""
    tempo: str = ""
    """Sets the tempo."""
    play: str = ""
    """A strike that holds the program until it is over."""
    chord: str = ""
    """The same of several pitches; empty where that cannot be."""
    ring: str = ""
    """A strike that sounds on while the program goes on at once; empty where there is none."""
    ring_chord: str = ""
    """The same of several pitches."""
    rest: str = ""
    """Time passes in silence."""
    wait: str = ""
    """Time passes while something sounds; empty where that is said as a rest is."""
    pitch: str = "{number}"
    """A pitch, wherever one is named."""
    between: str = ", "
    """Between the pitches of a chord."""
    decimals: bool = True
    """True if parts of a beat are decimals where that is exact."""
    fraction: str = "{over}/{under}"
    """A part of a beat that is no decimal."""
    repeat: str = ""
    """The head of a repeat."""
    repeat_end: str = ""
    """After what is repeated; empty where the indentation tells."""
    part: str = ""
    """The head of a part."""
    part_end: str = ""
    """After a part."""
    call: str = ""
    """Does a part."""
    moved_part: str = ""
    """A part that is moved by the semitones it is given."""
    moved_call: str = ""
    """Does such a part."""
    lowered_call: str = ""
    """A call that moves the part down; empty where ``up`` may be negative."""
    moved_pitch: str = "{pitch} + up"
    """A pitch in such a part."""
    pitch_list: str = ""
    """Opens a list of pitches."""
    beats_list: str = ""
    """Opens a list of lengths."""
    list_end: str = ""
    """Closes a list."""
    list_between: str = ", "
    """Between two items of a list."""
    list_chord: str = ""
    """An item that is a chord; empty where that cannot be."""
    wrap: int = 12
    """How many items of a list stand in a line."""
    each: str = ""
    """A loop over the items of the lists, without a counter."""
    counted: str = ""
    """The same with a counter."""
    item: str = "{list}[{counter}]"
    """An item, where there is a counter."""
    text: str = ""
    """The file it was read from."""

    @property
    def levels(self) -> tuple[Level, ...]:
        """The levels that it can be written at."""
        can = {
            Level.LINE: True,
            Level.REPEATS: bool(self.repeat),
            Level.PARTS: bool(self.part),
            Level.DATA: bool(self.pitch_list and (self.each or self.counted)),
        }
        return tuple(level for level in Level if can[level])

    @property
    def can_move(self) -> bool:
        """True if a part can be moved by semitones."""
        return bool(self.moved_part)

    @property
    def is_in_steps(self) -> bool:
        """True if it is traced as plain steps."""
        return not self.language

    def length(self, beats: Fraction) -> str:
        """Return a length as it is spelled."""
        if beats.denominator == 1:
            return str(beats.numerator)
        decimals = f"{float(beats):.6f}".rstrip("0")
        if self.decimals and Fraction(decimals) == beats:
            return decimals
        return spelled(self.fraction, over=str(beats.numerator), under=str(beats.denominator))


def spelled(template: str, **values: str) -> str:
    """Return a template with its fields filled in."""
    return filled(template, {name: FieldValue(value) for name, value in values.items()})


_KINDS = {
    each.name: {"int": int, "bool": bool, "str": str}[str(each.type)]
    for each in fields(Dialect)
    if each.name not in ("id", "text")
}
_PLAIN = ("title", "language", "suffix", "indent", "between", "list_between")
_TEMPLATES = [name for name, kind in _KINDS.items() if kind is str and name not in _PLAIN]
_KNOWN_IN: Mapping[str, tuple[str, ...]] = {
    "comment": ("title",), "head": (), "foot": (), "runs": (), "runs_chords": (), "runs_rings": (),
    "begin": (), "end": (), "repeat_end": (), "part_end": (),
    "tempo": ("tempo",), "play": ("pitch", "beats"), "chord": ("pitches", "count", "beats"),
    "ring": ("pitch", "beats"), "ring_chord": ("pitches", "count", "beats"), "rest": ("beats",), "wait": ("beats",),
    "pitch": ("number", "name"), "fraction": ("over", "under"), "repeat": ("times", "counter"),
    "part": ("part",), "call": ("part",), "moved_part": ("part",), "moved_call": ("part", "up"),
    "lowered_call": ("part", "up"),
    "moved_pitch": ("pitch",), "pitch_list": ("list",), "beats_list": ("list",), "list_end": ("list",),
    "list_chord": ("pitches",), "each": ("lists", "items"), "counted": ("list", "counter"),
    "item": ("list", "counter"),
}  # fmt: skip
"""The fields that each template may name."""
_MUST_NAME = {
    "tempo": "tempo", "play": "beats", "rest": "beats", "chord": "pitches", "call": "part", "part": "part",
    "moved_call": "up", "lowered_call": "up", "moved_part": "part", "repeat": "times",
    "pitch_list": "list", "beats_list": "list",
}  # fmt: skip


def read_dialect(text: str, name: str = "") -> Dialect:
    """Read a dialect from a TOML text. Raises DialectFault, which names line and key, and what is allowed."""
    found: dict[str, Any] = read_toml(text, "dialect", DialectFault)
    keys = TomlKeys(text, "dialect", DialectFault)
    keys.check(found, _KINDS, required=("title", *_NEEDED))
    for key in _TEMPLATES:
        template = found.get(key, "")
        try:
            check_template(template, _KNOWN_IN[key], _KNOWN_IN[key])
        except TemplateFault as fault:
            raise keys.fault(key, printable(str(fault))) from None
        needed = _MUST_NAME.get(key)
        if template and needed is not None and needed not in fields_of(template):
            raise keys.fault(key, f"is to name {{{needed}}}")
    if found.get("language", "") not in _LANGUAGES:
        known = ", ".join(each for each in _LANGUAGES if each)
        raise keys.fault("language", f"is to be one of {known}, or empty for plain steps")
    for key, most in (("part_indents", _MOST_INDENTS), ("main_indents", _MOST_INDENTS), ("wrap", _MOST_WRAP)):
        if not 0 <= found.get(key, 0) <= most:
            raise keys.fault(key, f"is to be from 0 to {most}")
    for one, other in _TOGETHER:
        if bool(found.get(one)) != bool(found.get(other)):
            raise keys.fault(one if found.get(one) else other, f"needs {other if found.get(one) else one} beside it")
    return Dialect(**found, id=name, text=text)


def written_dialect(dialect: Dialect) -> str:
    """Return the TOML text of a dialect, which reads as that dialect."""
    usual = Dialect("")
    lines = [
        f"{key} = {written_value(getattr(dialect, key))}"
        for key in _KINDS
        if key == "title" or getattr(dialect, key) != getattr(usual, key)
    ]
    return "\n".join([*lines, ""])

"""Targets: how a program or a board wants a tune, from a TOML file."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import MISSING, dataclass, field, fields
from fractions import Fraction
from typing import Any

from ..faults import InputFault
from ..files import printable
from ..templates import TemplateFault, check_template, fields_of
from ..theory import read_pitch_name
from ..toml_text import LARGEST_NUMBER, TomlKeys, quoted, read_toml, written_value
from .fields import FIELDS, TEXT_FIELDS

__all__ = ["Limits", "ListLayout", "Target", "TargetFault", "beats_text", "read_target", "written_target"]


class TargetFault(InputFault):
    """A target's file says something that cannot be: its text says in which line, which key, and what is allowed."""


@dataclass(frozen=True, slots=True)
class ListLayout:
    """One list of the text: what opens it, an entry, what joins and closes it. All are templates."""

    entry: str
    """A note."""
    rest: str = ""
    """A rest; empty where the list has none, and the rest becomes part of the note before it."""
    open: str = ""
    """The text before its entries."""
    close: str = ""
    """The text after its entries."""
    between: str = ", "
    """Between two entries."""
    wrap: int = 0
    """How many entries stand in a line; 0 for all."""
    indent: str = ""
    """Before the entries of each line after the first."""
    held: str = ""
    """A cell that holds the note before it on; empty where a long note must be struck again."""
    jump: str = ""
    """A cell that goes back to another, once; empty where there are no jumps."""
    sound: str = ""
    """A cell that chooses a sound; empty where none can be chosen."""


@dataclass(frozen=True, slots=True)
class Limits:
    """The limits of a board; a program has none."""

    tones: int = 0
    """How many tones sound at once, each a line of its own; 0 for any number."""
    lowest: str = "C-1"
    """The lowest pitch it has."""
    highest: str = "G9"
    """The highest pitch it has."""
    shortest: float = 0.0
    """Milliseconds of the shortest tick."""
    longest: int = 0
    """Ticks of the longest note or rest in one cell; 0 for any."""
    cells: int = 0
    """How many cells a line has; 0 for any number."""

    @property
    def low(self) -> int:
        """The lowest MIDI number."""
        return _number(self.lowest)

    @property
    def high(self) -> int:
        """The highest MIDI number."""
        return _number(self.highest)


@dataclass(frozen=True)
class Target:
    """How a program or a board wants a tune.

    >>> target = read_target('title = "Numbers"\\n[[list]]\\nentry = "{number}"', "numbers")
    >>> target.lists[0].between, target.limits.cells, target.is_in_ticks
    (', ', 0, False)
    """

    id: str
    """The name of its file, without ``.toml``."""
    title: str
    """The name by which one is chosen."""
    lists: tuple[ListLayout, ...]
    """One, or several that run beside each other."""
    suffix: str = ".txt"
    """Of the file that the text is for."""
    head: str = ""
    """The text before everything, which is not repeated for each line."""
    line: str = ""
    """The text before the lists of each line."""
    join: str = "\n"
    """Between the lists of two lines."""
    foot: str = "\n"
    """The text after everything."""
    minus: int = 0
    """Taken from the MIDI number for ``{code}``."""
    wait: float = 0.0
    """Milliseconds that are added to each length."""
    pitches: tuple[str, ...] = ()
    """The pitches that ``{place}`` counts in."""
    drums: bool = False
    """True if drums are lines of it too, their keys as MIDI numbers."""
    limits: Limits = field(default_factory=Limits)
    """The limits of the board; none for a program."""
    sounds: Mapping[str, int] = field(default_factory=dict)
    """The code of each sound that can be chosen."""
    text: str = ""
    """The file it was read from."""

    @property
    def is_in_ticks(self) -> bool:
        """True if its lengths are whole ticks."""
        return any("ticks" in fields_of(each.entry) for each in self.lists)

    @property
    def is_in_seconds(self) -> bool:
        """True if its lengths are seconds or milliseconds, so that every tempo is kept."""
        return any(fields_of(each.entry) & {"seconds", "milliseconds"} for each in self.lists)

    @property
    def numbers(self) -> tuple[int, ...]:
        """The MIDI numbers of its list of pitches."""
        return tuple(_number(pitch) for pitch in self.pitches)

    @property
    def is_board(self) -> bool:
        """True if it has limits."""
        return self.limits != Limits()

    @property
    def can_hold(self) -> bool:
        """True if a long note is held over several cells."""
        return bool(self.lists[0].held)

    @property
    def can_jump(self) -> bool:
        """True if cells that come again can be played twice."""
        return bool(self.lists[0].jump)


_KEYS: dict[str, type] = {
    "title": str, "suffix": str, "head": str, "line": str, "join": str, "foot": str, "minus": int, "wait": float,
    "pitches": list, "drums": bool, "limits": dict, "sounds": dict, "list": list,
}  # fmt: skip
_TEMPLATES = ("entry", "rest", "open", "close", "held", "jump", "sound")


def read_target(text: str, name: str) -> Target:
    """The target that a TOML text describes. Raises TargetFault, which names line and key, and what is allowed."""
    return _Reader(text).target(read_toml(text, "target", TargetFault), name)


class _Reader:
    def __init__(self, text: str) -> None:
        self._text = text
        self._keys = TomlKeys(text, "target", TargetFault)

    def target(self, found: dict[str, Any], name: str) -> Target:
        self._keys.check(found, _KEYS, "", required=("title", "list"))
        lists = tuple(self._list(each) for each in found["list"])
        if not lists:
            raise self._keys.fault("list", "needs at least one [[list]] with an entry")
        limits = self._limits(found.get("limits", {}))
        sounds = found.get("sounds", {})
        for sound, code in sounds.items():
            if not isinstance(code, int) or isinstance(code, bool) or abs(code) > LARGEST_NUMBER:
                raise self._keys.fault(sound, "is to be a whole number, the sound's code")
        for key in ("head", "line", "join", "foot"):
            self._check_template(key, found.get(key, ""))
        pitches = found.get("pitches", [])
        for pitch in pitches:
            if not isinstance(pitch, str) or read_pitch_name(pitch) is None:
                raise self._keys.fault(
                    "pitches", f"holds {str(pitch)[:20]!r}, which is not the name of a pitch such as C4"
                )
        texts = {
            key: found[key] for key in ("suffix", "head", "line", "join", "foot", "minus", "drums") if key in found
        }
        return Target(
            name,
            found["title"],
            lists,
            pitches=tuple(pitches),
            limits=limits,
            sounds=sounds,
            wait=float(found.get("wait", 0)),
            text=self._text,
            **texts,
        )

    def _list(self, found: object) -> ListLayout:
        if not isinstance(found, dict):
            raise self._keys.fault("list", "is written [[list]], a table for each list")
        kinds = {each.name: int if each.name == "wrap" else str for each in fields(ListLayout)}
        self._keys.check(found, kinds, "list", required=("entry",))
        for key in _TEMPLATES:
            self._check_template(key, found.get(key, ""))
        if found.get("wrap", 0) < 0:
            raise self._keys.fault("wrap", "is to be 0 or more")
        if not fields_of(found["entry"]) - {"line", "suffix"}:
            raise self._keys.fault("entry", "names no field of a note in braces, such as {number}")
        return ListLayout(**found)

    def _limits(self, found: dict[str, Any]) -> Limits:
        kinds = {each.name: type(each.default) for each in fields(Limits) if each.default is not MISSING}
        self._keys.check(found, kinds, "limits")
        for key in ("lowest", "highest"):
            if key in found and (read_pitch_name(found[key]) or (None, None))[1] is None:
                raise self._keys.fault(
                    key, f"is {found[key][:20]!r}; it is to be a pitch with its octave, such as C2"
                )
        for key in ("tones", "shortest", "longest", "cells"):
            if found.get(key, 0) < 0:
                raise self._keys.fault(key, "is to be 0 or more")
        limits = Limits(**found)
        if limits.low > limits.high:
            raise self._keys.fault("lowest", "is above highest")
        return limits

    def _check_template(self, key: str, template: str) -> None:
        try:
            check_template(template, FIELDS, TEXT_FIELDS)
        except TemplateFault as fault:
            raise self._keys.fault(key, printable(str(fault))) from None


def written_target(target: Target) -> str:
    """Return the TOML text of a target, which reads as that target.

    >>> target = read_target('title = "Numbers"\\n[[list]]\\nentry = "{number}"', "numbers")
    >>> read_target(written_target(target), "numbers").lists == target.lists
    True
    """
    plain = Target(target.id, target.title, target.lists)
    said = [f"title = {quoted(target.title)}"]
    for key in ("suffix", "head", "line", "join", "foot", "minus", "wait", "drums"):
        if (value := getattr(target, key)) != getattr(plain, key):
            said.append(f"{key} = {written_value(value)}")
    if target.pitches:
        said.append(f"pitches = [{', '.join(map(quoted, target.pitches))}]")
    for layout in target.lists:
        said += ["", "[[list]]", f"entry = {quoted(layout.entry)}"]
        said += _changed(layout, ListLayout(layout.entry))
    if target.limits != Limits():
        said += ["", "[limits]", *_changed(target.limits, Limits())]
    if target.sounds:
        said += ["", "[sounds]", *(f"{quoted(sound)} = {code}" for sound, code in target.sounds.items())]
    return "\n".join([*said, ""])


def _changed(found: ListLayout | Limits, usual: ListLayout | Limits) -> list[str]:
    """A line for each field that is not as usual."""
    names = [each.name for each in fields(found)]
    return [
        f"{name} = {written_value(getattr(found, name))}"
        for name in names
        if getattr(found, name) != getattr(usual, name)
    ]


def _number(pitch: str) -> int:
    name, octave = read_pitch_name(pitch) or (None, None)
    assert name is not None
    return name.at(4 if octave is None else octave).number


def beats_text(beats: Fraction) -> str:
    """Beats as every language reads them: whole, or with up to six decimals."""
    return str(beats.numerator) if beats.denominator == 1 else f"{float(beats):.6f}".rstrip("0")

"""Lists in the languages of programs: each language writes each shape of list."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cache

from .target import ListLayout, Target, written_target

__all__ = ["list_targets"]

_SHAPES = {
    "pairs": "pairs of a number and beats",
    "numbers": "MIDI numbers, a list of lengths beside them",
    "names": "names, a list of lengths beside them",
    "lists": "frequencies and seconds, two lists",
    "records": "records",
}
_HERTZ = "{hertz}"
_SECONDS = "{seconds}"
_BEATS = "{beats}"
_NAME = '"{name}"'
_NUMBER = "{number}"


@dataclass(frozen=True, slots=True)
class _Language:
    """The signs of a language, as templates: a brace of its own is written twice."""

    name: str
    suffix: str
    opening: str
    """Begins a list; ``TYPE``, ``NAME`` and ``SIZE`` are replaced."""
    close: str
    pair: tuple[str, str]
    """The signs around a pair."""
    record: str
    """A record; ``NAME`` and ``NUMBER`` are replaced."""
    no_name: str
    """In the place of a rest's name."""
    no_number: str
    """In the place of a rest's number."""
    head: str = "{{\n"
    record_head: str = ""
    """Follows the head where there are records."""
    join: str = "\n"
    foot: str = "\n"
    close_of_first: str = ""
    """Closes the first of two lists that stand below each other; empty where it is closed like the other."""
    types: Mapping[str, tuple[str, str]] | None = None
    """The type and the size of each list, where the language names them."""

    def targets(self) -> Iterator[Target]:
        """Yield the shapes of its lists."""
        yield self._target("pairs", self._list("tune", self._pair(_NUMBER), self._pair(self.no_number), 4))
        yield self._target("numbers", *self._two("numbers", "notes", _NUMBER, self.no_number, "beats", _BEATS))
        yield self._target("names", *self._two("names", "notes", _NAME, self.no_name, "beats", _BEATS))
        yield self._target("lists", *self._two("hertz", "hertz", _HERTZ, "0", "seconds", _SECONDS))
        records = self._target("records", self._list("records", self._record(_NAME, _NUMBER), self._no_record, 1))
        yield replace(records, head=self.head + self.record_head)

    def _target(self, shape: str, *lists: ListLayout) -> Target:
        name = f"{self.name.lower()}-{shape}"
        title = f"{self.name}, {_SHAPES[shape]}"
        return Target(name, title, lists, self.suffix, head=self.head, join=self.join, foot=self.foot)

    def _two(
        self, kind: str, name: str, entry: str, rest: str, length_name: str, length: str
    ) -> tuple[ListLayout, ListLayout]:
        """A list of pitches, and one of their lengths."""
        pitches = self._list(kind, entry, rest, 8, name)
        pitches = replace(pitches, close=(self.close_of_first or self.close) + "\n")
        return pitches, self._list("lengths", length, length, 8, length_name)

    def _list(self, kind: str, entry: str, rest: str, wrap: int, name: str = "tune") -> ListLayout:
        type_name, size = self.types[kind] if self.types else ("", "")
        opening = self.opening.replace("TYPE", type_name).replace("NAME", f"{name}{{suffix}}").replace("SIZE", size)
        return ListLayout(entry, rest, f"{opening}\n    ", self.close, wrap=wrap, indent="    ")

    def _pair(self, number: str) -> str:
        first, last = self.pair
        return f"{first}{number}, {_BEATS}{last}"

    def _record(self, name: str, number: str) -> str:
        return self.record.replace("NAME", name).replace("NUMBER", number)

    @property
    def _no_record(self) -> str:
        return self._record(self.no_name, self.no_number)


_C_TYPES = {
    "tune": ("double ", "[][2]"),
    "numbers": ("int ", "[]"),
    "names": ("char *", "[]"),
    "hertz": ("double ", "[]"),
    "lengths": ("double ", "[]"),
    "records": ("struct note ", "[]"),
}
_JAVA_TYPES = {
    "tune": ("double[][]", ""),
    "numbers": ("int[]", ""),
    "names": ("String[]", ""),
    "hertz": ("double[]", ""),
    "lengths": ("double[]", ""),
    "records": ("Note[]", ""),
}
_LANGUAGES = (
    _Language(
        "Python", ".py", "NAME = [", "]", ("(", ")"), '{{"name": NAME, "number": NUMBER, "beats": {beats}}}',
        "None", "None", head="# {title}\n",
    ),
    _Language(
        "JavaScript", ".js", "const NAME = [", "];", ("[", "]"), "{{name: NAME, number: NUMBER, beats: {beats}}}",
        "null", "null", head="// {title}\n",
    ),
    _Language(
        "C", ".c", "const TYPENAMESIZE = {{", "}};", ("{{", "}}"), "{{NAME, NUMBER, {beats}}}",
        "0", "-1", head="/* {title} */\n", types=_C_TYPES,
        record_head="struct note {{ const char *name; int number; double beats; }};\n",
    ),
    _Language(
        "Java", ".java", "    static final TYPE NAME = {{", "}};", ("{{", "}}"), "new Note(NAME, NUMBER, {beats})",
        "null", "-1", head="/* {title} */\nclass Tune {{\n", foot="\n}}\n", types=_JAVA_TYPES,
        record_head="    record Note(String name, int number, double beats) {{}}\n",
    ),
    _Language(
        "JSON", ".json", '"NAME": [', "]", ("[", "]"), '{{"name": NAME, "number": NUMBER, "beats": {beats}}}',
        "null", "null", join=",\n", foot="\n}}\n", close_of_first="],",
    ),
)  # fmt: skip


@cache
def list_targets() -> dict[str, Target]:
    """Every shape of list in every language, by name."""
    every = (target for language in _LANGUAGES for target in language.targets())
    return {target.id: replace(target, text=written_target(target)) for target in every}

"""Findings: what is wrong with a sheet, where, and what can be done about it."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import Enum
from operator import attrgetter

__all__ = ["Finding", "Fix", "Severity", "TextEdit", "alike", "apply_edits", "fixes_of_all", "kind_of", "shown"]


class Severity(Enum):
    """How much a finding matters. An error stands in the way of the tune; a hint does not."""

    ERROR = "error"
    WARNING = "warning"
    HINT = "hint"


@dataclass(frozen=True, slots=True)
class TextEdit:
    """Put ``text`` in the place of the characters from ``start`` to before ``end``.

    >>> apply_edits("C4 D4", [TextEdit(3, 5, "E4")])
    'C4 E4'
    """

    start: int
    end: int
    text: str


@dataclass(frozen=True, slots=True)
class Fix:
    """A change of the text that resolves a finding."""

    title: str
    """The text of its button: ``Use B4``."""
    edits: tuple[TextEdit, ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found in a sheet.

    >>> Finding("not-understood", Severity.ERROR, 0, 2, "“H4” is not a sign Chickadee knows.").code
    'not-understood'
    """

    code: str
    """Names the rule that found it, one of ``RULES``."""
    severity: Severity
    start: int
    """Where it stands: offsets of the first character and of the one after the last."""
    end: int
    message: str
    """The sentence: what is, where, and what can be done, in plain words, without blame."""
    fixes: tuple[Fix, ...] = ()

    def moved(self, by: int) -> Finding:
        """The same finding, its offsets and its fixes' shifted by some characters."""
        fixes = tuple(
            Fix(fix.title, tuple(TextEdit(e.start + by, e.end + by, e.text) for e in fix.edits)) for fix in self.fixes
        )
        return replace(self, start=self.start + by, end=self.end + by, fixes=fixes)


def shown(text: str, most: int = 24) -> str:
    """Text as a message quotes it: printable, and not too long."""
    text = text if len(text) <= most else text[: most - 1] + "…"
    return text if text.isprintable() else "".join(c if c.isprintable() else "�" for c in text)


def apply_edits(text: str, edits: Iterable[TextEdit]) -> str:
    """``text`` with every edit made; all their offsets count in the text as it was.

    Raises ValueError when two edits overlap.
    """
    parts: list[str] = []
    at = 0
    for edit in sorted(edits, key=attrgetter("start", "end")):
        if edit.start < at:
            raise ValueError("two edits overlap")
        parts += text[at : edit.start], edit.text
        at = edit.end
    return "".join([*parts, text[at:]])


_OF_ONE = re.compile("“[^”]*”|[0-9]+")  # what differs in the messages of findings of one kind


def kind_of(finding: Finding) -> tuple[str, str, bool]:
    """Return the key that a finding shares with those that say the same of other signs."""
    return finding.code, _OF_ONE.sub("", finding.message), bool(finding.fixes)


def alike(findings: Iterable[Finding], one: Finding) -> list[Finding]:
    """Return the findings of the kind of one of them."""
    return [each for each in findings if kind_of(each) == kind_of(one)]


def fixes_of_all(findings: Iterable[Finding]) -> list[TextEdit]:
    """Return the edits of the first fix of each finding; of two fixes that touch, the first is taken.

    >>> cut = Fix("Delete it", (TextEdit(0, 2, ""),))
    >>> len(fixes_of_all([Finding("sign", Severity.ERROR, 0, 2, "No sign.", (cut,))] * 2))
    1
    """
    taken: list[TextEdit] = []
    end = -1
    for finding in sorted(findings, key=attrgetter("start")):
        edits = sorted(finding.fixes[0].edits, key=attrgetter("start"))
        if edits and edits[0].start > end:
            taken += edits
            end = max(edit.end for edit in edits)
    return taken

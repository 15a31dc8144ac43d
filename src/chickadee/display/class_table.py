"""A class's attempts as a table: which are shown, in which order, and what is said of each in few words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

from ..attempts import Attempt
from ..comparison import Comparison, Verdict
from ..comparison.beside import Beside
from ..comparison.differences import Kind
from ..comparison.points import Points
from ..comparison.summary import MistakeKey, judged_by_bar, key_of
from ..comparison.words import difference_in_words, relation_of
from ..song import BarGrid
from . import words

__all__ = [
    "USES",
    "Only",
    "Order",
    "Shown",
    "counts",
    "few_words",
    "label_of",
    "marked",
    "points_of",
    "pretty",
    "sentences_on",
    "shown",
    "words_on",
]  # fmt: skip

USES = ("steps", "repeats", "parts", "lists")
"""The counts of what programs use."""
_VERDICTS = list(Verdict)
_MOST_UNREAD = 3  # of which something is said


class Only(Enum):
    """Which attempts are shown."""

    ALL = "All"
    LOOK = "To look at"
    RIGHT = "Right"
    UNREADABLE = "Not readable"


@dataclass(frozen=True, slots=True)
class Order:
    """By what attempts are sorted: their names, their verdicts, or what they have in a bar."""

    by: str = "name"
    """``name``, ``verdict``, ``bar``, or what programs use: ``steps``, ``repeats``, ``parts``, ``lists``."""
    bar: int = 0
    """The place of the bar, from 0."""
    falling: bool = False


@dataclass(frozen=True, slots=True)
class Shown:
    """The order and the choice of what is shown."""

    only: Only = Only.ALL
    order: Order = Order()
    mistake: MistakeKey | None = None
    """Those that share a mistake; None for all."""


def label_of(attempt: Attempt) -> str:
    """Return an attempt's name in the table: its folder's or file's without the suffix, with a capital."""
    name = attempt.source.label or attempt.source.name
    return name[:1].upper() + name[1:]


def belongs(comparison: Comparison, only: Only) -> bool:
    """Return whether a judgement is one of those shown."""
    right = comparison.verdict.is_right
    unreadable = comparison.verdict is Verdict.UNREADABLE
    return {Only.ALL: True, Only.RIGHT: right, Only.UNREADABLE: unreadable, Only.LOOK: not right and not unreadable}[
        only
    ]


def counts(attempts: Sequence[Attempt]) -> dict[Only, int]:
    """How many attempts each choice shows."""
    return {only: sum(belongs(each.comparison, only) for each in attempts) for only in Only}


def shown(attempts: Sequence[Attempt], wish: Shown) -> list[int]:
    """The indices of the attempts that are shown, in their order."""
    found = [
        index
        for index, each in enumerate(attempts)
        if belongs(each.comparison, wish.only)
        and (wish.mistake is None or wish.mistake in map(key_of, each.comparison.differences))
    ]
    order = wish.order

    def key(index: int) -> tuple[object, ...]:
        attempt = attempts[index]
        comparison = attempt.comparison
        name = label_of(attempt).lower()
        if order.by == "verdict":
            return _VERDICTS.index(comparison.verdict), len(comparison.differences), name
        if order.by == "bar":
            cells = comparison.bars
            kind = cells[order.bar] if order.bar < len(cells) else None
            if not judged_by_bar(comparison):
                return 1, name
            return -(1 + kind.weight) if kind else 0, name
        if order.by in USES:
            program = attempt.program
            return program is None, getattr(program.uses, order.by) if program is not None else 0, name
        return (name,)

    return sorted(found, key=key, reverse=order.falling)


def words_on(attempt: Attempt, points: Points | None = None) -> str:
    """Return the words about an attempt in a narrow column: points if any, the judgement, unread parts."""
    said = few_words(attempt.comparison)
    unread = sum(part.line is not None for part in attempt.unread)
    if unread:
        said += f"; {unread} sign{'s' if unread > 1 else ''} not read"
    return said if points is None else f"{points_of(attempt, points)} · {said}"


def points_of(attempt: Attempt, points: Points) -> str:
    """The points of an attempt: ``8.5``."""
    return f"{float(points.given(attempt.comparison)):g}"


def sentences_on(attempt: Attempt, points: Points | None = None) -> str:
    """All that is said of an attempt: the judgement, its points, what was not read as it stands."""
    said = [pretty(attempt.comparison.sentence)]
    if points is not None:
        said.append(f"{points_of(attempt, points)} of {float(points.most):g} points.")
    more = [part for part in attempt.unread if part.sentence not in attempt.comparison.sentence]
    for part in more[:_MOST_UNREAD]:
        said.append(f"Line {part.line}: {part.sentence}" if part.line is not None else part.sentence)
    if len(more) > _MOST_UNREAD:
        said.append(f"And {len(more) - _MOST_UNREAD} more are not read.")
    return " ".join(said)


def few_words(comparison: Comparison) -> str:
    """A judgement as it fits a narrow column: ``2 differ; bar 3: F♯4 for F4``."""
    relation = relation_of(comparison.semitones, comparison.times)
    if comparison.verdict is Verdict.DIFFERS:
        return pretty(_first_difference(comparison, relation))
    said = {
        Verdict.RIGHT: "right",
        Verdict.PITCHES_ONLY: "right pitches, no lengths",
        Verdict.ANOTHER_TUNE: "another tune",
        Verdict.UNREADABLE: "not readable",
    }
    return said.get(comparison.verdict, f"right, {relation}")


def _first_difference(comparison: Comparison, relation: str) -> str:
    found = comparison.differences
    first = comparison.differences[0]
    what = difference_in_words(first)
    where = "" if first.bars and first.kind is Kind.MISSING else f"bar {first.bar}: "
    start = f"{relation}; " if relation else ""
    if len(found) == 1:
        return f"{start}{where}{what}"
    if all(each.kind is Kind.LENGTH for each in found):
        return f"{start}{len(found)} lengths differ; bar {first.bar}"
    return f"{start}{len(found)} differ; {where}{what}"


def pretty(text: str) -> str:
    """A sentence of the core with its pitches drawn as in the window: ``F♯4`` for ``F#4``."""
    return " ".join(_pretty_word(word) for word in text.split(" "))


def marked(moment: Beside, grid: BarGrid) -> str:
    """Return the text of a moment in the reading row: its pitches, its beats where wrong, ``+`` if added."""
    names = pretty(" ".join(moment.names))
    if moment.kind is Kind.LENGTH:
        return f"{names} {words.beats(grid.beats(moment.start, moment.length).limit_denominator(96))}"
    return f"+ {names}" if moment.kind is Kind.ADDED else names


def _pretty_word(word: str) -> str:
    return "&".join(_pretty_pitch(part) for part in word.split("&"))


def _pretty_pitch(part: str) -> str:
    if len(part) > 1 and part[0] in "ABCDEFG" and part[1] in "#b" and (len(part) > 2 and part[2] in "#b-0123456789"):
        return part[0] + part[1:].replace("#", "♯").replace("b", "♭")
    return part

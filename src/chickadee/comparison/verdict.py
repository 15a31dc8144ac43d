"""An attempt judged against the model: the kindest verdict that is true, and every difference."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum
from fractions import Fraction

from ..formats.imported import Imported, LengthsIn
from .alignment import TooLong
from .differences import Difference, Kind
from .in_program import causes_in_program, in_program
from .match import Match, matched
from .model import Model
from .words import differing, not_compared, relation_of

__all__ = ["Comparison", "Verdict", "best_reading", "compared", "unreadable"]

_FEWEST = 6
_LEAST_LIKENESS = 0.75
"""A tune of so many moments is another below it: of pairs of unrelated tunes in one key 95 in 100 are, of tunes with
three notes in ten wrong 1 in 100."""
_FEW_MISTAKES = 2
"""A tune with so few mistakes is the tune that was meant, however many notes each of them takes."""
_SIMPLE_TIMES = (Fraction(1, 4), Fraction(1, 3), Fraction(1, 2), Fraction(1), Fraction(2), Fraction(3), Fraction(4))
"""Ratios of seconds that are meant; any other comes of another tempo."""


class Verdict(Enum):
    """The judgements of an attempt, by the names that the command line gives them."""

    RIGHT = "right"
    MOVED = "moved"
    """Right, but all as many semitones higher or lower."""
    SCALED = "scaled"
    """Right, but all as many times as long."""
    MOVED_SCALED = "moved-scaled"
    PITCHES_ONLY = "pitches-only"
    """The pitches are right, and no lengths are given."""
    DIFFERS = "differs"
    ANOTHER_TUNE = "another-tune"
    UNREADABLE = "unreadable"

    @property
    def is_right(self) -> bool:
        """True if it is right, perhaps moved or stretched, or with pitches alone."""
        return self in (Verdict.RIGHT, Verdict.MOVED, Verdict.SCALED, Verdict.MOVED_SCALED, Verdict.PITCHES_ONLY)


@dataclass(frozen=True, slots=True)
class Comparison:
    """An attempt, judged.

    >>> from chickadee.formats.anything import read_text
    >>> from chickadee.sheet import read
    >>> model = Model(read("meter: 3/4\\nG4 B4 A4 | E4=2 D4").song)
    >>> judged = compared(model, read_text("meter: 3/4\\nG4 B4 A4 | F4=2 D4"))
    >>> judged.verdict.value, judged.sentence, [kind and kind.value for kind in judged.bars]
    ('differs', '1 difference, at bar 2 beat 1: F4 for E4.', [None, 'pitch'])
    """

    verdict: Verdict
    sentence: str
    semitones: int = 0
    """By how many all of it is higher."""
    times: Fraction = Fraction(1)
    """How many times as long all of it is."""
    right: int = 0
    """Moments of the model that the attempt has as they are."""
    of: int = 0
    """Moments of the model."""
    bars: tuple[Kind | None, ...] = ()
    """For each bar of the model the heaviest kind of its differences, None where it has none."""
    differences: tuple[Difference, ...] = ()

    @property
    def cells(self) -> list[str]:
        """The bars in words: ``same``, or the kind by its name."""
        return [kind.value if kind else "same" for kind in self.bars]


def unreadable(reason: str) -> Comparison:
    """The judgement of what holds no tune, for a reason."""
    return Comparison(Verdict.UNREADABLE, f"Not readable: {reason.rstrip('.')}.")


def compared(model: Model, found: Imported) -> Comparison:
    """Judge what was found in an attempt's file; where it can be read in several ways, in the best of them."""
    return best_reading(model, found)[1]


def best_reading(model: Model, found: Imported) -> tuple[Imported, Comparison]:
    """The way of reading an attempt's file that makes it most like the model, and its judgement."""
    best = found, _compared(model, found)
    for other in found.others:
        if best[1].verdict is Verdict.RIGHT:
            break
        judged = _compared(model, other)
        if _rank(judged) < _rank(best[1]):
            best = other, judged
    return best


def _rank(judged: Comparison) -> tuple[int, int]:
    order = (
        Verdict.RIGHT,
        Verdict.PITCHES_ONLY,
        Verdict.SCALED,
        Verdict.MOVED,
        Verdict.MOVED_SCALED,
        Verdict.DIFFERS,
    )
    place = order.index(judged.verdict) if judged.verdict in order else len(order)
    return place, len(judged.differences)


def _compared(model: Model, found: Imported) -> Comparison:
    if not found.song.notes:
        return unreadable("there are no notes in it")
    if not model.chosen:
        return unreadable("the model has no notes")
    try:
        match = in_program(matched(model, found), found)
    except TooLong:
        return unreadable("it differs over too many notes to be compared")
    is_like = match.likeness >= _LEAST_LIKENESS or match.mistakes <= _FEW_MISTAKES
    if match.fewer >= _FEWEST and match.differences and not is_like:
        return Comparison(Verdict.ANOTHER_TUNE, "Another tune.", right=match.right, of=_moments(match))
    timed = found.lengths is not LengthsIn.NOTHING
    return _judged(model, match, timed, found)


def _judged(model: Model, match: Match, timed: bool, found: Imported) -> Comparison:
    in_seconds = found.lengths is LengthsIn.SECONDS
    times = Fraction(1) if in_seconds and match.times not in _SIMPLE_TIMES else match.times
    known = timed or _is_even(match)
    relation = relation_of(match.semitones, times)
    if match.differences:
        verdict = Verdict.DIFFERS
        sentence = differing(match, relation, known, causes_in_program(match, found))
    elif not known:
        verdict = Verdict.PITCHES_ONLY
        sentence = f"Right pitches{f', {relation}' if relation else ''}; lengths are not given."
    else:
        verdict = {
            (False, False): Verdict.RIGHT,
            (True, False): Verdict.MOVED,
            (False, True): Verdict.SCALED,
            (True, True): Verdict.MOVED_SCALED,
        }[match.semitones != 0, times != 1]
        sentence = f"Right, but {relation}." if relation else "Right."
    return Comparison(
        verdict,
        " ".join(filter(None, [sentence, not_compared(model, match)])),
        match.semitones,
        times,
        match.right,
        _moments(match),
        _cells(model, match),
        match.differences,
    )


def _moments(match: Match) -> int:
    return sum(len(mine) for mine, _ in match.voices)


def _is_even(match: Match) -> bool:
    """Return whether all moments of the model last as long, so that none need be given."""
    return len({length for mine, _ in match.voices for length in mine.lengths.tolist()}) <= 1


def _cells(model: Model, match: Match) -> tuple[Kind | None, ...]:
    grid = model.song.grid
    bars = model.bars
    cells: list[Kind | None] = [None] * len(bars)
    for each in match.differences:
        end = each.start + each.length - 1
        last = grid.number_at(end) if each.kind is Kind.MISSING and each.length else each.bar
        for bar in range(each.bar, last + 1):
            place = min(bar, bars[-1]) - bars[0]
            old = cells[place]
            cells[place] = each.kind if old is None or each.kind.weight > old.weight else old
    return tuple(cells)

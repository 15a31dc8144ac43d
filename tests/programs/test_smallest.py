"""The smallest program with repeats is the smallest there is."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from itertools import product

from hypothesis import given
from hypothesis import strategies as st

from chickadee.programs.smallest import Again, Row, fewest_steps, smallest

LONGEST = 9


def expanded(rows: Sequence[Row], steps: Sequence[Hashable], at: int = 0) -> list[Hashable]:
    """All that a program does; each step that stands in it is that of its first turn."""
    found: list[Hashable] = []
    for row in rows:
        if isinstance(row, Again):
            found += expanded(row.body, steps, at + len(found)) * row.turns
        else:
            assert row.place == at + len(found)
            found.append(steps[row.place])
    return found


def size(rows: Sequence[Row]) -> int:
    return sum(1 + size(row.body) if isinstance(row, Again) else 1 for row in rows)


def test_no_program_of_up_to_nine_steps_is_smaller():
    """Programs are made from small to large; what each does is counted when it is first done by any."""
    costs: dict[str, int] = {"": 0}
    by_cost: list[list[str]] = [[], list("abc")]
    costs |= dict.fromkeys("abc", 1)
    for cost in range(2, LONGEST + 1):
        made = {one * turns for one in by_cost[cost - 1] for turns in range(2, LONGEST // len(one) + 1)}
        for first in range(1, cost):
            for one, other in product(by_cost[first], by_cost[cost - first]):
                if len(one) + len(other) <= LONGEST:
                    made.add(one + other)
        by_cost.append([each for each in made if each not in costs])
        costs |= dict.fromkeys(by_cost[-1], cost)
    assert len(costs) == sum(3**length for length in range(LONGEST + 1))
    assert {steps: size(smallest(steps)) for steps in costs} == costs


@st.composite
def rows_of_steps(draw):
    """Rows in which much comes again."""
    motifs = draw(st.lists(st.text("abcd", min_size=1, max_size=6), min_size=1, max_size=3))
    turns = st.tuples(st.sampled_from(motifs), st.integers(1, 6))
    return "".join(motif * count for motif, count in draw(st.lists(turns, max_size=10)))[:120]


@given(rows_of_steps())
def test_a_plain_dynamic_program_finds_none_smaller(steps):
    fewest = [[0] * (len(steps) + 1) for _ in range(len(steps) + 1)]
    for length in range(1, len(steps) + 1):
        for start in range(len(steps) - length + 1):
            end = start + length
            best = min((fewest[start][cut] + fewest[cut][end] for cut in range(start + 1, end)), default=1)
            for period in range(1, length // 2 + 1):
                if length % period == 0 and steps[start : end - period] == steps[start + period : end]:
                    best = min(best, 1 + fewest[start][start + period])
            fewest[start][end] = best
    found = smallest(steps)
    assert size(found) == fewest_steps(steps) == fewest[0][len(steps)]
    assert "".join(expanded(found, steps)) == steps


def test_a_long_row_is_never_more_than_step_by_step():
    for steps, most in ((range(1_000), 1_000), ("ab" * 500, 19), ("abcde" * 41 + "xyz", 30)):
        found = smallest(steps)
        assert expanded(found, steps) == list(steps)
        assert size(found) == fewest_steps(steps) <= most

"""Ticks, meters, bars and the tempo map."""

import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.song import BarGrid, Meter, Place, Tempo, TempoMap, division_for
from chickadee.song.meter import read_meter
from chickadee.song.ticks import ticks


@pytest.mark.parametrize("lower", [*range(1, 11), 12, 14, 15, 16, 18, 20, 21, 24, 25, 28, 32, 36, 64, 1000, 1024])
def test_usual_parts_of_a_quarter_are_whole(lower):
    assert ticks(Fraction(1, lower)) * lower == Q


def test_what_does_not_fit_is_not_rounded():
    assert ticks(Fraction(1, 11)) is None


@pytest.mark.parametrize(
    ("parts", "division"),
    [([1], 480), ([3], 480), ([7], 483), ([5, 7], 490), ([1000], 1000), ([64, 9], 576), ([1024, 125, 7, 9], None)],
)
def test_the_smallest_exact_midi_division(parts, division):
    assert division_for([Q // part for part in parts]) == division


@given(st.lists(st.integers(1, 40), max_size=4))
def test_the_division_holds_every_time_and_none_smaller_does(parts):
    times = [Q // part for part in parts if Q % part == 0]
    division = division_for(times)
    if division is not None:
        exact = [d for d in range(480, division + 1) if all(time * d % Q == 0 for time in times)]
        assert exact == [division]


def test_meters_are_read_and_know_their_pulse():
    assert read_meter(" 6 / 8 ") == Meter(6, 8)
    assert (Meter(6, 8).pulse_beats, Meter(9, 8).pulse_beats, Meter(3, 4).pulse_beats) == (3, 3, 1)
    assert [read_meter(text) for text in ("3/5", "0/4", "100/4", "3", "", "a/b")] == [None] * 6


def test_bars_are_counted_through_meter_changes_and_a_pickup():
    three = Meter(3, 4)
    six = Meter(6, 8)
    grid = BarGrid(((0, three), (Q + 2 * three.bar_ticks, six)), pickup=Q)
    assert grid.place(0) == Place(0, Fraction(1))
    assert grid.place(Q) == Place(1, Fraction(1))
    assert grid.place(Q + 3 * Q + Q // 2) == Place(2, Fraction(3, 2))
    assert grid.place(Q + 6 * Q + Q // 2) == Place(3, Fraction(2))
    assert grid.starts(Q + 6 * Q + six.bar_ticks + 1) == [(0, 0), (1, Q), (2, 4 * Q), (3, 7 * Q), (4, 10 * Q)]


@given(st.lists(st.tuples(st.integers(1, 5), st.sampled_from([Meter(3, 4), Meter(4, 4), Meter(7, 8)])), max_size=4),
       st.integers(0, 200))  # fmt: skip
def test_every_bar_begins_where_the_one_before_ends(stretches, eighths):
    changes = [(0, Meter(2, 4))]
    tick = Meter(2, 4).bar_ticks
    for bars, meter in stretches:
        changes.append((tick, meter))
        tick += bars * meter.bar_ticks
    grid = BarGrid(tuple(changes))
    at = eighths * Q // 2
    bar = grid.number_at(at)
    assert grid.start(bar) <= at < grid.end(bar)
    assert grid.end(bar) == grid.start(bar + 1)


@given(
    st.integers(0, 3 * Q),
    st.lists(st.tuples(st.integers(1, 40 * Q), st.sampled_from([Meter(3, 4), Meter(4, 4), Meter(7, 8)])), max_size=4),
    st.lists(st.integers(0, 60 * Q), min_size=1, max_size=8),
)
def test_many_ticks_lie_in_the_bars_that_each_lies_in(pickup, changes, ticks):
    later = {pickup + tick: meter for tick, meter in changes}
    grid = BarGrid(((0, Meter(4, 4)), *sorted(later.items())), pickup)
    bars = grid.bars_at(np.array(ticks))
    numbers = [grid.number_at(tick) for tick in ticks]
    assert bars.start.tolist() == [grid.start(number) for number in numbers]
    assert bars.end.tolist() == [grid.end(number) for number in numbers]
    assert bars.beat.tolist() == [grid.meter_at(tick).beat_ticks for tick in ticks]


def test_a_meter_change_inside_a_bar_begins_a_new_one():
    grid = BarGrid(((0, Meter(4, 4)), (2 * Q, Meter(3, 4))))
    assert grid.starts(6 * Q) == [(1, 0), (2, 2 * Q), (3, 5 * Q)]


def test_seconds_by_hand():
    tempo = TempoMap([Tempo(0, 60.0), Tempo(4 * Q, 120.0)])
    assert tempo.seconds([0, Q, 4 * Q, 6 * Q]).tolist() == [0.0, 1.0, 4.0, 5.0]
    assert TempoMap([Tempo(0, 60.0)]).at_speed(0.5).seconds(Q) == 2.0


def test_a_ramp_takes_the_time_of_its_formula():
    tempo = TempoMap([Tempo(0, 120.0, 8 * Q, 60.0)])
    expected = [60 * 8 / (60 - 120) * math.log((120 - 60 * x / 8) / 120) for x in range(9)]
    assert tempo.seconds([x * Q for x in range(9)]) == pytest.approx(expected, rel=1e-12)
    assert tempo.seconds(9 * Q) - tempo.seconds(8 * Q) == pytest.approx(1.0)
    steps = np.linspace(0, 8, 200_001)
    summed = np.trapezoid(60 / (120 - 60 * steps / 8), steps)
    assert tempo.seconds(8 * Q) == pytest.approx(summed, rel=1e-9)


@given(
    st.lists(st.tuples(st.integers(1, 8), st.floats(20, 400), st.booleans(), st.floats(20, 400)), min_size=1,
             max_size=5),
    st.floats(0, 40),
)  # fmt: skip
def test_ticks_and_seconds_are_each_other_s_inverse(stretches, quarter):
    tempos = []
    tick = 0
    for quarters, speed, ramp, target in stretches:
        tempos.append(Tempo(tick, speed, quarters * Q if ramp else 0, target if ramp else 0.0))
        tick += quarters * Q
    tempo = TempoMap(tempos)
    at = quarter * Q
    assert tempo.tick(float(tempo.seconds(at))) == pytest.approx(at, rel=1e-9, abs=1)
    start = int(at) // 2
    later = tempo.from_tick(start)
    assert later.seconds(at - start) == pytest.approx(tempo.seconds(at) - tempo.seconds(start), rel=1e-9, abs=1e-9)


SWINGS = st.lists(st.tuples(st.integers(0, 8 * Q), st.sampled_from([0.5, 0.6, 2 / 3, 0.75])), max_size=4)
"""(tick, part); they may begin anywhere in a quarter note."""


@given(SWINGS, st.integers(0, Q), st.lists(st.integers(0, 10 * Q), min_size=1, max_size=6), st.integers(0, 6 * Q))
def test_time_goes_on_through_any_swing_and_ticks_are_found_again(swings, origin, ticks, start):
    tempo = TempoMap([Tempo(0, 90.0)], sorted(dict(swings).items()), origin)
    edges = np.array([*(tick for tick, _ in swings), *range(origin % Q, 10 * Q, Q // 2)])[:, None] + np.arange(
        -20, 21
    )
    some = np.unique(np.concatenate([np.arange(0, 10 * Q, 6_971), edges.clip(0).ravel()]))
    assert (np.diff(tempo.seconds(some)) > 0).all()
    for tick in ticks:
        assert tempo.tick(float(tempo.seconds(tick))) == pytest.approx(tick, abs=2)
    later = tempo.from_tick(start)
    for tick in ticks:
        assert later.swung(tick) + start == pytest.approx(tempo.swung(tick + start), abs=1e-6)


def test_a_tempo_on_an_off_beat_of_a_swing_begins_where_that_is_heard():
    tempo = TempoMap([Tempo(0, 60.0), Tempo(Q // 2, 120.0)], [(0, 0.75)])
    assert float(tempo.seconds(Q // 2)) == pytest.approx(0.75)
    assert float(tempo.seconds(Q)) == pytest.approx(0.75 + 0.25 / 2)

"""What was meant by played notes: tempo, meter, bar lines and places, however they were played."""

from __future__ import annotations

import random
from dataclasses import dataclass

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.hearing.rhythm import rhythms

BARS = {
    (4, 4): ["1 1 1 1", "1 1 2", "2 1 1", "1.5 .5 1 1", "1 .5 .5 1 1", "2 2", "3 1", ".5 .5 1 1 1", "1 1 .5 .5 1",
             "1 .5 .5 2", ".75 .25 1 1 1"],
    (3, 4): ["1 1 1", "2 1", "1.5 .5 1", "1 .5 .5 1", "1 1 .5 .5", ".5 .5 1 1", "1 2"],
    (2, 4): ["1 1", "1 .5 .5", ".5 .5 1", "1.5 .5", ".75 .25 1"],
    (6, 8): ["1 1 1 1 1 1", "2 1 2 1", "3 3", "1 1 1 3", "3 1 1 1", "2 1 3", "1.5 .5 1 2 1", "1 1 1 2 1"],
    "triplets": ["1 1 1 1", "t t t 1 2", "1 t t t 1 1", "2 t t t 1", "t t t t t t 2", "1 1 2"],
}  # fmt: skip
KINDS = [*[(4, 4)] * 2, (3, 4), (2, 4), (6, 8), "triplets"]


@dataclass
class Played:
    """A tune of a few bars and when its notes began."""

    meter: tuple[int, int]
    tempo: float
    """Beats of the lower number a minute, over the whole."""
    beats: np.ndarray
    starts: np.ndarray


def played(seed, human=0.0, slows=0.0):
    """A tune, played with so many seconds of human timing and getting slower by a part of the tempo."""
    draw = random.Random(seed)
    kind = draw.choice(KINDS)
    upper, lower = (4, 4) if kind == "triplets" else kind
    tempo = draw.choice([60, 72, 80, 92, 100, 112, 120, 132] if lower == 4 else [150, 180, 210, 240])
    beats = []
    if draw.random() < 0.3:
        beats = [-1.0] if lower == 8 else draw.choice([[-1.0], [-0.5], [-1.0, -0.5]])
    here = 0.0
    for _ in range(draw.choice([8, 12])):
        for word in draw.choice(BARS[kind]).split():
            beats.append(here)
            here += 1 / 3 if word == "t" else float(word)
    beats = np.array([*beats, here])
    part = (beats - beats[0]) / (here - beats[0])
    starts = 0.4 + (beats - beats[0]) * 60 / tempo * (1 + slows * part / 2)
    starts += np.random.default_rng(seed).normal(0, human, len(beats))
    return Played((upper, lower), tempo / (1 + slows / 2), beats, np.sort(starts))


def is_tempo(tune, rhythm):
    return rhythm.tempo * 4 / rhythm.lower == pytest.approx(tune.tempo * 4 / tune.meter[1], rel=0.04)


def in_quarters(tune, rhythm):
    """(where notes were meant to begin, where they were taken to), in quarter notes from the first."""
    own = (tune.beats - tune.beats[0]) * 4 / tune.meter[1]
    taken = (rhythm.beats - rhythm.beats[0]) * 4 / rhythm.lower
    return own, taken


@pytest.mark.parametrize(("human", "slows", "least"), [(0.0, 0.0, 0.99), (0.02, 0.05, 0.95), (0.04, 0.1, 0.88)])
def test_of_forty_tunes_nearly_all_have_their_tempo_and_their_beats(human, slows, least):
    right = either = 0
    places = []
    for seed in range(40):
        tune = played(seed, human, slows)
        best, *others = rhythms(tune.starts)
        right += is_tempo(tune, best)
        either += any(is_tempo(tune, each) for each in (best, *others[:1]))
        if is_tempo(tune, best):
            own, taken = in_quarters(tune, best)
            places.append(np.mean(abs(own - taken) < 0.01))
    assert right >= 34 and either >= 38
    assert np.mean(places) >= least


def test_a_pickup_is_found_and_none_where_there_is_none():
    right = {True: [], False: []}
    for seed in range(60):
        tune = played(seed, 0.01)
        best = rhythms(tune.starts)[0]
        line = best.beats[0] * 4 / best.lower == pytest.approx(tune.beats[0] * 4 / tune.meter[1], abs=0.01)
        right[bool(tune.beats[0] < 0)].append(line)
    assert np.mean(right[True]) >= 0.65 and np.mean(right[False]) >= 0.85


def test_the_meter_of_tunes_in_six_eight_and_in_three_four():
    tunes = [tune for tune in (played(seed) for seed in range(80)) if tune.meter in ((6, 8), (3, 4))]
    found = [(best.upper, best.lower) == tune.meter for tune in tunes for best in rhythms(tune.starts)[:1]]
    assert len(tunes) > 15 and np.mean(found) >= 0.85


@given(st.integers(0, 10_000), st.floats(-0.08, 0.08), st.floats(0, 0.01))
@settings(max_examples=15)
def test_a_tempo_and_a_bar_line_that_are_known_are_kept_to_though_they_are_a_little_off(seed, off, human):
    tune = played(seed, human)
    lower = tune.meter[1]
    line = tune.starts[0] - tune.beats[0] * 60 / tune.tempo
    best = rhythms(tune.starts, tempo=tune.tempo, meter=tune.meter, first=line + off)[0]
    assert (best.upper, best.lower) == tune.meter and best.tempo == pytest.approx(tune.tempo, rel=0.03)
    assert np.mean(abs(best.beats - tune.beats) * 4 / lower < 0.01) >= 0.9


@pytest.mark.parametrize("bars", [0, 1, 7])
def test_a_bar_line_long_before_the_first_note_is_counted_in_the_meter_that_is_found(bars):
    beats = np.concatenate([np.array([0, 1, 2, 3, 5, 6, 6.5, 7, 8]) + 9 * part for part in range(4)])
    best = rhythms(20 + beats * 60 / 90, tempo=90.0, first=20 - bars * 3 * 60 / 90, meter=(3, 4))[0]
    assert best.beats == pytest.approx(beats + 3 * bars)
    free = rhythms(20 + beats * 60 / 90, tempo=90.0, first=20 - bars * 3 * 60 / 90)[0]
    assert free.beats[0] == pytest.approx(3 * bars)  # of the lower number of whatever meter is found


def test_long_rests_and_long_recordings_are_kept_count_of():
    beats = np.concatenate([np.arange(8) + 40 * part for part in range(70)]).astype(float)
    best = rhythms(beats * 60 / 96 + 0.3)[0]
    own = np.diff(beats) * 60 / 96
    assert np.diff(best.beats) * 60 / best.tempo == pytest.approx(own, rel=0.05)
    assert rhythms([]) == [] and rhythms([1.0]) == []


@given(
    st.lists(st.floats(0.001, 30), min_size=1, max_size=40),
    st.none() | st.floats(5, 1000),
    st.none() | st.tuples(st.integers(1, 12), st.sampled_from([1, 2, 4, 8, 16])),
    st.none() | st.floats(-5, 60),
)
@settings(max_examples=25)
def test_any_onsets_have_a_rhythm_whatever_is_known_of_them(gaps, tempo, meter, first):
    starts = np.cumsum([0.3, *gaps])
    found = rhythms(starts, tempo=tempo, meter=meter, first=first)
    assert found
    for each in found:
        assert len(each.beats) == len(starts) and (np.diff(each.beats) > 0).all()
        assert np.isfinite(each.tempo) and each.tempo > 0
        assert meter is None or (each.upper, each.lower) == meter

"""A recording under a tune: which second belongs to which tick, and both heard together to the sample."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.hearing.alignment import Alignment
from chickadee.hearing.backing import BackingSound
from chickadee.hearing.playable import InMemory
from chickadee.player import Playing, Recorded, Together
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.sound.performance import Performance

RATE = 16_000
SONG = read("tempo: 120\nvoice A\n  sound: wood bars\n  " + "C5 C5 C5 C5 | " * 4).song
FIRST = 0.25  # the second of the recording at which bar 1 begins


def recording(seconds=9.0, tempo=120):
    """A short click at each beat of a tempo from FIRST on."""
    samples = np.zeros(round(seconds * RATE), np.float32)
    for after in range(RATE // 200):
        samples[round(FIRST * RATE) + after :: round(60 / tempo * RATE)] = 0.5 * (-0.97) ** after
    return InMemory(samples, RATE)


def heard(playing, frames, changes=(), block=700, source=None):
    """Return the frames of a performance, shape (frames, 2); ``changes`` are (frame, playing)."""
    performance = Performance(RATE)
    source = source or recording()
    found = []
    performance.play(playing.score, playing.part, BackingSound(playing.backing, source) if playing.backing else None)
    for upto, other in (*changes, (frames, None)):
        while performance.frames < upto:
            found.append(performance.read(min(block, upto - performance.frames)))
        if other is not None:
            beside = performance.beside.changed(other.backing) if other.backing else None
            performance.change(other.score, other.part, playing.moments_to(other), beside)
            playing = other
    return np.concatenate(found)


def strikes(samples):
    """The frames at which something is struck: the first that are loud after some that are not."""
    loud = np.flatnonzero(np.abs(samples) > 0.02)
    return loud[np.diff(loud, prepend=-RATE) > RATE // 20]


APART = Recorded("", FIRST, together=Together.APART)


def test_tune_and_recording_stay_together_to_the_sample():
    sound = heard(Playing(SONG, recorded=APART), 7 * RATE)
    recorded = strikes(sound[:, 0])
    tune = strikes(sound[:, 1])
    assert len(tune) == len(recorded) == 14
    apart = recorded - tune
    assert set(apart[1:].tolist()) == {apart[1]} and abs(apart).max() < RATE // 1000


@pytest.mark.parametrize("speed", [0.25, 0.5, 0.9, 1.5])
def test_at_any_speed_in_rounds_and_through_edits_both_stay_together(speed):
    playing = Playing(SONG, end=2 * SONG.meter.bar_ticks, round=True, speed=speed, recorded=APART)
    other = read("tempo: 120\nvoice A\n  sound: wood bars\n  " + "C5 E5 G5 C6 | " * 4).song
    faster = replace(playing, song=other, speed=speed * 1.2)
    sound = heard(playing, 12 * RATE, [(RATE, replace(playing, song=other)), (5 * RATE, faster)])
    recorded = strikes(sound[:, 0])
    tune = strikes(sound[:, 1])
    assert len(tune) > 5
    near = np.array([np.abs(recorded - each).min() for each in tune[:-1]])
    assert near.max() < 0.01 * RATE  # attacks are within 10 ms, and nothing adds up


def test_where_each_is_heard():
    def power(together):
        sound = heard(Playing(SONG, recorded=replace(APART, together=together)), 2 * RATE)
        return np.sqrt((sound**2).mean(axis=0))

    tune = power(Together.TUNE)
    recorded = power(Together.RECORDING)
    assert tune[0] == pytest.approx(tune[1]) and recorded[0] == pytest.approx(recorded[1])
    assert (power(Together.BOTH) > np.maximum(tune, recorded) * 1.0001).all()
    silent = heard(Playing(SONG, recorded=replace(APART, together=Together.RECORDING, level=0)), 2 * RATE)
    assert not silent.any()


def test_it_goes_on_to_the_recording_s_end_and_counting_in_is_not_disturbed():
    performance = Performance(RATE)
    playing = Playing(read("").song, recorded=APART)
    performance.play(playing.score, playing.part, BackingSound(playing.backing, recording()))
    while not performance.ended and performance.frames < 20 * RATE:
        performance.read(1000)
    assert performance.ended == pytest.approx((9.0 - FIRST) * RATE, abs=1000)
    counted = Playing(SONG, start=4 * Q, count_in=True, recorded=replace(APART, together=Together.BOTH, level=0.1))
    added = heard(counted, 3 * RATE) - heard(replace(counted, recorded=None), 3 * RATE)
    assert np.flatnonzero(np.abs(added) > 1e-3)[0] // 2 == pytest.approx(2 * RATE, abs=RATE // 50)


def test_another_recording_or_none_takes_its_place_without_a_click():
    tone = InMemory((0.4 * np.sin(np.arange(9 * RATE) * 0.05)).astype(np.float32), RATE)
    playing = Playing(SONG, recorded=replace(APART, together=Together.RECORDING))
    sound = heard(playing, 2 * RATE, [(RATE, replace(playing, recorded=None, silent=frozenset({0})))], source=tone)
    assert np.abs(np.diff(sound[:, 0])).max() < 1.3 * np.abs(np.diff(sound[RATE // 2 : RATE, 0])).max()
    assert not sound[RATE + RATE // 20 :].any()


@given(
    st.floats(0, 9).map(lambda value: round(value, 3)),
    st.lists(st.tuples(st.integers(2, 8), st.floats(0.5, 60)), max_size=4),
    st.lists(st.floats(0, 80), min_size=1, max_size=6),
)
def test_ticks_and_seconds_of_a_recording_are_each_other_s_inverse(first, anchors, beats):
    song = read("tempo: 60\n" + "C4 D4 E4 F4 | [tempo 90] " * 3 + "C4 D4 E4 F4 | " * 9).song
    placing = Alignment(song, first, anchors)
    ticks = np.sort(np.array(beats)) * Q
    seconds = placing.second(ticks)
    assert placing.tick(seconds) == pytest.approx(ticks, abs=Q / 1000)
    assert (np.diff(seconds) >= 0).all()
    assert placing.second(placing.ticks) == pytest.approx(placing.seconds)
    for tick, second in zip(placing.ticks[1:].tolist(), placing.seconds[1:].tolist(), strict=True):
        assert (song.grid.number_at(tick), second) in anchors

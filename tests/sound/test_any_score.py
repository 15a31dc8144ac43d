"""What any sheet sounds like: finite, bounded, the same however it is asked for, and quiet at its end."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.sound import Renderer, Score, rendered
from chickadee.sound.limiter import CEILING
from sheets import sheets

RATE = 8_000
HEAD = "tempo: 300\n"


def rendering(song, block):
    renderer = Renderer(song, RATE)
    return np.concatenate([renderer.read(block) for _ in range(-(-3 * RATE // block))])[: 3 * RATE]


@settings(max_examples=15, deadline=None)
@given(sheets(), st.integers(100, 3000))
def test_any_sheet_sounds_the_same_in_any_blocks_within_bounds_and_ends_in_silence(text, block):
    song = read(HEAD + text).song
    whole = np.concatenate([np.zeros((0, 2), np.float32), *rendered(song, RATE)])
    assert np.isfinite(whole).all()
    assert np.abs(whole).max(initial=0) <= CEILING + 1e-6
    assert len(whole) >= round(song.seconds * RATE)
    assert np.abs(whole[-4:]).max(initial=0) < 1e-3
    assert np.array_equal(rendering(song, block), rendering(song, 1024))


def columns(score, notes):
    names = ("start", "held", "number", "hertz", "strength", "sound", "left", "right")
    return [getattr(score, name)[notes].tolist() for name in names]


@settings(max_examples=40, deadline=None)
@given(sheets(), st.sampled_from([("C4", "D4"), ("=2", "=3"), ("[mf]", "[ff]"), ("\n", " G4\n"), ("rest", "E3")]))
def test_two_versions_sound_the_same_up_to_where_they_are_said_to_and_no_further(text, change):
    one, two = (Score.of(read(HEAD + each).song) for each in (text, text.replace(*change)))
    until = one.agrees_until(two)
    assert until == two.agrees_until(one)
    assert columns(one, one.start < until) == columns(two, two.start < until)
    alike = columns(one, one.start <= until) == columns(two, two.start <= until)
    assert not alike or until in (one.seconds, two.seconds, float("inf"))
    assert until < float("inf") or (columns(one, ...), one.seconds) == (columns(two, ...), two.seconds)


@settings(max_examples=15, deadline=None)
@given(sheets())
def test_a_score_is_in_order_and_holds_what_the_song_does(text):
    song = read(text).song
    score = Score.of(song)
    assert len(score) == len(song.notes)
    assert (np.diff(score.start) >= 0).all()
    assert (score.held > 0).all()
    assert np.allclose(score.left**2 + score.right**2, 1, atol=1e-5)
    assert np.allclose(np.log2(score.hertz / 440) * 12 + 69, score.number)

"""What is kept of texts and sounds is bounded, and gives the same as what is made anew."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from chickadee.caching import cached, drop_caches, latest, remembered
from chickadee.desk.idle_collector import collect
from chickadee.display.wave import NoteWave
from chickadee.song.sounds import SOUNDS

TUNED = [sound for sound in SOUNDS if sound != "drum kit"]


@given(st.lists(st.text("ab", max_size=6), max_size=60), st.integers(0, 40), st.integers(0, 8))
def test_what_is_remembered_is_what_would_be_worked_out_and_no_more_than_asked(texts, characters, longest):
    worked_out = []

    @remembered(characters, longest)
    def reversed_text(text):
        worked_out.append(text)
        return text[::-1]

    assert [reversed_text(text) for text in texts] == [text[::-1] for text in texts]
    if characters >= sum(len(text) + 1 for text in texts):
        assert all(worked_out.count(text) == 1 for text in texts if len(text) <= longest)
    assert all(texts.count(text) == worked_out.count(text) for text in texts if len(text) > longest)


def test_what_is_kept_is_made_once_until_it_is_given_up():
    made = []

    @cached(2)
    def double(number):
        made.append(number)
        return 2 * number

    assert [double(3), double(3), double(4), double(3)] == [6, 6, 8, 6] and made == [3, 4]
    assert double(5) == 10 and double(4) == 8 and made == [3, 4, 5, 4]
    drop_caches()
    assert double(3) == 6 and made[-1] == 3


@given(st.sampled_from(TUNED), st.integers(36, 96))
def test_a_desk_at_rest_keeps_nothing_of_sounds_and_they_come_again_the_same(sound, number):
    before = NoteWave(sound, number).spectrum()
    collect()
    after = NoteWave(sound, number).spectrum()
    assert all(np.array_equal(one, other) for one, other in zip(before, after, strict=True))


def test_of_the_newest_results_heavy_ones_are_not_kept_together():
    made = []

    @latest(2, 100, len)
    def doubled(text):
        made.append(text)
        return text * 2

    for text in ("a", "b", "a", "b", "c", "b", "a"):
        assert doubled(text) == text * 2
    assert made == ["a", "b", "c", "a"]
    heavy = "h" * 60
    for text in (heavy, heavy, "a", "b", heavy):
        doubled(text)
    assert made[4:] == [heavy, "a", "b", heavy]  # one heavy result is found again, but none stays beside others

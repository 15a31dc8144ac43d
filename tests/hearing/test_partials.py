"""What partials tell about a moment: whether a note is struck again, and whether it beats."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from chickadee.hearing.partials import Moment, course_at
from chickadee.hearing.pitch import HOP

RATE = 22_050
SECONDS = np.arange(2 * RATE) / RATE
PITCHES = st.floats(110, 700)


def tone(hertz, partials=6):
    return sum(np.sin(2 * np.pi * hertz * k * SECONDS) / k for k in range(1, partials + 1))


def course(samples, hertz, at=1.0, first=0.0, last=2.0):
    moment = Moment(round(at / HOP), hertz, round(first / HOP), round(last / HOP))
    return course_at(samples.astype(np.float32), round(at * RATE), moment, RATE)


def test_players_together_beat():
    found = []
    for hertz in np.geomspace(220, 700, 25):
        for cents in (5.5, 6.5, 8.0):
            layers = ((0, 0.6), (cents, 0.35), (-cents, 0.35))
            together = sum(level * tone(hertz * 2 ** (off / 1200)) for off, level in layers)
            found.append(course(together, hertz).beats)
    assert sum(found) >= 0.95 * len(found)


@given(PITCHES, st.floats(1.5, 4))
def test_one_who_strikes_again_or_holds_does_not_beat(hertz, times):
    again = (0.2 + np.abs(np.cos(np.pi * times * (SECONDS - 1)))) * tone(hertz)
    assert not course(again, hertz).beats
    assert not course(tone(hertz), hertz).beats


@given(PITCHES, st.floats(0.02, 0.04))
def test_what_is_softer_for_a_moment_in_all_its_partials_is_struck_again(hertz, gap):
    struck = (1 - 0.9 * np.exp(-(((SECONDS - 1) / gap) ** 2))) * tone(hertz)
    assert course(struck, hertz).again
    assert not course(tone(hertz), hertz).again

"""However much is made beforehand, what is asked for is heard as though nothing had been."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.hearing.backing import BackingSound
from chickadee.hearing.playable import InMemory
from chickadee.player import Playing, Recorded
from chickadee.player.stream import Stream
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.sound.performance import Performance
from chickadee.sound.render import DEFAULT_RATE, rendered

SONGS = [
    Playing(read(f"tempo: 240\nvoice A\n  sound: {sound}\n  {notes}\nvoice B\n  sound: bowed string\n  C3=3 G3").song)
    for sound, notes in (("wood bars", "C4 E4 G4 C5"), ("wood bars", "C4 E4 A4 C5"), ("flute", "C4 E4 A4 C5 G4"))
]
AROUND = Playing(SONGS[0].song, end=2 * Q, round=True)
RECORDED = [replace(each, recorded=Recorded("", 0.1, level=0.2)) for each in (SONGS[0], replace(AROUND, speed=0.7))]
SOURCE = InMemory(np.concatenate(list(rendered(SONGS[1].song, DEFAULT_RATE))).mean(axis=1), DEFAULT_RATE)


class Deep:
    """An output that keeps much and hands over what was settled."""

    device = None
    gaps = 0

    def __init__(self, depth: int, settled: int) -> None:
        self.depth = depth
        self.ahead = settled
        self.now = 0
        self.sound = np.zeros((0, 2), np.float32)

    def wanted(self) -> int:
        return max(0, self.now + self.depth - len(self.sound))

    def write(self, sound) -> None:
        self.sound = np.concatenate([self.sound, sound])

    def heard(self) -> int:
        return min(self.now, len(self.sound))

    def settled(self) -> int:
        return min(len(self.sound), self.now + self.ahead)

    def take_back(self, frames: int) -> None:
        self.sound = self.sound[:-frames]

    def failed(self) -> bool:
        return False

    def close(self) -> None:
        pass


def ask(performance: Performance, what: str, was: Playing, playing: Playing) -> None:
    beside = None
    before = performance.beside
    if playing.backing is not None:
        goes_on = what == "change" and before is not None
        beside = before.changed(playing.backing) if goes_on else BackingSound(playing.backing, SOURCE)
    if what == "play":
        performance.play(playing.score, playing.part, beside)
    elif what == "change":
        performance.change(playing.score, playing.part, was.moments_to(playing), beside)
    else:
        performance.stop()


ASKED = st.tuples(
    st.sampled_from(["play", "change", "change", "stop"]),
    st.sampled_from([*SONGS, AROUND, *RECORDED]),
    st.integers(0, 20_000),
)


@settings(max_examples=20, deadline=None)
@given(st.lists(ASKED, min_size=1, max_size=6), st.sampled_from([3000, 30_000, 96_000]))
def test_what_was_made_too_early_is_made_again(asked, depth):
    out = Deep(depth, settled=2400)
    plain = Performance(DEFAULT_RATE)
    stream = Stream(lambda device: out)
    stream.output = out
    was = SONGS[0]
    expected = []
    for what, playing, frames in [("play", was, 9600), *asked, ("stop", was, 40_000)]:
        same = what == "change" and playing.backing == was.backing
        unchanged = stream.performance.unchanged_until(playing.score, playing.part) if same else 0
        performance = stream.soon(unchanged)
        here = performance.frames
        assert here <= stream.heard + 2400
        ask(performance, what, was, playing)
        if here > plain.frames:
            expected.append(plain.read(here - plain.frames))
        ask(plain, what, was, playing)
        was = playing if what != "stop" else was
        out.now += frames
        while out.wanted() >= 96:
            stream.pump()
    expected.append(plain.read(len(out.sound) - plain.frames))
    assert np.allclose(np.concatenate(expected), out.sound, atol=1e-6)

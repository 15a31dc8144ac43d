"""The sound server's stream: what was given and not yet heard can be given again without being heard to be."""

from __future__ import annotations

import time

import numpy as np
import pytest

from chickadee.player.pulse import ServerOutput
from null_sink import NullSink

pytestmark = pytest.mark.skipif(not NullSink.available, reason="PulseAudio is not installed")
RATE = 48_000
TONE = 0.5 * np.sin(2 * np.pi * 440 * np.arange(8 * RATE) / RATE).astype(np.float32)
TONE[: RATE // 100] *= np.linspace(0, 1, RATE // 100)


@pytest.fixture
def sink(monkeypatch):
    sink = NullSink()
    sink.start()
    for name, value in sink.environment.items():
        monkeypatch.setenv(name, value)
    yield sink
    sink.close()


def feed(output, seconds, at=0, every=0.25, sound=TONE):
    """Give a tone for some seconds, and every so often all of it anew that is not settled; the frames given."""
    until, again = time.monotonic() + seconds, time.monotonic() + every
    while time.monotonic() < until:
        wanted = min(output.wanted(), len(sound) - at)
        if wanted > 96:
            output.write(np.stack([sound[at : at + wanted]] * 2, axis=1))
            at += wanted
        if time.monotonic() > again:
            settled = output.settled()
            assert output.heard() <= settled <= at
            output.take_back(at - settled)
            at, again = settled, time.monotonic() + every
        time.sleep(0.003)
    return at


def in_one_of_three(right):
    """Whether something holds in one of three tries: what a machine that stands still is late with, is late."""
    return any(right() for _ in range(3))


def test_what_is_given_again_joins_what_was_heard_to_the_sample(sink):
    def joined():
        output = ServerOutput(None, RATE)
        assert not output.failed()
        sink.record()
        at = feed(output, 4)
        assert at > output.heard() + RATE  # seconds lie ready
        assert not output.failed()
        output.close()
        heard = sink.recorded()
        begins = int(np.flatnonzero(np.abs(heard) > 0.01)[0])
        steady = heard[begins + RATE // 50 : begins + 2 * RATE]
        assert len(steady) > RATE
        return np.abs(np.diff(steady)).max() < 1.05 * 0.5 * 2 * np.pi * 440 / RATE

    assert in_one_of_three(joined)


def test_what_is_given_anew_is_heard_soon_and_in_its_place(sink):
    late = np.concatenate([np.zeros(3 * RATE // 2, np.float32), TONE])  # a null sink that was idle takes a while

    def ends_where_silence_was_given():
        output = ServerOutput(None, RATE)
        sink.record()
        at = feed(output, 3.5, every=60, sound=late)
        settled = output.settled()
        output.take_back(at - settled)
        ahead = settled - output.heard()
        feed(output, 1.5, settled, 60, np.zeros_like(late))
        output.close()
        loud = np.flatnonzero(np.abs(sink.recorded()) > 0.01)
        assert ahead <= 0.1 * RATE
        return abs(loud[-1] - loud[0] - (settled - 3 * RATE // 2)) < 0.03 * RATE

    assert in_one_of_three(ends_where_silence_was_given)


def test_what_is_given_anew_too_late_is_heard_in_its_place_all_the_same(sink):
    """A machine that stood still: what was going to sound sounds, and the new part goes on in time where it can."""
    low = np.concatenate([np.zeros(RATE, np.float32), TONE])
    high = np.concatenate([np.zeros(RATE, np.float32), TONE[::-1] * 0.5])

    def in_its_place():
        output = ServerOutput(None, RATE)
        sink.record()
        at = feed(output, 2.5, every=60, sound=low)
        settled = output.settled()
        output.take_back(at - settled)
        time.sleep(0.2)
        at = feed(output, 1.5, settled, 60, high)
        output.take_back(at - (ends := output.settled()))
        assert ends - output.heard() > 1.2 * 0.05 * RATE  # more is left as it is than at first
        feed(output, 0.5, ends, 60, np.zeros_like(low))
        output.close()
        heard = np.abs(sink.recorded())
        loud = np.flatnonzero(heard > 0.01)
        level = np.convolve(heard, np.ones(480) / 480, "same")
        softer = np.flatnonzero(level > 0.75 * level[loud[0] + RATE // 2])[-1]
        late = softer - loud[0] - (settled - RATE)
        return abs(loud[-1] - loud[0] - (ends - RATE)) < 0.03 * RATE and 0.08 * RATE < late < 0.3 * RATE

    assert in_one_of_three(in_its_place)


def test_a_server_that_goes_is_noticed_and_none_is_not_waited_for_long(sink):
    output = ServerOutput(None, RATE)
    feed(output, 1)
    sink.kill()
    until = time.monotonic() + 5
    while not output.failed() and time.monotonic() < until:
        output.wanted()
        time.sleep(0.01)
    assert output.failed()
    assert output.wanted() == 0
    output.close()
    assert not ServerOutput.available()

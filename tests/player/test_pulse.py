"""The sound server's stream: what was given and not yet heard can be given again without being heard to be."""

from __future__ import annotations

import time

import numpy as np
import pytest

from chickadee.player import Player, Playing, pulse
from chickadee.player.pulse import ServerOutput
from chickadee.sheet import read
from chickadee.signals.emitter import Emitter, EmitterThread
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
    until = time.monotonic() + seconds
    again = time.monotonic() + every
    while time.monotonic() < until:
        wanted = min(output.wanted(), len(sound) - at)
        if wanted > 96:
            output.write(np.stack([sound[at : at + wanted]] * 2, axis=1))
            at += wanted
        if time.monotonic() > again:
            settled = output.settled()
            assert output.heard() <= settled <= at
            output.take_back(at - settled)
            at = settled
            again = time.monotonic() + every
        time.sleep(0.003)
    return at


def in_one_of_three(right):
    """Return whether something holds in one of three tries: what a machine that stands still is late with, is late."""
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


class SlowServer:
    """A server's stream that plays by a clock of the test's own: what has been heard can no longer be written over."""

    def __init__(self):
        self.frames = np.zeros(8 * RATE, np.float32)
        self.end = 0
        self.heard = 0

    def functions(self):
        found = {name: lambda *_: 1 for name in pulse._SIGNATURES}
        found["mainloop_iterate"] = lambda *_: 0
        found["context_get_state"] = lambda *_: 4
        found["stream_get_state"] = lambda *_: 2
        return found | {
            "stream_writable_size": self.room, "stream_write": self.write, "stream_get_time": self.time
        }  # fmt: skip

    def room(self, _):
        return (2 * RATE - (self.end - self.heard)) * 8

    def write(self, _, data, size, __, offset, ___):
        sound = np.frombuffer(data, np.float32)[::2]
        assert len(sound) * 8 == size
        begin = self.end + offset // 8
        self.end = begin + len(sound)
        late = max(0, self.heard - begin)
        self.frames[begin + late : self.end] = sound[late:]

    def time(self, _, found):
        found._obj.value = round(self.heard / RATE * 1e6)
        return 0


def test_what_is_given_anew_too_late_is_heard_in_its_place_all_the_same(monkeypatch):
    """A machine that stood still: what was going to sound sounds, and the new part goes on in time where it can."""
    server = SlowServer()
    monkeypatch.setattr(pulse, "_library", server.functions)
    output = ServerOutput(None, RATE)
    old = np.ones((8 * RATE, 2), np.float32)
    new = np.full((8 * RATE, 2), 2, np.float32)
    output.write(old[: output.wanted()])
    server.heard = RATE
    settled = output.settled()
    output.take_back(output._written - settled)
    first = settled - output.heard()
    server.heard += RATE // 5  # it stands still for longer than what was left as it is
    assert server.heard > settled
    wanted = output.wanted()
    output.write(new[:wanted])
    changes = np.flatnonzero(server.frames[: server.end] == 2)
    assert server.heard <= changes[0] < server.heard + 0.05 * RATE and set(server.frames[: changes[0]]) == {1}
    assert server.end == settled + wanted == output._written and (np.diff(changes) == 1).all()
    assert output.settled() - output.heard() > 1.2 * first  # more is left as it is than at first


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


def test_a_clock_that_runs_before_anything_was_taken_is_not_believed(monkeypatch):
    """A sink that was idle takes the first frames late, and the stream's clock goes on by itself meanwhile."""
    server = SlowServer()
    monkeypatch.setattr(pulse, "_library", server.functions)
    output = ServerOutput(None, RATE)
    output.write(np.ones((output.wanted(), 2), np.float32))
    server.time = lambda _, found: setattr(found._obj, "value", 440_000) or 0
    monkeypatch.setattr(output, "_do", server.functions())
    assert output.heard() < 0
    server.heard = RATE // 10
    assert 0 < output.heard() <= RATE // 10 + RATE // 50
    server.heard = RATE
    assert output.heard() == round(0.44 * RATE)


class Written:
    """An outlet that keeps what it is given."""

    def __init__(self):
        self.lines = []

    def start(self, title, seconds, second, tick):
        self.lines.append(("start", round(second, 2)))

    def send(self, message):
        self.lines.append((message.address, round(message.second, 3)))

    def silence(self):
        self.lines.append(("silence",))

    def end(self, second):
        self.lines.append(("end", round(second, 2)))

    def close(self):
        pass


def test_on_a_sink_that_was_idle_each_note_is_told_once(sink, qtbot):
    outlet = Written()
    player = Player()
    assert player.wait_until_ready() and player.has_device
    thread = EmitterThread(lambda: player.heard, [Emitter(outlet)])
    thread.start()
    with qtbot.waitSignal(player.finished, timeout=15_000):
        player.play(Playing(read("tempo: 240\nC4 D4 E4 F4").song))
    thread.stop()
    player.close()
    notes = [line for line in outlet.lines if line[0] == "/chickadee/note"]
    assert notes == [("/chickadee/note", second) for second in (0.0, 0.25, 0.5, 0.75)]
    assert outlet.lines[0] == ("start", 0.0) and ("end", 1.0) in outlet.lines

"""The engine at rest: it does nothing, and is there again with the next message."""

from __future__ import annotations

from multiprocessing import Pipe

import pytest

from chickadee.player import engine as module
from chickadee.player import messages
from chickadee.player.engine import Engine
from chickadee.player.output import SilentOutput
from chickadee.player.status import StatusBlock
from chickadee.sound.render import DEFAULT_RATE
from chickadee.sound.score import Strike


@pytest.fixture
def engine(qapp, monkeypatch):
    """An engine in this process, on the silent clock, and the window's end of its connection."""
    monkeypatch.setattr(Engine, "_follow_device", lambda self: None)
    ours, its = Pipe()
    engine = Engine(its, StatusBlock())
    yield engine, ours
    engine._timer.stop()
    engine._looking.stop()
    engine._notifier.setEnabled(False)
    for end in (ours, its):
        end.close()


def test_an_engine_rests_after_silence_and_goes_on_with_the_next_message(qtbot, engine, monkeypatch):
    engine, window = engine
    monkeypatch.setattr(module, "_REST_SECONDS", 0.05)
    qtbot.wait(100)
    engine._look()
    assert not engine._timer.isActive()
    before = engine._notes.performance.frames
    qtbot.wait(150)
    assert engine._notes.performance.frames == before
    window.send(messages.NoteOn("x", "square", Strike(69, 440.0, 0.8), 0.05))
    qtbot.waitUntil(engine._timer.isActive)
    qtbot.waitUntil(lambda: engine._notes.performance.frames > before + DEFAULT_RATE // 50)
    made = engine._notes.performance.frames - before
    assert made < 2 * DEFAULT_RATE  # what was not heard at rest is not made up for
    assert not engine._notes.performance.idle or made > DEFAULT_RATE // 20


def test_an_engine_that_sounds_does_not_rest(qtbot, engine, monkeypatch):
    engine, window = engine
    monkeypatch.setattr(module, "_REST_SECONDS", 0.05)
    window.send(messages.NoteOn("x", "organ pipe", Strike(69, 440.0, 0.8), None))
    qtbot.waitUntil(lambda: not engine._notes.performance.idle)
    qtbot.wait(150)
    engine._look()
    assert engine._timer.isActive()


def test_a_device_that_goes_while_the_engine_rests_is_left(qtbot, engine, monkeypatch):
    class Gone(SilentOutput):
        def failed(self):
            return True

    engine, window = engine
    monkeypatch.setattr(module, "_REST_SECONDS", 0.05)
    qtbot.wait(100)
    engine._look()
    assert not engine._timer.isActive()
    engine._song.output = Gone(DEFAULT_RATE)
    engine._song.output.device = "a device"
    engine._told = "a device"
    engine._look()
    assert engine._song.device is None
    told = [window.recv() for _ in iter(window.poll, False)]
    assert messages.Output(None) in told


def test_a_sound_server_that_comes_back_is_found_at_rest(qtbot, engine, monkeypatch):
    engine, _ = engine
    monkeypatch.setattr(module, "_REST_SECONDS", 0.05)
    left = []
    monkeypatch.setattr(engine._server, "came_back", lambda: True)
    monkeypatch.setattr(module.QCoreApplication, "exit", left.append)
    qtbot.wait(100)
    engine._look()
    assert not engine._timer.isActive() and left == [module._RESTART]


def test_the_silent_clock_stands_still_at_rest(monkeypatch):
    now = [100.0]
    monkeypatch.setattr("chickadee.player.output.time.monotonic", lambda: now[0])
    output = SilentOutput(1000)
    now[0] += 1
    output.write([0] * output.wanted())
    heard = output.heard()
    output.rest()
    now[0] += 60
    output.wake()
    assert output.heard() - heard <= 12 and output.wanted() <= 12
    now[0] += 1
    assert 990 <= output.wanted() <= 1012

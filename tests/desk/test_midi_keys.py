"""MIDI instruments: plugged in and unplugged, and which voice they play."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from chickadee.desk.keyboard.panel import WRITE
from chickadee.desk.keyboard.ports import MidiKeys, SimulatedPort
from chickadee.desk.keyboard.routes import RoutesDialog
from chickadee.signals.routes import Route, read_routes, voice_for

ROUTES = st.builds(Route, st.sampled_from(["A", "Low reeds", "B 2"]), st.none() | st.integers(1, 16),
                   st.integers(0, 60), st.integers(60, 127))  # fmt: skip


class Plugs:
    """Instruments that are plugged in and out."""

    def __init__(self):
        self.names = []
        self.ports = {}

    def open(self, name):
        self.ports[name] = SimulatedPort(name)
        return self.ports[name]


@pytest.fixture
def plugs(desk):
    plugs = Plugs()
    plugs.keys = MidiKeys(desk.held_keys, desk, lambda: plugs.names, plugs.open)
    yield plugs
    plugs.names = []
    plugs.keys.look_for_ports()


@pytest.fixture
def struck(desk, monkeypatch):
    found = []
    monkeypatch.setattr(desk.player, "strike", lambda name, sound, number, *_: found.append((sound, number)))
    return found


def test_what_is_plugged_in_plays_and_what_is_unplugged_lets_go_and_may_come_back(desk, plugs, struck):
    plugs.names = ["Reed keys"]
    plugs.keys.look_for_ports()
    plugs.ports["Reed keys"].send(bytes([0x90, 60, 80]))
    plugs.ports["Reed keys"].send(bytes([0xB0, 64, 127]))
    plugs.ports["Reed keys"].send(bytes([0x80, 60, 0]))
    plugs.names = ["Reed keys", "Pads"]
    plugs.keys.look_for_ports()
    plugs.ports["Pads"].send(bytes([0x90, 72, 80]))
    assert desk.held_keys.lit == {60, 72}
    old = plugs.ports["Reed keys"]
    plugs.names = ["Pads"]
    plugs.keys.look_for_ports()
    assert desk.held_keys.lit == {72}
    plugs.names = ["Pads", "Reed keys"]
    plugs.keys.look_for_ports()
    assert plugs.ports["Reed keys"] is not old
    plugs.ports["Reed keys"].send(bytes([0x90, 64, 80]))
    plugs.ports["Reed keys"].send(bytes([0x80, 64, 0]))  # its pedal is up again
    assert desk.held_keys.lit == {72}
    plugs.ports["Pads"].send(bytes([0xB0, 123, 0]))
    assert desk.held_keys.lit == set()


def test_channels_and_ranges_play_and_write_their_voices(qtbot, desk, plugs, struck):
    text = "voice High\n  sound: flute\n  C5 |\nvoice Low\n  sound: wood bars\n  C3 |\n"
    desk.document.text_document.setPlainText(text)
    plugs.names = ["Reed keys"]
    plugs.keys.look_for_ports()
    plugs.keys.routes = (Route("Low", 2), Route("Low", None, 0, 59), Route("Gone", None, 100))
    port = plugs.ports["Reed keys"]
    desk.selection.choose_note(0)
    for channel, number in ((0, 72), (0, 48), (1, 72), (0, 101)):
        port.send(bytes([0x90 | channel, number, 80]))
        port.send(bytes([0x80 | channel, number, 0]))
    assert struck == [("flute", 72), ("wood bars", 48), ("wood bars", 72), ("flute", 101)]
    desk.keyboard.use_for(WRITE)
    port.send(bytes([0x90, 48, 80]))
    port.send(bytes([0x80, 48, 0]))
    voices = {desk.document.reading.song.voices[note.voice].name for note in desk.document.reading.song.notes
              if note.number == 48}  # fmt: skip
    assert voices >= {"Low"} and [note.number for note in desk.document.reading.song.notes if note.voice == 0] == [72]


def test_the_dialog_asks_by_voice_and_what_it_is_told_is_remembered(qtbot, desk, monkeypatch):
    desk.document.text_document.setPlainText("voice High\n  range: D5 to C7\n  D5\nvoice Low\n  C3\n")
    desk.midi_routes.use((Route("Elsewhere", 3, 1, 2),))

    def fill():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, RoutesDialog)
        (high, channel, low_end, high_end), (low, other, *_) = dialog.rows
        assert (high, low) == ("High", "Low") and low_end.value() == 74 and not low_end.isEnabled()
        channel.setCurrentIndex(3)  # channel 2
        assert low_end.isEnabled() and low_end.text() == "D5 74"
        high_end.lineEdit().selectAll()
        QTest.keyClicks(high_end.lineEdit(), "A5")
        other.setCurrentIndex(1)
        dialog.accept()

    QTimer.singleShot(200, fill)
    desk.actions_by_id["keys.routes"].trigger()
    assert desk.midi_keys.routes == (Route("High", 2, 74, 81), Route("Low"), Route("Elsewhere", 3, 1, 2))
    assert read_routes(desk.settings.words("midi-routes", [])) == desk.midi_keys.routes
    desk.midi_routes.use(())


@given(st.lists(ROUTES, max_size=5), st.integers(1, 16), st.integers(0, 127))
def test_routes_are_written_and_read_and_the_first_that_takes_a_key_plays_it(routes, channel, number):
    assert read_routes([route.text for route in routes]) == tuple(routes)
    assert read_routes(["", "x 1 2 A", "17 0 1 A", "1 5 4 A", "1 0 200 A", "any 0 5"]) == ()
    voice = voice_for(routes, channel, number)
    taking = [r for r in routes if (r.channel is None or r.channel == channel) and r.low <= number <= r.high]
    assert voice == (taking[0].voice if taking else None)

"""Signals and marks in the window: switched on, told while it plays, and ended; marks walked to and played."""

from __future__ import annotations

import socket

import pytest
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from chickadee.desk.signals import SignalsDialog, Wish
from chickadee.signals.receiving import lines_of

TUNE = "title: Gate\nmeter: 3/4\ntempo: 480\nvoice A\n  G4 B4 A4 | [mark gate opens] E4=2 D4 | [mark bell] G4=3 |\n"


@pytest.fixture
def listener():
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as found:
        found.bind(("127.0.0.1", 0))
        found.setblocking(False)
        yield found


@pytest.fixture
def gate(desk, tmp_path):
    (tmp_path / "gate.chick").write_text(TUNE)
    desk.files.open_path(tmp_path / "gate.chick")
    yield desk
    desk.signals.send_to(Wish())
    desk.player.stop()
    desk.document.begin("")


def received(listener):
    found = []
    while True:
        try:
            found += lines_of(listener.recv(4096))
        except BlockingIOError:
            return found


def test_nothing_is_told_until_it_is_asked_for_and_then_all(qtbot, gate, listener):
    address = f"127.0.0.1:{listener.getsockname()[1]}"
    gate.playback.play_all()
    qtbot.waitUntil(lambda: not gate.player.playing, timeout=10_000)
    assert received(listener) == []

    def fill():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, SignalsDialog) and not dialog.osc.isChecked()
        QTest.keyClick(dialog.osc, Qt.Key.Key_Space)
        dialog.address.setText(address)
        dialog.accept()

    QTimer.singleShot(200, fill)
    gate.actions_by_id["signals"].trigger()
    gate.playback.play_all()
    qtbot.waitUntil(lambda: not gate.player.playing, timeout=10_000)
    lines = []
    qtbot.waitUntil(lambda: lines.extend(received(listener)) or "/end" in "".join(lines[-1:]), timeout=5_000)
    assert lines[0].startswith("/chickadee/start Gate") and lines[-1].startswith("/chickadee/end")
    assert [line.split()[2] for line in lines if "/note" in line] == ["67", "71", "69", "64", "62", "67"]
    assert [line.split()[2] for line in lines if "/off" in line] == ["67", "71", "69", "64", "62", "67"]
    assert sum("/mark gate opens" in line for line in lines) == 1


def test_stopping_in_the_middle_lets_go_what_sounds(qtbot, gate, listener):
    gate.signals.send_to(Wish(osc=True, address=f"127.0.0.1:{listener.getsockname()[1]}"))
    gate.playback.play_all()
    found = []
    qtbot.waitUntil(
        lambda: found.extend(received(listener)) or any("/note" in line for line in found), timeout=10_000
    )
    gate.player.stop()
    qtbot.waitUntil(lambda: found.extend(received(listener)) or found[-1].startswith("/chickadee/end"), timeout=3000)
    assert sum("/note" in line for line in found) == sum("/off" in line for line in found)


def test_an_address_that_is_none_is_said_and_the_place_is_remembered(gate):
    gate.signals.send_to(Wish(osc=True, address="nowhere"))
    assert "HOST:PORT" in gate.notice.text
    gate.signals.send_to(Wish(address="127.0.0.1:9777", osc_delay=40))
    assert gate.settings.words("signals", [])[:2] == ["127.0.0.1:9777", "40"]


def test_marks_are_walked_to_and_played_between(qtbot, gate):
    assert gate.document.reading.song.marks[0][1] == "gate opens"
    gate.actions_by_id["mark.on"].trigger()
    assert gate.document.reading.song.notes[gate.selection.notes[0]].pitch.text == "E4"
    gate.actions_by_id["mark.on"].trigger()
    assert gate.document.reading.song.notes[gate.selection.notes[0]].pitch.text == "G4"
    gate.actions_by_id["mark.back"].trigger()
    assert gate.document.reading.song.notes[gate.selection.notes[0]].pitch.text == "E4"
    gate.actions_by_id["play.marks"].trigger()
    (first, _), (second, _) = gate.document.reading.song.marks
    assert (gate.playback.wanted.start, gate.playback.wanted.end) == (first, second)

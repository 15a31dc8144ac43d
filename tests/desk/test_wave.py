"""Looking at sound: waves, spectra, and where a frequency comes from."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from chickadee.display.wave import NoteWave, formula, octaves
from chickadee.song.drums import DRUM_SOUND
from chickadee.song.sounds import SOUNDS

CLICK = Qt.MouseButton.LeftButton


@pytest.fixture
def panel(desk):
    desk.working.turn_to("wave")
    yield desk.panel("wave")
    desk.panel("wave").stop()
    desk.working.turn_to("findings")


@pytest.mark.parametrize("sound", [name for name in SOUNDS if name != DRUM_SOUND])
def test_waves_begin_on_a_rising_crossing_and_spectra_peak_at_harmonics(sound):
    wave = NoteWave(sound, 69)
    shown = wave.wave(3 / wave.hertz)
    assert np.abs(shown).max() == pytest.approx(1)
    assert abs(shown[0]) < 0.2
    frequencies, levels = wave.spectrum()
    strongest = frequencies[levels.argmax()]
    assert levels.max() == 0
    assert min(abs(strongest / wave.hertz - ratio) for ratio in (*range(1, 9), 2.32)) < 0.02


def test_an_octave_is_twice_the_frequency_in_picture_and_number():
    low = NoteWave("sine", 57)
    high = NoteWave("sine", 69)
    span = 4 / high.hertz

    def crossings(wave):
        shown = wave.wave(span, 4000)
        return int(np.sum((shown[:-1] <= 0) & (shown[1:] > 0)))

    assert (crossings(low), crossings(high)) == (2, 4)
    assert octaves(61)[0] == (1, pytest.approx(8.6620, abs=1e-4))
    assert all(after[1] == 2 * before[1] for before, after in zip(octaves(61), octaves(61)[1:], strict=False))
    assert formula(81, 442) == "442 Hz × 2^((81 − 69) / 12) = 442 Hz × 2.00000 = 884.00 Hz"


def test_the_panel_follows_the_chosen_note_and_its_sound(qtbot, desk, panel, monkeypatch):
    desk.editor.insertPlainText("voice A\n sound: organ pipe\n C4 A4")
    desk.selection.choose_note(1)
    assert panel.worked == formula(69)
    assert panel.sound.currentText() == "organ pipe"
    heard = []
    monkeypatch.setattr(desk.audition, "play", lambda sound, numbers, *tuning: heard.append((sound, list(numbers))))
    panel.beside.setCurrentText("its fifth")
    QApplication.processEvents()  # what was typed is heard
    heard.clear()
    qtbot.mouseClick(panel.hear, CLICK)
    assert heard == [("organ pipe", [69, 76])]
    desk.selection.choose_note(0)
    assert "261.63 Hz" in panel.worked


def test_the_sweep_marks_what_ears_cannot_hear_and_can_be_stopped(qtbot, desk, panel, monkeypatch):
    heard = []
    monkeypatch.setattr(desk.audition, "play", lambda sound, numbers: heard.append(numbers[0]))
    qtbot.mouseClick(panel.sweep, CLICK)
    qtbot.waitUntil(lambda: panel.swept >= 2, timeout=20_000)
    assert "too low to be heard" in panel.worked
    assert heard[:3] == [0, 1, 2]
    qtbot.mouseClick(panel.sweep, CLICK)
    assert panel.swept == -1
    assert "heard" not in panel.worked

"""The microphone in the window: what is sung in the transport bar, and somebody recorded who plays along."""

from __future__ import annotations

import numpy as np
import pytest
import soundfile

from chickadee.desk.recording.singing import _free_path
from chickadee.files import FileFault
from chickadee.hearing.tuner import Now, Tuner
from chickadee.sound.growing_file import GrowingFile
from chickadee.theory.frequency import frequency
from null_sink import NullSink

RATE = 48_000
HEARD = pytest.mark.skipif(not NullSink.available, reason="PulseAudio is not installed")


def tone(hertz, seconds, loud=0.3):
    return (loud * np.sin(2 * np.pi * hertz * np.arange(round(seconds * RATE)) / RATE)).astype(np.float32)


@pytest.fixture(scope="module")
def sink():
    sink = NullSink()
    sink.start()
    with pytest.MonkeyPatch.context() as patch:
        for name, value in sink.environment.items():
            patch.setenv(name, value)
        yield sink
    sink.close()


@pytest.fixture
def singing(desk, tmp_path):
    (tmp_path / "gull.chick").write_text("title: Gull\ntempo: 120\nmeter: 3/4\nvoice A\n  A4 A4 A4 | A4=3 | A4=3 |\n")
    desk.files.open_path(tmp_path / "gull.chick")
    desk.working.turn_to("recording")
    panel = desk.panel("recording")
    yield panel.singing
    panel.singing.show_now(False)
    desk.player.stop()
    panel.stop_work()
    panel.heard = panel.path = panel._kept = None
    desk.working.turn_to("findings")
    desk.document.begin("")


@HEARD
def test_the_note_now_stands_in_the_strip_and_a_part_is_recorded_and_laid_under_the_tune(
    qtbot, desk, singing, sink, tmp_path
):
    desk.actions_by_id["recording.microphone"].trigger()  # nothing is plugged in yet
    assert "No microphone was found" in desk.notice.text and not singing.listen.isChecked()
    sink.load_microphone()
    qtbot.waitUntil(singing.microphone.start, timeout=30_000)
    desk.actions_by_id["recording.microphone"].trigger()
    sink.play(tone(443, 60))
    qtbot.waitUntil(lambda: desk.transport_bar.readout.text.startswith("A4 +12 cents 44"), timeout=30_000)
    assert singing.level.value() == pytest.approx(-13, abs=3) and singing.level.isVisible()
    desk.selection.choose_note(3)  # in bar 2
    singing.record.click()
    assert singing.record.text() == "Stop recording"
    qtbot.waitUntil(lambda: len(singing._offsets) > 20, timeout=30_000)
    singing.record.click()
    path = tmp_path / "gull-sung-1.wav"
    panel = desk.panel("recording")
    qtbot.waitUntil(lambda: panel.path == path and panel.heard is not None, timeout=30_000)
    assert [note.number for note in panel.heard.notes] == [69] and not desk.player.playing
    assert panel.first.value() == pytest.approx(0.0, abs=0.5)  # a bar was counted in for bar 2
    desk.actions_by_id["recording.microphone"].trigger()
    assert "cents" not in desk.transport_bar.readout.text and not singing.microphone.on


def test_a_tune_without_a_file_is_saved_first(desk, singing):
    desk.document.begin("C4")
    singing.record.click()
    assert "Save the tune first" in desk.notice.text and not singing.microphone.on


def test_recordings_get_names_of_their_own_and_are_whole_at_every_moment(tmp_path):
    tune = tmp_path / "gull.chick"
    assert _free_path(tune).name == "gull-sung-1.wav"
    file = GrowingFile(_free_path(tune), RATE)
    assert _free_path(tune).name == "gull-sung-2.wav"
    for _ in range(5):
        file.write(tone(440, 0.5))
    found, rate = soundfile.read(file.path)  # it goes on
    assert rate == RATE and len(found) >= 1.5 * RATE
    file.write(np.array([2.0, -2.0], np.float32))
    file.close()
    found, _ = soundfile.read(file.path)
    assert len(found) == 2.5 * RATE + 2 and found[-2:] == pytest.approx([1, -1], abs=1e-4)
    assert np.abs(found[: RATE // 2] - tone(440, 0.5)).max() < 1e-4
    with pytest.raises(FileFault):
        GrowingFile(file.path, RATE)  # nothing is written over
    with pytest.raises(FileFault):
        GrowingFile(tmp_path / "nowhere" / "x.wav", RATE)


@pytest.mark.parametrize("number", [41, 60, 69, 84])
def test_the_tuner_says_the_note_and_its_cents_to_one(number):
    tuner = Tuner(RATE, 442)
    off = 17
    samples = tone(frequency(number + off / 100, 442), 0.6)
    now = [tuner.of(samples[place : place + 2000]) for place in range(0, len(samples), 2000)]
    assert now[-1].number == number and abs(now[-1].cents - off) < 1
    quiet = [tuner.of(np.zeros(2000, np.float32)) for _ in range(20)]
    noise = np.random.default_rng(3).normal(0, 0.1, RATE // 2).astype(np.float32)
    noisy = [tuner.of(noise[place : place + 2000]) for place in range(0, len(noise), 2000)]
    assert quiet[-1] is None and sum(isinstance(each, Now) for each in noisy) <= 1 and tuner.level > -25


@pytest.fixture
def made_up(singing, monkeypatch):
    """A microphone that gives what the test gives it."""
    microphone = singing.microphone
    monkeypatch.setattr(type(microphone), "start", lambda self: self.__dict__.update(_source=object()) or True)
    monkeypatch.setattr(type(microphone), "stop", lambda self: self.__dict__.update(_source=None))
    return microphone


def test_a_recording_of_nothing_is_kept_and_said(qtbot, desk, singing, made_up, tmp_path):
    singing.record.click()
    assert made_up.on and (tmp_path / "gull-sung-1.wav").exists()
    singing.record.click()
    qtbot.waitUntil(lambda: "Nothing came from the microphone" in desk.notice.text, timeout=10_000)
    assert not made_up.on and singing.record.text() == "Record this part"


def test_a_full_disk_ends_the_recording_and_keeps_what_there_is(qtbot, desk, singing, made_up, tmp_path, monkeypatch):
    singing.record.click()
    made_up.came.emit(tone(440, 0.5))
    path = tmp_path / "gull-sung-1.wav"

    def full(file, samples):
        raise FileFault(path, "the disk is full")

    monkeypatch.setattr(GrowingFile, "write", full)
    made_up.came.emit(tone(440, 0.5))
    assert "the disk is full" in desk.notice.text
    qtbot.waitUntil(lambda: not desk.player.playing and singing.record.text() == "Record this part", timeout=10_000)
    assert len(soundfile.read(path)[0]) == RATE // 2 and not made_up.on
    made_up.came.emit(tone(440, 0.5))  # what still comes is nobody's
    assert len(soundfile.read(path)[0]) == RATE // 2


def test_a_microphone_that_is_pulled_out_is_said_and_its_recording_kept(qtbot, desk, singing, made_up, tmp_path):
    singing.listen.click()
    made_up.came.emit(tone(440, 1.0))
    assert desk.transport_bar.readout.text.startswith("A4 0 cents 440")
    singing.record.click()
    made_up.came.emit(tone(440, 1.0))
    made_up.stop()
    made_up.ended.emit()
    assert "The microphone is gone" in desk.notice.text and not singing.listen.isChecked()
    qtbot.waitUntil(lambda: singing.record.text() == "Record this part", timeout=10_000)
    assert len(soundfile.read(tmp_path / "gull-sung-1.wav")[0]) == RATE
    assert "cents" not in desk.transport_bar.readout.text

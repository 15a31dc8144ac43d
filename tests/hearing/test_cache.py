"""The wave at a glance, and what was heard, kept on disk."""

from __future__ import annotations

import os

import numpy as np
import pytest
import soundfile
from hypothesis import given
from hypothesis import strategies as st

from chickadee.files import FileFault
from chickadee.hearing import cache as keeping
from chickadee.hearing.listening import listen
from chickadee.hearing.overview import Overview, power_of

RATE = 22_050


@pytest.fixture
def tone(tmp_path):
    samples = 0.5 * np.sin(2 * np.pi * 440 * np.arange(3 * RATE) / RATE)
    samples[: RATE // 2] = samples[2 * RATE :] = 0
    soundfile.write(tmp_path / "tone.wav", np.stack([samples] * 2, axis=1), RATE)
    return tmp_path / "tone.wav"


def test_the_wave_is_as_long_and_as_loud_as_the_file(tone):
    overview = Overview(np.concatenate(list(power_of(tone))))
    assert len(overview.power) == pytest.approx(3 / 0.005, abs=1)
    assert overview.usual == pytest.approx(0.5 / 2**0.5, rel=0.05)
    levels = overview.levels(np.array([-1, 0, 0.4, 0.6, 1.9, 2.1, 9, 10]))
    assert levels[[0, 1, 5, 6]] == pytest.approx([0, 0, 0, 0], abs=0.08) and levels[3] == pytest.approx(1, abs=0.05)


@given(st.lists(st.floats(0, 1), min_size=1, max_size=50), st.lists(st.floats(-1, 2), min_size=2, max_size=30))
def test_levels_are_parts_of_the_loudest_wherever_they_are_asked_for(power, edges):
    levels = Overview(np.array(power, np.float32)).levels(np.sort(edges))
    assert len(levels) == len(edges) - 1 and (levels >= 0).all() and (levels <= 1.0001).all()


def test_what_was_heard_is_kept_until_the_file_changes(tone):
    assert keeping.kept(tone, 440) is None
    heard = listen(tone)
    keeping.keep(tone, 440, heard)
    found = keeping.kept(tone, 440)
    assert found.notes == heard.notes and len(heard.notes) == 1 and found.seconds == heard.seconds
    assert np.array_equal(found.hertz, heard.hertz) and np.array_equal(found.power, heard.power)
    assert keeping.kept(tone, 442) is None
    os.utime(tone, (1, 1))
    assert keeping.kept(tone, 440) is None


def test_little_is_kept_and_what_is_broken_or_cannot_be_written_costs_nothing(tone, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    heard = listen(tone)
    for tuning in range(430, 440):
        keeping.keep(tone, tuning, heard)
    (folder,) = (tmp_path / "cache").rglob("heard")
    size = max(file.stat().st_size for file in folder.iterdir())
    monkeypatch.setattr(keeping, "_MOST_BYTES", 3 * size)
    keeping.keep(tone, 440, heard)
    assert len(list(folder.iterdir())) == 3 and keeping.kept(tone, 440) is not None
    for file in folder.iterdir():
        file.write_bytes(b"PK\x03\x04" + b"x" * 50)
    assert keeping.kept(tone, 440) is None
    monkeypatch.setenv("XDG_CACHE_HOME", str(tone))  # a file where a folder should be
    keeping.keep(tone, 440, heard)
    assert keeping.kept(tone, 440) is None


def test_what_is_no_sound_is_said(tmp_path):
    (tmp_path / "notes.wav").write_text("C4 D4")
    with pytest.raises(FileFault, match="no sound file"):
        list(power_of(tmp_path / "notes.wav"))

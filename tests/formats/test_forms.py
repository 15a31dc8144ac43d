"""The table of forms: whatever is written is read again, and every list of suffixes comes from it."""

from __future__ import annotations

import pytest

import chickadee
from chickadee.files import FileFault
from chickadee.formats.forms import FORMS, SOUND_SUFFIXES, TUNE_SUFFIXES, WRITTEN, form_of, is_a_sheet
from chickadee.sound.audio_file import AudioSettings, write_audio

TUNE = chickadee.read("title: Mill\ntempo: 100\nmeter: 3/4\nC4 E4 G4 | C5=3 |")


@pytest.mark.parametrize("suffix", [suffix for suffix, form in WRITTEN.items() if form.reads_as])
def test_every_form_that_is_written_is_read_as_that_form_whatever_its_name(tmp_path, suffix):
    path = tmp_path / f"tune{suffix}"
    chickadee.write(TUNE, path)
    path = path.rename(tmp_path / "named-otherwise.bin")
    again = chickadee.open(path)
    assert [note[:4] for note in again.song.notes] == [note[:4] for note in TUNE.song.notes]
    assert again.song.meter == TUNE.song.meter
    assert chickadee.open(path, form=form_of(f"x{suffix}").reads_as.value).song.notes == again.song.notes


@pytest.mark.parametrize("suffix", [suffix for suffix in SOUND_SUFFIXES if suffix in WRITTEN])
def test_every_sound_of_the_table_that_is_exported_can_be_written(tmp_path, suffix):
    write_audio(tmp_path / f"tune{suffix}", TUNE.song, AudioSettings(rate=48_000))
    with pytest.raises(FileFault):
        chickadee.open(tmp_path / f"tune{suffix}")


def test_a_page_that_plays_is_only_written(tmp_path):
    chickadee.write(TUNE, tmp_path / "tune.html")
    assert "<title>Mill</title>" in (tmp_path / "tune.html").read_text("utf-8")
    with pytest.raises(FileFault):
        chickadee.open(tmp_path / "tune.html")
    with pytest.raises(FileFault, match="at least one note"):
        chickadee.write(chickadee.read("rest"), tmp_path / "empty.html")
    assert not (tmp_path / "empty.html").exists()


def test_sound_of_telephones_and_videos_is_only_read(tmp_path):
    for suffix in (".m4a", ".mp4"):
        assert suffix in SOUND_SUFFIXES and suffix not in WRITTEN
        with pytest.raises(FileFault):
            chickadee.write(TUNE, tmp_path / f"tune{suffix}")


def test_suffixes_belong_to_one_form_each_and_capitals_make_no_difference():
    every = [suffix for form in FORMS for suffix in form.suffixes]
    assert len(every) == len(set(every)) and set(every) == {*TUNE_SUFFIXES, *SOUND_SUFFIXES, ".html"}
    assert all(suffix == suffix.lower() and suffix.startswith(".") for suffix in every)
    assert form_of("A.MXL") is form_of("a.mxl") and form_of("a.exe") is None
    assert is_a_sheet("Tune.CHICK") and not is_a_sheet("tune.mid")

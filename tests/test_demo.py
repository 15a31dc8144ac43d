"""The Lake Orrin tunes and the documentation's examples."""

from __future__ import annotations

import re
from importlib.resources import files
from itertools import pairwise
from pathlib import Path

import pytest

from chickadee import read
from chickadee.demo import demo_folder
from chickadee.sheet.tidy import tidy
from chickadee.song.sounds import SOUNDS

TUNES = {
    tune.name: tune.read_text("utf-8") for tune in files("chickadee.songs").iterdir() if tune.name.endswith(".chick")
}
ROOT = Path(__file__).parent.parent


def test_six_landings_have_their_call():
    titles = {read(text).song.title for text in TUNES.values()}
    assert titles == {"Orrin Quay", "Gull Point landing", "Mill Reach", "Reed Island", "Night Boat", "Fogbank Round"}
    assert sum(len(read(text).song.voices) >= 2 for text in TUNES.values()) >= 2


@pytest.mark.parametrize("name", TUNES)
def test_a_demo_tune_is_whole_and_singable(name):
    reading = read(TUNES[name])
    assert reading.findings == ()
    song = reading.song
    assert 8 <= song.grid.number_at(song.end - 1) <= 24
    melody = [note.number for note in song.notes if note.voice == 0]
    assert max(melody) - min(melody) <= 19
    assert max(abs(a - b) for a, b in pairwise(melody)) <= 12
    assert len({voice.end for voice in song.voices}) == 1
    assert {voice.sound for voice in song.voices} <= set(SOUNDS)


def test_the_demo_folder_keeps_what_the_user_changed(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    folder = demo_folder()
    assert sorted(path.name for path in folder.iterdir()) == sorted(["classes", "ferry-talk.dialect.toml", *TUNES])
    assert len(list((folder / "classes").glob("*/*"))) == 47
    (folder / "gull-point.chick").write_text("C4")
    (folder / "mill-reach.chick").unlink()
    assert (demo_folder() / "gull-point.chick").read_text() == "C4"
    assert (folder / "mill-reach.chick").exists()


@pytest.mark.parametrize("page", ["README.md", "docs/sheet.md", "docs/card.md"])
def test_every_example_of_the_documentation_reads_without_a_finding(page):
    blocks = re.findall(r"(?:^    \S.*\n(?:^    .*\n|^\n(?=    ))*)+", (ROOT / page).read_text("utf-8"), re.MULTILINE)
    sheets = [re.sub(r"^    ", "", block, flags=re.MULTILINE) for block in blocks]
    sheets = [sheet for sheet in sheets if not re.match(r"chickadee|make|import", sheet)]
    assert len(sheets) >= {"docs/sheet.md": 7}.get(page, 1)
    for sheet in sheets:
        reading = read(sheet)
        assert [(finding.message, sheet[finding.start : finding.end]) for finding in reading.findings] == []
        assert reading.song.notes


def test_every_sign_in_the_reference_s_tables_is_understood():
    page = (ROOT / "docs" / "sheet.md").read_text("utf-8").partition("## Phrases")[0]
    signs = [
        sign for row in re.findall(r"^\| (.+?) \|", page, re.MULTILINE) for sign in re.findall(r"`([^`]+)`", row)
    ]
    assert len(signs) > 30
    for sign in signs:
        body = f"C4{sign}" if sign[0] == "=" else sign
        sound = "drum kit" if sign in ("kick", "snare", "hat") else "flute"
        assert read(f"voice V\nsound: {sound}\nC4 {body}").findings == (), sign


@pytest.mark.parametrize("name", TUNES)
def test_the_demo_tunes_are_tidy(name):
    assert tidy(TUNES[name]) == TUNES[name]

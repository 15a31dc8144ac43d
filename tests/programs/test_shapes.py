"""A program's tune keeps the program's shape; corrections are kept."""

from __future__ import annotations

import pytest

from chickadee.formats.arranging import arranged
from chickadee.incoming import read as read_any
from chickadee.programs.corrections import Correction, Corrections, CorrectionsFault, corrections_in, keep
from chickadee.programs.reading import read
from chickadee.programs.vocabulary import Verb
from chickadee.sheet import read as read_sheet

SHAPES = {
    "for i in range(3):\n    play(60, 1)\n    play(62, 1)\n": "(C4 D4) x3",
    "for i in range(2):\n    for j in range(3):\n        play(60, 1)\n    rest(1)\n": "(C4 x3 rest) x2",
    "def call(up=0):\n    play(60 + up, 1)\n    play(64 + up, 1)\ncall()\ncall(up=2)\ncall()\n": "call call up 2 call",
    "def call():\n    play(60, 1)\ndef tune():\n    call()\n    call()\ntune()\nrest(1)\ntune()\n": "tune rest tune",
    "for n in [60, 62, 64]:\n    play(n, 1)\n": None,  # nothing comes again
    "def tick():\n    play(60, 1)\n    rest(1/2)\ntick()\nplay([60, 64], 2)\n": "tick C4&E4=2",
}


@pytest.mark.parametrize("text", SHAPES)
def test_an_imported_program_keeps_its_repeats_and_parts(text):
    found = read(text, "x.py")
    sheet = arranged(found).text
    assert SHAPES[text] is None or sheet.rstrip().endswith(f"voice Melody\n  {SHAPES[text]}")
    sounds = [(note.start, note.length, note.number) for note in read_sheet(sheet).song.notes]
    assert sounds == [(note.start, note.length, note.number) for note in found.song.notes]


def test_without_phrases_every_note_stands_where_it_sounds():
    found = read("for i in range(3):\n    play(60, 1)\n    play(62, 1)\n", "x.py")
    assert "x3" not in arranged(found, phrases=False).text


USES = {
    "tempo = 92\nfor n in [60, 62]:\n    play(n, 1)\nrest(1)\n": (1, 0, 1, 5),
    "tune = [[60, 1], [62, 1], [64]]\nfor n, *b in tune:\n    play(n)\n": (1, 0, 1, 3),
    "one = [60]\nplay(one[0], 1)\n": (0, 0, 0, 1),
    "def a():\n    play(60)\ndef b():\n    a()\n    a()\nb()\n": (0, 2, 0, 6),
    "def play(n):\n    print(n)\nplay(60)\n[play(n) for n in (60, 62)]\n": (1, 0, 1, 4),
}


@pytest.mark.parametrize("text", USES)
def test_what_a_program_uses_is_counted(text):
    uses = read(text, "x.py").program.uses
    assert (uses.repeats, uses.parts, uses.lists, uses.steps) == USES[text]


def test_a_correction_serves_the_whole_folder(tmp_path):
    for name in ("one", "two"):
        (tmp_path / f"{name}.py").write_text("pling(60, 2)\nhush(1)\npling(62, 1)\n")
    known = Corrections().with_call("pling", Correction(Verb.STRIKE, holds=False, unit="beats"))
    keep(tmp_path, known)
    assert corrections_in(tmp_path) == known
    for name in ("one", "two"):
        assert [note.start for note in read_any(tmp_path / f"{name}.py").song.notes] == [0, 8_064_000]
    assert corrections_in(tmp_path / "elsewhere").calls == {}


def test_corrections_of_any_name_are_read_back_or_refused_before_they_are_written(tmp_path):
    odd = Corrections().with_call('a"b\\', Correction(is_nothing=True))
    keep(tmp_path, odd)
    assert corrections_in(tmp_path) == odd
    with pytest.raises(CorrectionsFault):
        keep(tmp_path, odd.with_call("p" * 100, Correction(Verb.STRIKE)))
    assert corrections_in(tmp_path) == odd


@pytest.mark.parametrize(
    "text",
    ["[calls.play]\nis = 'loud'\n", "[calls.play]\nunit = 3\n", "calls = 3\n", "[other]\n", "[calls.play]\nx = 1\n"],
)
def test_a_file_of_corrections_that_cannot_be_is_refused(tmp_path, text):
    (tmp_path / "programs.toml").write_text(text)
    with pytest.raises(CorrectionsFault):
        corrections_in(tmp_path)

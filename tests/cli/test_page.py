"""``chickadee render`` to a page that plays: what stands on it, and what is refused."""

from __future__ import annotations

import re
import time

import pytest

FOUR = "tempo: 120\n" + "\n".join(
    f"voice {name}\n  sound: {sound}\n  {' '.join(f'{low + step}' for step in (0, 4, 7, 5, 9, 12, 11, 2) * 30)}"
    for name, sound, low in (
        ("A", "flute", 67),
        ("B", "reed pipe", 60),
        ("C", "plucked string", 55),
        ("D", "flute", 48),
    )
)


def page(run, tune, goal, *words):
    status, out, err = run("render", tune, "-o", goal, *words)
    assert (status, out, err) == (0, "", "")
    return goal.read_text("utf-8")


def test_each_note_says_when_it_sounds_and_what_it_is(run, tune, tmp_path):
    text = page(run, tune("title: Reed\ntempo: 60\nC4 E4=2 rest G4"), tmp_path / "reed.html")
    notes = re.findall(
        r'class="note[^>]*data-start="([\d.]+)" data-length="([\d.]+)" data-number="(\d+)" data-voice="0"', text
    )
    assert [tuple(map(float, note)) for note in notes] == [(0, 1, 60), (1, 2, 64), (4, 1, 67)]
    assert 'id="play"' in text and '<input id="speed" type="number"' in text and "<title>Reed</title>" in text
    assert "default-src 'none'" in text and "connect-src" not in text


def test_what_stands_on_it_is_chosen(run, tune, tmp_path):
    path = tune("C4 E4 G4 C5")
    usual = page(run, path, tmp_path / "usual.html")
    assert 'id="keys"' in usual and 'class="staff"' not in usual and 'class="gap' not in usual
    bare = page(run, path, tmp_path / "bare.html", "--show", "none")
    assert 'id="keys"' not in bare
    full = page(run, path, tmp_path / "full.html", "--show", "staff, program", "--empty", "every-2", "--bars", "1-1")
    assert 'class="staff"' in full and 'class="program"' in full and full.count("data-answer=") == 4
    assert "play C4 for 1" in full


def test_four_voices_of_two_minutes_are_less_than_a_megabyte(run, tune, tmp_path):
    begun = time.process_time()
    text = page(run, tune(FOUR), tmp_path / "four.html")
    assert len(text.encode()) < 1_000_000
    assert time.process_time() - begun < 20  # a bound against the square of the length; the bench has the seconds


@pytest.mark.parametrize(
    ("sheet", "words", "said"),
    [("rest", (), "at least one note"), ("tempo: 10\n" + "C4=400 | " * 1, (), "minutes at most"),
     ("C4", ("--show", "fireworks"), "fireworks"), ("C4", ("--empty", "some"), "some")],
)  # fmt: skip
def test_what_cannot_be_a_page_is_said_in_a_sentence(run, tune, tmp_path, sheet, words, said):
    goal = tmp_path / "page.html"
    status, out, err = run("render", tune(sheet), "-o", goal, *words)
    assert (status, out) == (2, "") and said in err and len(err.splitlines()) == 1
    assert not goal.exists()


def test_a_page_is_no_tune(run, tune, tmp_path):
    goal = tmp_path / "page.html"
    page(run, tune("C4"), goal)
    status, _, err = run("check", goal)
    assert status == 2 and "web page" in err
    status, _, err = run("render", tune("C4"), "-o", goal)
    assert status == 2 and "--force" in err

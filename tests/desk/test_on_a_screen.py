"""The program as it is started and used, on an X server: nothing here knows what is inside."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

from chickadee.sheet import read
from screen import Screen

CONTROL = "Control_L"


@pytest.fixture(scope="module")
def screen():
    screen = Screen()
    yield screen
    screen.close()


@pytest.fixture
def start(screen, tmp_path):
    """Start the program with some arguments, remembering things in a folder of the test's own."""
    homes = {f"XDG_{name}_HOME": str(tmp_path / "home") for name in ("STATE", "CONFIG", "DATA")}
    environment = os.environ | homes | {"DISPLAY": screen.name, "QT_QPA_PLATFORM": "xcb"}
    started = []

    def begin(*arguments):
        started.append(subprocess.Popen([sys.executable, "-m", "chickadee", *map(str, arguments)], env=environment))
        return started[-1]

    yield begin
    for program in started:
        program.kill()
        program.wait()


def test_what_is_typed_while_the_window_opens_is_in_the_sheet(screen, start, tune):
    path = tune("G4 A4\n", "quay.chick")
    program = start(path)
    window = screen.window("quay.chick — Chickadee")
    screen.type(window, "C4 D4=2 | F#4 ")  # the desk comes later
    screen.press(window, "s", CONTROL)
    screen.wait(lambda: path.read_text() == "C4 D4=2 | F#4 G4 A4\n")
    screen.press(window, "q", CONTROL)
    assert program.wait(60) == 0


def test_a_window_closed_while_it_opens_goes_and_changes_nothing(screen, start, tune):
    path = tune("G4 A4\n", "quay.chick")
    program = start(path)
    screen.ask_to_close(screen.window("quay.chick — Chickadee"))
    assert program.wait(60) == 0
    assert path.read_text() == "G4 A4\n"


def test_closing_asks_about_changes_and_a_question_can_be_left(screen, start, tune):
    path = tune("G4\n", "reed.chick")
    program = start(path)
    window = screen.window("reed.chick — Chickadee")
    screen.type(window, "C4 ")
    assert screen.window("reed.chick* — Chickadee") == window
    screen.ask_to_close(window)
    question = screen.window("Chickadee")
    screen.press(question, "Escape")
    screen.wait(lambda: not screen.has("Chickadee"))
    screen.type(window, "D4 ")
    screen.ask_to_close(window)
    screen.press(screen.window("Chickadee"), "Return")  # saving is what the key means
    assert program.wait(60) == 0
    assert path.read_text() == "C4 D4 G4\n"


def test_notes_copied_in_one_window_are_pasted_in_another(screen, start, tune):
    one, other = tune("C4 E4=2 G4\n", "one.chick"), tune("", "other.chick")
    start(one)
    from_here = screen.window("one.chick — Chickadee")
    screen.press(from_here, "a", CONTROL)
    screen.press(from_here, "c", CONTROL)
    start(other)
    to_there = screen.window("other.chick — Chickadee")
    screen.press(to_there, "v", CONTROL)
    screen.window("other.chick* — Chickadee")
    screen.press(to_there, "s", CONTROL)
    screen.wait(lambda: other.read_text().startswith("C4 E4=2 G4"))


def test_notes_are_drawn_and_dragged_with_the_mouse(screen, start, tune):
    path = tune("", "drawn.chick")
    start(path)
    window = screen.window("drawn.chick — Chickadee")

    def changed() -> list[int]:
        screen.window("drawn.chick* — Chickadee")
        screen.press(window, "s", CONTROL)
        screen.window("drawn.chick — Chickadee")
        return [note.number for note in read(path.read_text()).song.notes]

    screen.type(window, "\n")
    assert changed() == []  # the desk is there
    screen.double_click(275, 200)
    (low,) = changed()
    screen.double_click(275 + 46, 200)
    assert changed() == [low, low]
    screen.drag((275 + 46, 200), (275 + 46, 190), (275 + 46, 174))  # a lane is 13 pixels
    assert changed() == [low, low + 2]


def test_the_window_comes_back_as_large_as_it_was_left(screen, start):
    for before, after in (((1280, 800), (1100, 750)), ((1100, 750), (1390, 890))):
        program = start()
        window = screen.window("New tune — Chickadee")
        assert screen.size(window) == before
        screen.resize(window, *after)
        screen.wait(lambda: screen.size(window) == after)  # noqa: B023 - asked at once
        screen.press(window, "q", CONTROL)
        assert program.wait(60) == 0


def test_a_tune_is_written_with_the_keys_of_the_computer_and_escape_ends_it(screen, start, tune):
    path = tune("", "keys.chick")
    program = start(path)
    window = screen.window("keys.chick — Chickadee")
    screen.press(window, "F6")  # computer keys play
    screen.type(window, "ad")  # only heard
    screen.drag((264, 690))  # Write
    screen.type(window, "a")
    screen.window("keys.chick* — Chickadee")
    screen.type(window, "d g")
    screen.press(window, "Escape")
    screen.drag((600, 620))  # into the sheet, behind its text
    screen.type(window, " C6")
    screen.press(window, "s", CONTROL)
    screen.press(window, "q", CONTROL)
    assert program.wait(60) == 0
    assert [note.number for note in read(path.read_text()).song.notes] == [60, 64, 67, 84]

"""The program as it is started and used, on an X server: nothing here knows what is inside."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time

import pytest
import soundfile

from chickadee.desk.theme import DAY, EVENING
from chickadee.sheet import read
from screen import Screen

CONTROL = "Control_L"
NOTHING = "#000000"


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

    def begin(*arguments, errors=None):
        command = [sys.executable, "-m", "chickadee", *map(str, arguments)]
        started.append(subprocess.Popen(command, env=environment, stderr=errors))
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
    one = tune("C4 E4=2 G4\n", "one.chick")
    other = tune("", "other.chick")
    start(one)
    from_here = screen.window("one.chick — Chickadee")
    screen.press(from_here, "a", CONTROL)
    screen.press(from_here, "c", CONTROL)
    screen.press(from_here, "End")
    screen.type(from_here, "\n")
    screen.window("one.chick* — Chickadee")  # it has copied by now
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
    screen.type(window, "\n")
    screen.window("keys.chick* — Chickadee")  # the desk is there
    screen.press(window, "F6")  # computer keys play
    screen.type(window, "ad")  # only heard
    screen.drag((264, 690))  # Write
    screen.type(window, "ad g")
    screen.press(window, "Escape")
    screen.drag((600, 620))  # into the sheet, behind its text
    screen.type(window, " C6")
    screen.press(window, "s", CONTROL)
    screen.press(window, "q", CONTROL)
    assert program.wait(60) == 0
    assert [note.number for note in read(path.read_text()).song.notes] == [60, 64, 67, 84]


def test_a_desk_that_was_killed_gives_its_tune_back_to_the_next(screen, start, tune):
    path = tune("G4\n", "lost.chick")
    program = start(path)
    window = screen.window("lost.chick — Chickadee")
    screen.type(window, "C4 D4 ")
    screen.window("lost.chick* — Chickadee")
    copies = path.parent / "home"
    screen.wait(lambda: any(b"C4 D4 G4" in each.read_bytes() for each in copies.rglob("*") if each.is_file()))
    program.kill()
    program.wait()
    screen.wait(lambda: not screen.has("lost.chick* — Chickadee"))
    assert path.read_text() == "G4\n"
    program = start()
    window = screen.window("New tune — Chickadee")
    screen.press(window, "Return", CONTROL)  # what is offered
    screen.press(screen.window("Two versions of lost.chick"), "Return")
    window = screen.window("lost.chick* — Chickadee")
    screen.press(window, "s", CONTROL)
    screen.wait(lambda: path.read_text() == "C4 D4 G4\n")


def test_the_evening_is_remembered_and_the_first_picture_is_dark(screen, start):
    for evening in (False, True, False):
        program = start()
        window = screen.window("New tune — Chickadee")
        paper = (EVENING if evening else DAY).paper.lower()
        screen.wait(lambda: screen.colour(window, 10, 5) != NOTHING)  # noqa: B023 - asked at once
        assert screen.colour(window, 10, 5) == paper  # the desk is not yet there
        screen.press(window, "F7")
        screen.press(window, "q", CONTROL)
        assert program.wait(60) == 0


def test_a_tune_is_exported_by_keys_alone(screen, start, tune, tmp_path):
    path = tune("tempo: 120\nC4 E4 G4\n", "out.chick")
    start(path)
    window = screen.window("out.chick — Chickadee")
    for letter, title, suffix in (("m", "Export a MIDI file", "mid"), ("e", "Export", "wav")):
        screen.press(window, letter, CONTROL)
        asked = screen.window(title)
        if suffix == "wav":
            screen.press(asked, "Return")  # as it is offered
            asked = screen.window("Export sound")
        screen.press(asked, "a", CONTROL)
        screen.type(asked, f"{tmp_path}/heard.{suffix}")
        screen.press(asked, "Return")
        screen.wait(lambda: (tmp_path / f"heard.{suffix}").exists())  # noqa: B023 - asked at once
    assert (tmp_path / "heard.mid").read_bytes().startswith(b"MThd")
    assert soundfile.info(tmp_path / "heard.wav").duration > 1.5


def test_a_file_changed_elsewhere_is_compared_and_one_version_chosen(screen, start, tune):
    path = tune("C4\n", "both.chick")
    start(path)
    window = screen.window("both.chick — Chickadee")
    screen.type(window, "D4 ")
    screen.window("both.chick* — Chickadee")
    path.write_text("A5\n")
    screen.press(window, "s", CONTROL)
    versions = screen.window("Two versions of both.chick")
    assert path.read_text() == "A5\n"
    screen.press(versions, "Escape")
    screen.wait(lambda: not screen.has("Two versions of both.chick"))
    screen.press(window, "s", CONTROL)
    screen.press(screen.window("Two versions of both.chick"), "Return")  # the one here
    screen.wait(lambda: path.read_text() == "D4 C4\n")


def test_a_slip_is_found_and_mended_and_words_replaced_by_keys_alone(screen, start, tune):
    path = tune("H4 C4 | C4 C4 C4 C4 |\n", "slip.chick")
    start(path)
    window = screen.window("slip.chick — Chickadee")
    screen.press(window, "F8")
    screen.press(window, "F2")
    screen.wait(lambda: screen.has("Chickadee"))
    screen.press(screen.window("Chickadee"), "Down")
    screen.press(screen.window("Chickadee"), "Return")
    screen.window("slip.chick* — Chickadee")
    screen.press(window, "f", CONTROL)
    screen.type(window, "C4")
    screen.press(window, "Tab")
    screen.type(window, "E4\n\n\n")
    screen.press(window, "Escape")
    screen.press(window, "s", CONTROL)
    screen.wait(lambda: path.read_text().count("E4") == 2)
    assert path.read_text().startswith("B4 ")


@pytest.mark.parametrize("seconds", [0.05, 0.2, 0.4, 2])
def test_an_interrupt_from_the_terminal_closes_the_desk_at_any_time(screen, start, tune, seconds):
    program = start(tune("C4\n", "end.chick"), errors=subprocess.PIPE)
    screen.window("end.chick — Chickadee")
    time.sleep(seconds)
    program.send_signal(signal.SIGINT)
    assert program.wait(60) in (0, -signal.SIGINT)  # killed only while there is nothing but the window
    assert b"Traceback" not in program.stderr.read()


def test_an_interrupt_does_not_lose_what_is_not_saved(screen, start, tune):
    path = tune("C4\n", "end.chick")
    program = start(path)
    screen.type(screen.window("end.chick — Chickadee"), "D4 ")
    screen.window("end.chick* — Chickadee")
    program.send_signal(signal.SIGINT)
    screen.press(screen.window("Chickadee"), "Return")  # it asks, and saving is what the key means
    assert program.wait(60) == 0
    assert path.read_text() == "D4 C4\n"

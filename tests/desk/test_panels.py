"""Panels: what one has to say of itself, the sizes it takes, and what is remembered of it."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from chickadee.desk.working.spec import PanelGroup, PanelSize

MADE_UP = Path(__file__).with_name("made_up_panel.py")
LEFT = Qt.MouseButton.LeftButton


def test_a_new_panel_is_one_class_and_has_all_that_panels_have():
    source = MADE_UP.read_text("utf-8")
    panel = source[source.index("# The panel\n") : source.index("# The desk")]
    assert len(panel.splitlines()) < 40
    done = subprocess.run([sys.executable, str(MADE_UP)], capture_output=True, text=True, timeout=60)
    assert done.returncode == 0, done.stderr
    assert done.stdout.splitlines() == [
        "seen True 1", "fed 3 of 3", "size beside True True True", "size across False True True", "size over False False False",
        "look True", "kept True beside True",
    ]  # fmt: skip


NOT_AT_START = (
    "comparison", "boards", "ideas", "handout", "incoming", "outgoing", "attempts", "reshape", "sound.render", "sound.mix",
    "formats.musicxml", "formats.smf", "signals.emitter", "desk.export", "desk.export_dialog", "desk.checks_dialog",
    "desk.class_work", "desk.keycard", "desk.reference", "desk.field_form",
    *(f"desk.{panel}.panel" for panel in ("facts", "compare", "voices", "transpose", "wave", "send", "handout", "ideas",
                                          "recording", "found")),
)  # fmt: skip


def test_starting_loads_nothing_that_is_not_seen_yet(tmp_path):
    code = f"""
import sys
from chickadee.desk.app import application, destroy, furnish, shown_window
app = application()
window = shown_window()
desk = furnish(window)
desk.document.begin("C4 D4 E4")
loaded = [name for name in {NOT_AT_START!r} if "chickadee." + name in sys.modules]
print(loaded, sorted({{"soundfile", "scipy", "openpyxl", "defusedxml", "pythonosc", "click"}} & set(sys.modules)))
assert list(desk.working.made) == ["findings"]
desk.player.close()
destroy(window)
"""
    env = os.environ | {"XDG_CONFIG_HOME": str(tmp_path)}  # no panel is remembered from another test
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60, env=env)
    assert (done.returncode, done.stdout.strip()) == (0, "[] []"), done.stderr


def test_each_group_is_one_click_away_and_goes_back_to_its_last_panel(qtbot, desk):
    buttons = desk.working._groups._buttons
    assert list(buttons) == [
        PanelGroup.CHECK,
        PanelGroup.SHAPE,
        PanelGroup.SEND,
        PanelGroup.MAKE,
    ]  # those that have panels, in the order of the job
    desk.actions_by_id["panel.wave"].trigger()
    qtbot.mouseClick(buttons[PanelGroup.CHECK], LEFT)
    assert desk.working.spec.id == "findings"
    qtbot.mouseClick(buttons[PanelGroup.SHAPE], LEFT)
    assert desk.working.spec.id == "wave"


def settled(places):
    """Where things are once the layout, which takes several turns, no longer moves them."""
    turns = [places()]
    while len(turns) < 10 or turns[-1] != turns[-10]:
        QApplication.processEvents()
        turns.append(places())
    return turns[-1]


@pytest.mark.parametrize("name", ["findings", "facts", "voices", "transpose", "wave"])
def test_each_panel_remembers_its_own_size_and_what_it_covered_comes_back_as_it_was(desk, name):
    desk.document.begin("C4 D4 E4")

    def places():
        return [view.geometry() for view in (desk.timeline, desk.shelf, desk.keyboard, desk.editor, desk.notice)]

    before = settled(places)
    desk.working.turn_to(name)
    for size in (PanelSize.ACROSS, PanelSize.OVER):
        desk.working.set_size(size)
        QApplication.processEvents()
        assert desk.working.isVisible() and not desk.editor.isVisible()
        assert desk.timeline.isVisible() == (size is PanelSize.ACROSS)
        assert f"{name}={size.value}" in desk.settings.words("panel sizes", [])
        others = [each for each in desk.working.specs if each != name]
        desk.working.turn_to(others[0])
        assert settled(places) == before
        desk.working.turn_to(name)
        assert desk.working.size_taken is size


def test_a_finding_that_is_gone_to_shows_the_sheet(qtbot, desk):
    desk.document.begin("C4 H4 | D4")
    desk.working.set_size(PanelSize.OVER)
    QApplication.processEvents()
    qtbot.keyClick(desk.panel("findings").cards[0], Qt.Key.Key_Return)
    assert desk.editor.isVisible() and desk.editor.hasFocus() and desk.editor.textCursor().selectedText() == "H4"


def test_under_a_panel_that_covers_the_sheet_keys_go_to_what_is_seen(qtbot, desk):
    desk.document.begin("C4 D4")
    desk.editor.setFocus()
    desk.working.set_size(PanelSize.ACROSS)
    assert desk.timeline.hasFocus()
    desk.actions_by_id["find.open"].trigger()
    assert desk.find_bar.find_field.hasFocus() and desk.editor.isVisible()


def test_a_handle_stays_where_the_user_puts_it_through_every_change(qtbot, desk):
    handle = desk.arrangement._right.handle(1)
    middle = handle.rect().center()
    QTest.mousePress(handle, LEFT, pos=middle)
    QTest.mouseMove(handle, middle + QPoint(0, -60))
    QTest.mouseRelease(handle, LEFT, pos=middle + QPoint(0, -60))
    QApplication.processEvents()
    put = desk.timeline.height()
    for name in ("look.evening", "look.evening", "look.projector", "look.projector"):
        desk.actions_by_id[name].trigger()
    desk.working.set_size(PanelSize.OVER)
    desk.working.set_size(PanelSize.BESIDE)
    desk.window().resize(1100, 700)
    QApplication.processEvents()
    desk.window().resize(1280, 800)
    qtbot.waitUntil(lambda: abs(desk.timeline.height() - put) <= 2)
    desk.arrangement._timeline_part[1.0] = 0.63


def test_with_little_room_the_panels_of_a_group_are_one_button_with_a_menu(qtbot, desk):
    desk.working.turn_to("transpose")
    desk.working.set_size(PanelSize.ACROSS)
    QApplication.processEvents()
    names = desk.working._names
    assert not names._several.isVisible() and all(button.isVisible() for button in names._buttons)
    names.resize(80, names.height())
    assert names._several.isVisible() and names._several.text() == "Transpose ▾"
    qtbot.mouseClick(names._several, LEFT)
    menu = QApplication.activePopupWidget()
    next(action for action in menu.actions() if action.text() == "Wave").trigger()
    menu.close()
    assert desk.working.spec.id == "wave"
    desk.working.turn_to("transpose")
    desk.working.set_size(PanelSize.BESIDE)

"""The real window, for tests that drive it.

One window serves all tests, as one serves a user: PyQt now and then crashes when a process builds windows anew
after others were torn down.
"""

from __future__ import annotations

from fractions import Fraction

import pytest
from PyQt6.QtCore import Qt

from chickadee.desk.app import application, destroy, furnish, shown_window
from chickadee.desk.keyboard.panel import JUST_PLAY
from chickadee.desk.theme import DAY, Look
from chickadee.desk.timeline.rows import ROWS, USUAL_ROWS


@pytest.fixture(scope="session")
def qapp_cls():
    return type(application())


@pytest.fixture(scope="session")
def only_desk(qapp):
    window = shown_window()
    desk = furnish(window)
    yield desk
    desk.player.close()
    desk.keeping.close()
    destroy(window)


@pytest.fixture
def desk(qtbot, tmp_path, only_desk):
    """A desk in a shown window, with an empty tune, whose shelf is an empty folder, as if just opened."""
    desk, window, action = only_desk, only_desk.window(), only_desk.actions_by_text
    for name, on in (
        ("Evening theme", False),
        ("Projector", False),
        ("Shelf", True),
        ("Keyboard", True),
        ("Hear notes as they are typed", True),
        ("Round and round", False),
        ("Click on each beat", False),
        ("Count a bar in", False),
        ("Small room", False),
    ):
        action[name].setChecked(on)
    for title in ROWS:
        action[f"Row: {title}"].setChecked(title in USUAL_ROWS)
    desk.change_rows()
    if desk.look != Look(DAY):
        desk.apply_look()
    desk.toggle_shelf()
    desk.toggle_keyboard()
    desk.keyboard.play_on_keys(False)
    desk.keyboard.use_for(JUST_PLAY)
    desk.keyboard.octave = 4
    desk.timeline.set_grid(Fraction(1))
    window.setWindowState(Qt.WindowState.WindowNoState)
    window.resize(1280, 800)
    desk.strip.speed.setValue(100)
    desk.strip.level.setValue(50)
    desk.listening.wish(round=False, click=False, count_in=False)
    desk.find_bar.find_field.clear()
    desk.find_bar.replace_field.clear()
    desk.filing.folder = tmp_path
    desk.shelf.show_folder(tmp_path)
    desk.document.new()
    desk.notice.clear(offers=True)
    desk.timeline.zoom_to_usual()
    window.show()
    window.activateWindow()
    qtbot.waitExposed(window)
    yield desk
    desk.player.stop()
    desk.player.silence()
    desk.filing.wait()
    desk.find_bar.put_away()
    for patched, name in ((desk.taster, "play"), (desk.editor, "hasFocus")):
        vars(patched).pop(name, None)

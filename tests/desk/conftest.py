"""The real window, for tests that drive it.

One window serves all tests, as one serves a user: PyQt now and then crashes when a process builds windows anew
after others were torn down.
"""

from __future__ import annotations

from fractions import Fraction

import pytest
from PyQt6.QtCore import Qt

from chickadee.desk.app import application, destroy
from chickadee.desk.keyboard.panel import JUST_PLAY
from chickadee.desk.theme import DAY, Look
from chickadee.desk.timeline.rows import ROWS, USUAL_ROWS
from chickadee.desk.window import DeskWindow


@pytest.fixture(scope="session")
def qapp_cls():
    return type(application())


@pytest.fixture(scope="session")
def only_window(qapp):
    window = DeskWindow()
    yield window
    window.player.close()
    window.keeping.close()
    destroy(window)


@pytest.fixture
def desk(qtbot, tmp_path, only_window):
    """A shown desk with an empty tune, whose shelf is an empty folder, as if just opened."""
    window, action = only_window, only_window.actions_by_text
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
    window.change_rows()
    if window.look != Look(DAY):
        window.apply_look()
    window.toggle_shelf()
    window.toggle_keyboard()
    window.keyboard.play_on_keys(False)
    window.keyboard.use_for(JUST_PLAY)
    window.keyboard.octave = 4
    window.timeline.set_grid(Fraction(1))
    window.setWindowState(Qt.WindowState.WindowNoState)
    window.resize(1280, 800)
    window.strip.speed.setValue(100)
    window.strip.level.setValue(50)
    window.listening.wish(round=False, click=False, count_in=False)
    window.find_bar.find_field.clear()
    window.find_bar.replace_field.clear()
    window.filing.folder = tmp_path
    window.shelf.show_folder(tmp_path)
    window.document.new()
    window.notice.hide()
    window.timeline.zoom_to_usual()
    window.show()
    window.activateWindow()
    qtbot.waitExposed(window)
    yield window
    window.player.stop()
    window.player.silence()
    window.filing.wait()
    window.find_bar.put_away()
    for patched, name in ((window.taster, "play"), (window.editor, "hasFocus")):
        vars(patched).pop(name, None)

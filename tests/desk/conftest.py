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
from chickadee.desk.working.spec import PanelSize
from chickadee.display.rows import ROWS, STAFF_TITLE, USUAL_ROWS


@pytest.fixture(scope="session")
def qapp_cls():
    return type(application())


@pytest.fixture(scope="session")
def only_desk(qapp):
    window = shown_window()
    desk = furnish(window)
    yield desk
    desk.player.close()
    desk.stop_work()
    desk.recovery.close()
    destroy(window)


@pytest.fixture
def desk(qtbot, tmp_path, only_desk):
    """A desk in a shown window, with an empty tune, whose shelf is an empty folder, as if just opened."""
    desk = only_desk
    window = only_desk.window()
    action = only_desk.actions_by_id
    for name, on in (
        ("look.evening", False),
        ("look.projector", False),
        ("shelf.show", True),
        ("keyboard.show", True),
        ("play.typed", True),
        ("play.round", False),
        ("play.click", False),
        ("play.count-in", False),
        ("play.room", False),
    ):
        action[name].setChecked(on)
    for title in (STAFF_TITLE, *ROWS):
        action[f"row.{title.lower().replace(' ', '-')}"].setChecked(title in USUAL_ROWS)
    _reset_panels(desk.working)
    desk.working.turn_to("findings")
    desk.keyboard.play_on_keys(False)
    desk.keyboard.use_for(JUST_PLAY)
    desk.keyboard.octave = 4
    desk.timeline.set_grid(Fraction(1))
    window.setWindowState(Qt.WindowState.WindowNoState)
    window.resize(1280, 800)
    desk.transport_bar.speed.setValue(100)
    desk.transport_bar.level.setValue(50)
    desk.find_bar.find_field.clear()
    desk.find_bar.replace_field.clear()
    desk.files.folder = tmp_path
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
    desk.exports.wait()
    desk.find_bar.put_away()
    for patched, name in ((desk.audition, "play"), (desk.editor, "hasFocus")):
        vars(patched).pop(name, None)


def _reset_panels(working):
    """Have each panel beside the sheet when it is next shown, and each group with its last one in front."""
    working._sizes = dict.fromkeys(working.specs, PanelSize.BESIDE)
    latest = {spec.group: name for name, spec in working.specs.items()}
    for group, name in latest.items():
        if working._latest.get(group) != name:
            working.turn_to(name)
    working.set_size(PanelSize.BESIDE)

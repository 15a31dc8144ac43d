"""The real window, for tests that drive it."""

from __future__ import annotations

import gc

import pytest

from chickadee.desk.app import application, destroy
from chickadee.desk.window import DeskWindow


@pytest.fixture(scope="session")
def qapp_cls():
    return type(application())


@pytest.fixture
def desk(qtbot, tmp_path):
    """A shown desk whose shelf is an empty folder; it is taken down at the end without being asked about changes."""
    window = DeskWindow(tmp_path)
    window.resize(1280, 800)
    window.show()
    qtbot.waitExposed(window)
    yield window
    window.player.stop()
    window.taster.stop()
    window.filing.wait()
    destroy(window)
    del window
    gc.collect()

"""The real window, for tests that drive it."""

from __future__ import annotations

import pytest

from chickadee.desk.app import application
from chickadee.desk.window import DeskWindow


@pytest.fixture(scope="session")
def qapp_cls():
    return type(application())


@pytest.fixture
def desk(qtbot, tmp_path):
    """A shown desk whose shelf is an empty folder; it never asks about unsaved changes at the end."""
    window = DeskWindow(tmp_path)
    window.resize(1280, 800)
    qtbot.addWidget(window, before_close_func=lambda window: window.document.new())
    window.show()
    qtbot.waitExposed(window)
    return window

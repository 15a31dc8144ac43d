"""Pages written to files by a command."""

from __future__ import annotations

import os
from pathlib import Path

from ..handout.shapes import Page
from .interruption import held_signals

__all__ = ["write_pages_of"]


def write_pages_of(path: Path, pages: list[Page], title: str) -> None:
    """Draw the pages; no display is needed."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PyQt6.QtGui import QGuiApplication

    from ..desk.handout.files import write_pages

    app = QGuiApplication.instance() or QGuiApplication(["chickadee"])
    with held_signals() as held:
        write_pages(path, pages, title, lambda done: not held.number)
        del app

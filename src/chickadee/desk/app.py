"""Starting the desk."""

from __future__ import annotations

import sys
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QCoreApplication, QEvent, QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from .window import DeskWindow

__all__ = ["application", "destroy", "picture", "run"]


def application() -> QApplication:
    """The application, made at the first call."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        return app
    QApplication.setApplicationName("Chickadee")
    QApplication.setDesktopFileName("chickadee")
    app = QApplication(sys.argv[:1])
    app.setStyle("Fusion")
    app.setWindowIcon(QIcon.fromTheme("chickadee"))
    return app


def run(file: Path | None = None, folder: Path | None = None) -> int:
    """Open the desk, on a tune or a folder where one is given, until it is closed."""
    app = application()
    window = DeskWindow(file if file and file.is_dir() else folder)
    sys.excepthook = lambda kind, fault, trace: _fault(window, kind, fault, trace)
    window.show()
    if file is None and folder is None:
        window.welcome()
    if file and not file.is_dir():
        QTimer.singleShot(0, lambda: window.open_path(file))
    status = app.exec()
    destroy(window)
    return status


def destroy(window: DeskWindow) -> None:
    """Take a window down now. Left to the interpreter's end, its parts would go while Qt still calls into them."""
    window.deleteLater()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def picture(file: Path, folder: Path, goal: Path) -> None:
    """Save a picture of the desk on a tune as a PNG file, without a screen."""
    app = application()
    window = DeskWindow(folder)
    window.resize(1280, 800)
    window.open_path(file)
    window.shelf.read_all()
    window.show()
    app.processEvents()
    window.grab().save(str(goal))
    destroy(window)


def _fault(window: DeskWindow, kind: type[BaseException], fault: BaseException, trace: TracebackType | None) -> None:
    """A fault of our own: the tune stays, and one sentence says what to do."""
    if issubclass(kind, KeyboardInterrupt):
        window.close()
        return
    place = trace
    while place is not None and place.tb_next is not None:
        place = place.tb_next
    where = f" ({kind.__name__} in {place.tb_frame.f_code.co_name})" if place else ""
    window.notice.say(f"Something went wrong inside Chickadee{where}. Your tune is still here; please save it.")

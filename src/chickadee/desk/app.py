"""Starting the desk."""

from __future__ import annotations

import gc
import os
import signal
import sys
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QCoreApplication, QEvent, QMessageLogContext, QtMsgType, qInstallMessageHandler
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from ..fault_log import log_file, logged
from ..files import is_folder
from .window import DeskWindow

if TYPE_CHECKING:
    from .desk import Desk

__all__ = ["application", "destroy", "furnish", "picture", "run", "shown_window"]


def application() -> QApplication:
    """The application, made at the first call."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        return app
    qInstallMessageHandler(_at_start)
    QApplication.setApplicationName("Chickadee")
    QApplication.setDesktopFileName("org.lake_orrin.Chickadee")
    app = QApplication([*sys.argv[:1], "-style", "fusion"])  # setStyle would have PyQt build all that QStyle has
    qInstallMessageHandler(None)
    app.setWindowIcon(QIcon.fromTheme("chickadee"))
    return app


def run(file: Path | None = None, folder: Path | None = None) -> int:
    """Open the desk, on a tune or a folder where one is given, until it is closed."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)  # there is nothing to lose yet
    app = application()
    window = shown_window(file)
    from .interrupt import Interrupt  # the window is seen first

    Interrupt(window)
    desk = furnish(window, file if file and is_folder(file) else folder)
    sys.excepthook = lambda kind, fault, trace: _fault(desk, kind, fault, trace)
    try:
        _begin(desk, file, folder)
    except Exception:
        sys.excepthook(*sys.exc_info())
    status = app.exec()
    destroy(window)
    return status


def shown_window(file: Path | None = None) -> DeskWindow:
    """The window, already on the screen, with nothing in it but a tune's name."""
    window = DeskWindow(file.name if file else "New tune")
    window.show_at_once()
    return window


def furnish(window: DeskWindow, folder: Path | None = None) -> Desk:
    """Lay a desk into a window, with a folder on the shelf where one is given."""
    gc.disable()  # nothing that is made now goes away; the desk sees to it afterwards
    from .desk import Desk  # and with it NumPy, the whole core and every view

    desk = Desk(folder)
    window.lay(desk)
    return desk


def _begin(desk: Desk, file: Path | None, folder: Path | None) -> None:
    """Open the tune that is named; where nothing is, the first time, one that explains itself."""
    if file and not is_folder(file):
        desk.files.open_path(file)
    elif file is None and folder is None:
        desk.files.welcome()


def destroy(window: DeskWindow) -> None:
    """Take a window down now. Left to the interpreter's end, its parts would go while Qt still calls into them."""
    window.deleteLater()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def picture(file: Path, folder: Path, goal: Path) -> None:
    """Save a picture of the desk on a tune as a PNG file, without a screen. Raises OSError."""
    app = application()
    window = DeskWindow(file.name)
    window.resize(1280, 800)
    desk = furnish(window, folder)
    desk.files.open_path(file)
    desk.shelf.read_all()
    window.show()
    app.processEvents()
    saved = window.grab().save(str(goal))
    destroy(window)
    if not saved:
        raise OSError(f"Qt could not write {goal}")


def _at_start(kind: QtMsgType, context: QMessageLogContext, message: str | None) -> None:
    """Handle Qt's messages before there is an application: where it can show no window it would abort the process."""
    if kind == QtMsgType.QtFatalMsg:
        display = os.environ.get("WAYLAND_DISPLAY") or os.environ.get("DISPLAY") or "none is named"
        print(f"chickadee: no window can be opened on the display ({display}); is it there?", file=sys.stderr)
        sys.stderr.flush()
        os._exit(2)


def _fault(desk: Desk, kind: type[BaseException], fault: BaseException, trace: TracebackType | None) -> None:
    """A fault of our own: the tune stays, and one sentence says what to do."""
    where = logged(fault.with_traceback(trace))
    desk.notice.say(
        f"Something went wrong inside Chickadee ({where}). Your tune is still here; please save it. "
        f"Where it came from is in {log_file()}."
    )

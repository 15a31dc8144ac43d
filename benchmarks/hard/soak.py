"""Random actions for many minutes: nothing fails, nothing stands still, and memory stays flat."""

from __future__ import annotations

import os
import random
import sys
import time
import traceback
from pathlib import Path
from types import TracebackType

from .figures import Figures

_SLOW = 2.0
_MEGABYTE = 1 << 20
_WARM_UP = 1 / 3  # of the time, in which caches fill
_MOST_GROWN = 20  # megabytes from then on
_TUNE_SECONDS = 40.0
_ACTIONS = (
    "Up a step", "Down a step", "Up a semitone", "Up an octave", "Longer", "Shorter", "Later", "Earlier", "Louder", "Softer",
    "Split", "Join", "Take out", "Take out and close up", "Choose the bar", "Choose the voice", "Choose this pitch everywhere",
    "Choose the same ink", "Next note", "Last note", "Next finding", "Comment or not", "Lines up", "Lines down", "Tidy",
    "Wider", "Narrower", "Higher lanes", "Lower lanes", "Usual size", "Show the whole tune", "Show what is chosen", "Findings",
    "Voices", "Facts", "Wave", "Transpose", "Evening theme", "Keyboard", "Shelf", "Select all", "Copy", "Cut", "Paste", "Undo", "Redo",
    "Row: Step", "Row: Words", "Row: Seconds", "Projector", "Play or stop",
)  # fmt: skip
_SIZES = ((1280, 800), (1280, 720), (1024, 700), (1920, 1080), (900, 500))
_LETTERS = "cdefgabr4|=x ()[]{}"


def _memory() -> float:
    """Megabytes of memory that this process holds."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / _MEGABYTE


def soak(minutes: float, seed: int, figures: Figures) -> None:
    """Do things for so many minutes."""
    from PyQt6.QtCore import QEvent, QPoint, Qt, QtMsgType, qInstallMessageHandler
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog, QMessageBox

    import chickadee
    from chickadee.desk.app import application, destroy, furnish, shown_window
    from chickadee.desk.reshaping.ways import WAYS

    app, window = application(), shown_window()
    desk = furnish(window)
    chance = random.Random(seed)
    warnings: list[str] = []

    def failed(kind: type[BaseException], fault: BaseException, trace: TracebackType | None) -> None:
        figures.fault(fault, desk.document.text)

    def warned(kind: QtMsgType, context: object, message: str | None) -> None:
        if "propagateSizeHints" not in (message or ""):
            places = [f"{Path(frame.filename).name}:{frame.lineno}" for frame in traceback.extract_stack()[-6:-1]]
            warnings.append(f"{message} ({' '.join(places)})")

    sys.excepthook = failed
    qInstallMessageHandler(warned)
    for dialog in (QDialog, QMessageBox):
        dialog.exec = lambda self: int(QMessageBox.StandardButton.Discard.value)  # type: ignore[method-assign]
    QFileDialog.getSaveFileName = lambda *_, **__: ("", "")  # type: ignore[method-assign]
    QInputDialog.getText = lambda *_, **__: ("", False)  # type: ignore[method-assign]
    songs = sorted((Path(chickadee.__file__).parent / "songs").glob("*.chick"))

    def act() -> str:
        kind = chance.random()
        if kind < 0.6:
            action = chance.choice(_ACTIONS)
            desk.actions_by_text[action].trigger()
            return action
        if kind < 0.75:
            return _click()
        if kind < 0.83:
            return _transpose()
        if kind < 0.86:
            window.resize(*chance.choice(_SIZES))
            return "another size"
        desk.editor.setFocus()
        typed = "".join(chance.choice(_LETTERS) for _ in range(chance.randrange(1, 6)))
        QTest.keyClicks(desk.editor, typed)
        QTest.keyClick(desk.editor, Qt.Key.Key_Escape)
        return f"typing {typed}"

    def _click() -> str:
        roll = desk.timeline.shown_geometry.roll
        if not roll.isEmpty():
            x, y = chance.randrange(roll.left(), roll.right() + 1), chance.randrange(roll.top(), roll.bottom() + 1)
            click = QTest.mouseDClick if chance.random() < 0.4 else QTest.mouseClick
            click(desk.timeline.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(x, y))
        return "a click"

    def _transpose() -> str:
        desk.working.turn_to("Transpose")
        desk.transpose.way.setCurrentIndex(chance.randrange(len(WAYS)))
        desk.transpose.what.setCurrentIndex(chance.randrange(desk.transpose.what.count()))
        desk.transpose.work_out()
        desk.transpose.apply.click()
        return desk.transpose.way.currentText()

    start = time.monotonic()
    end, opened, looked, memory = start + 60 * minutes, -1e9, 0.0, list[tuple[float, float]]()
    while (now := time.monotonic()) < end:
        if now - opened > _TUNE_SECONDS:  # as somebody who works through a shelf: each tune has an undo of its own
            desk.document.begin(chance.choice(songs).read_text("utf-8"))
            desk.choosing.choose_notes(list(range(min(3, len(desk.document.reading.song.notes)))))
            opened = now
        what = act()
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # an event loop would do that by itself
        figures.took("actions", time.monotonic() - now, _SLOW, f"{what}\n\n{desk.document.text}")
        if now - looked > 5:
            looked = now
            memory.append((now - start, _memory()))
    settled = [held for at, held in memory if at > 60 * minutes * _WARM_UP] or [0.0]
    third = max(1, len(settled) // 3)
    grown = sum(settled[-third:]) / third - sum(settled[:third]) / third
    figures.notes.append(f"  memory {settled[0]:.0f} MB a third of the way, {settled[-1]:.0f} MB at the end, "
                         f"{grown:+.1f} MB from the first third of that to the last")  # fmt: skip
    if grown > _MOST_GROWN:
        figures.fault(f"memory grew by {grown:.0f} MB")
    figures.notes.append(f"  {len(warnings)} warnings of Qt's")
    for warning in dict.fromkeys(warnings):
        figures.fault(f"Qt warns: {warning}")
    qInstallMessageHandler(None)
    desk.player.close()
    desk.keeping.close()
    destroy(window)
    del app

"""Random actions for many minutes: nothing fails, nothing stands still, and memory stays flat."""

from __future__ import annotations

import os
import random
import sys
import time
import traceback
from pathlib import Path
from statistics import mean
from typing import TYPE_CHECKING

from .figures import Figures

if TYPE_CHECKING:
    from chickadee.desk.desk import Desk

_SLOW = 2.0
_MEGABYTE = 1 << 20
_LINES = 16_000  # that fill the caches of the reader
_TOLD_EVERY = 1_000  # lines; on a busy machine all of them take longer than one input may
_MOST_GROWN = 10  # megabytes over the last two thirds of the time
_TUNE_SECONDS = 20.0
_ACTIONS = (
    "note.step-up", "note.step-down", "note.semitone-up", "note.octave-up", "note.longer", "note.shorter", "note.later", "note.earlier", "note.louder", "note.softer",
    "note.split", "note.join", "note.delete", "note.close-up", "select.bar", "select.voice", "select.pitch",
    "select.source", "step.on", "step.back", "findings.next", "sheet.comment", "sheet.up", "sheet.down", "sheet.tidy",
    "view.wider", "view.narrower", "view.higher", "view.lower", "view.usual", "view.all", "view.selection", "panel.findings",
    "panel.voices", "panel.facts", "panel.wave", "panel.transpose", "look.evening", "keyboard.show", "shelf.show", "sheet.select-all", "edit.copy", "edit.cut", "edit.paste", "edit.undo", "edit.redo",
    "row.step", "row.words", "row.seconds", "look.projector", "play.toggle", "panel.size",
)  # fmt: skip
_SIZES = ((1280, 800), (1280, 720), (1024, 700), (1920, 1080), (900, 500))
_LETTERS = "cdefgabr4|=x ()[]{}"


def _memory() -> float:
    """Megabytes of memory that this process holds once it is at rest: what is no longer used is given back, as the
    desk does by itself when nothing has been done for a while."""
    from chickadee import read
    from chickadee.desk.idle_collector import collect

    read("")  # the last two readings are kept
    read(" ")
    collect()
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / _MEGABYTE


class _Hands:
    """Somebody who does one thing after the other, at random."""

    def __init__(self, desk: Desk, seed: int) -> None:
        self._desk = desk
        self._chance = random.Random(seed)

    @property
    def text(self) -> str:
        """The sheet as it stands."""
        return self._desk.document.text

    def act(self) -> str:
        """Do one thing, and say what."""
        from PyQt6.QtCore import Qt
        from PyQt6.QtTest import QTest

        desk = self._desk
        chance = self._chance
        kind = self._chance.random()
        if kind < 0.6:
            action = chance.choice(_ACTIONS)
            desk.actions_by_id[action].trigger()
            return action
        if kind < 0.75:
            return self._click()
        if kind < 0.83:
            return self._transpose()
        if kind < 0.86:
            desk.window().resize(*chance.choice(_SIZES))
            return "another size"
        desk.editor.setFocus()
        typed = "".join(chance.choice(_LETTERS) for _ in range(chance.randrange(1, 6)))
        QTest.keyClicks(desk.editor, typed)
        QTest.keyClick(desk.editor, Qt.Key.Key_Escape)
        return f"typing {typed}"

    def open_a_tune(self, tunes: list[Path]) -> None:
        """Go on with another tune, some of its notes selected, in a window of the first size and look. Its undo is
        its own."""
        for name in ("look.evening", "look.projector"):
            self._desk.actions_by_id[name].setChecked(False)
        self._desk.window().resize(*_SIZES[0])
        self._desk.document.begin(self._chance.choice(tunes).read_text("utf-8"))
        self._desk.selection.choose_notes(list(range(min(3, len(self._desk.document.reading.song.notes)))))

    def _click(self) -> str:
        from PyQt6.QtCore import QPoint, Qt
        from PyQt6.QtTest import QTest

        roll = self._desk.timeline.shown_geometry.roll
        chance = self._chance
        if not roll.isEmpty():
            x, y = chance.randrange(roll.left(), roll.right() + 1), chance.randrange(roll.top(), roll.bottom() + 1)
            click = QTest.mouseDClick if chance.random() < 0.4 else QTest.mouseClick
            click(self._desk.timeline.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(x, y))
        return "a click"

    def _transpose(self) -> str:
        panel = self._desk.panel("transpose")
        chance = self._chance
        self._desk.working.turn_to("transpose")
        panel.way.setCurrentIndex(chance.randrange(panel.way.count()))
        panel.what.setCurrentIndex(chance.randrange(panel.what.count()))
        panel.work_out()
        panel.apply.click()
        return panel.way.currentText()


def _answer_every_dialog() -> None:
    """Dialogs would wait for somebody."""
    from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog, QMessageBox

    for dialog in (QDialog, QMessageBox):
        dialog.exec = lambda self: int(QMessageBox.StandardButton.Discard.value)  # type: ignore[method-assign]
    QFileDialog.getSaveFileName = lambda *_, **__: ("", "")  # type: ignore[method-assign]
    QInputDialog.exec = lambda self: 0  # type: ignore[method-assign]


def _fill_caches(figures: Figures) -> None:
    """Fill what is bounded but fills slowly, so that what grows afterwards is lost."""
    from chickadee import read

    for line in range(_LINES):
        if line % _TOLD_EVERY == 0:
            figures.begin(0, f"line {line} of those that fill the caches")
        read(f"C4={line} D4 E4=1/{line + 1} xyz{line} F4 G4 A4 |")


def _judge(memory: list[tuple[float, float]], figures: Figures) -> None:
    """Say how memory went: (second, megabytes). In the first third what is bounded still fills, and is left out."""
    held = [each for _, each in memory][len(memory) // 3 :]
    part = max(1, len(held) // 4)
    first = mean(held[:part])
    last = mean(held[-part:])
    grown = last - first
    figures.notes.append(
        f"  memory {first:.0f} MB after a third of the time, {last:.0f} MB at the end, {grown:+.1f} MB"
    )
    if grown > _MOST_GROWN:
        figures.fault(f"memory grew by {grown:.0f} MB")


def soak(first: int, count: int, seed: int, figures: Figures) -> None:
    """Do things for so many seconds."""
    from PyQt6.QtCore import QtMsgType, qInstallMessageHandler

    import chickadee
    from chickadee.desk.app import application, destroy, furnish, shown_window

    app = application()
    window = shown_window()
    desk = furnish(window)
    hands = _Hands(desk, seed)
    tunes = sorted((Path(chickadee.__file__).parent / "songs").glob("*.chick"))

    def warned(kind: QtMsgType, context: object, message: str | None) -> None:
        if "propagateSizeHints" not in (message or ""):
            places = [f"{Path(frame.filename).name}:{frame.lineno}" for frame in traceback.extract_stack()[-6:-1]]
            figures.fault(f"Qt warns: {message} ({' '.join(places)})", desk.document.text)

    before, sys.excepthook = sys.excepthook, lambda kind, fault, trace: figures.fault(fault, desk.document.text)
    qInstallMessageHandler(warned)
    _answer_every_dialog()
    _fill_caches(figures)
    try:
        _judge(_act(hands, tunes, count, figures), figures)
    finally:
        sys.excepthook = before
        qInstallMessageHandler(None)
    desk.player.close()
    desk.recovery.close()
    destroy(window)
    del app


def _act(hands: _Hands, tunes: list[Path], seconds: float, figures: Figures) -> list[tuple[float, float]]:
    """Do things for so many seconds; memory as (second, megabytes)."""
    from PyQt6.QtCore import QEvent
    from PyQt6.QtWidgets import QApplication

    start = time.monotonic()
    opened = -1e9
    memory = list[tuple[float, float]]()
    while (now := time.monotonic()) < start + seconds:
        if now - opened > _TUNE_SECONDS:
            hands.open_a_tune(tunes)
            QApplication.processEvents()
            memory.append((now - start, _memory()))  # always in a window of one size, whose pictures are as large
            opened = now
        figures.begin(figures.count, hands.text)
        what = hands.act()
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # an event loop would do that by itself
        figures.took("actions", time.monotonic() - now, _SLOW, f"{what}\n\n{hands.text}")
    return memory

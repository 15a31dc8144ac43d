"""Every action of every menu, over every kind of tune: nothing fails, and nothing stands still."""

from __future__ import annotations

import random
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from .figures import Figures

if TYPE_CHECKING:
    from chickadee.desk.desk import Desk

_SLOW = 2.0
_TEXTS = ("", "x", "C4", "99999999999999", "<b>&", "ab\ncd", "-1", "♯")
_ENDS = {"window.quit"}
"""Actions that would end the campaign."""


def actions(first: int, count: int, seed: int, figures: Figures) -> None:
    """Do every action over the states from number ``first`` up to ``count``."""
    from chickadee.desk.app import application, destroy, furnish, shown_window

    app = application()
    window = shown_window()
    desk = furnish(window)
    chance = random.Random(seed)
    before, sys.excepthook = sys.excepthook, lambda kind, fault, trace: figures.fault(fault, desk.document.text)
    _fill_every_dialog(chance)
    names = list(_STATES)
    try:
        for place in range(first, min(count, len(names))):
            for number, name in enumerate(sorted(desk.actions_by_id)):
                if name not in _ENDS:
                    _try_action(desk, names[place], name, figures, place * 1000 + number)
    finally:
        sys.excepthook = before
    desk.player.close()
    desk.recovery.close()
    destroy(window)
    del app


def _try_action(desk: Desk, state: str, name: str, figures: Figures, index: int) -> None:
    from PyQt6.QtCore import QEvent
    from PyQt6.QtWidgets import QApplication

    _STATES[state](desk)
    QApplication.processEvents()
    figures.begin(index, f"{name} over {state}")
    start = time.monotonic()
    try:
        desk.actions_by_id[name].trigger()
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    except Exception as fault:
        figures.fault(fault, f"{name} over {state}")
    most = _SLOW if state != "a huge tune" else 3 * _SLOW
    figures.took("actions", time.monotonic() - start, most, f"{name} over {state}")
    desk.player.stop()
    for opened in QApplication.topLevelWidgets():
        if opened is not desk.window() and opened.isVisible():
            opened.close()  # the pages of help stay open otherwise


def _fill_every_dialog(chance: random.Random) -> None:
    """Dialogs are filled in with anything, looked at and cancelled."""
    from PyQt6.QtPrintSupport import QPrintDialog
    from PyQt6.QtWidgets import (
        QAbstractButton,
        QComboBox,
        QDialog,
        QFileDialog,
        QInputDialog,
        QLineEdit,
        QListWidget,
        QMenu,
        QMessageBox,
        QSpinBox,
    )

    def fill(dialog: QDialog) -> int:
        dialog.show()
        for field in dialog.findChildren(QLineEdit):
            field.setText(chance.choice(_TEXTS))
        for box in dialog.findChildren(QComboBox):
            box.setCurrentIndex(chance.randrange(max(1, box.count())))
        for spin in dialog.findChildren(QSpinBox):
            spin.setValue(chance.choice((spin.minimum(), spin.maximum())))
        for listed in dialog.findChildren(QListWidget):
            listed.setCurrentRow(chance.randrange(max(1, listed.count())))
        for button in dialog.findChildren(QAbstractButton):
            if button.isCheckable() and button.isEnabled():
                button.click()
        dialog.reject()
        return 0

    QDialog.exec = fill  # type: ignore[method-assign,assignment]
    QInputDialog.exec = fill  # type: ignore[method-assign,assignment]
    QPrintDialog.exec = fill  # type: ignore[method-assign,assignment]
    QMessageBox.exec = lambda self: int(QMessageBox.StandardButton.Discard.value)  # type: ignore[method-assign,assignment]
    QMenu.exec = lambda *_: None  # type: ignore[method-assign,assignment]
    for asked in ("getSaveFileName", "getOpenFileName"):
        setattr(QFileDialog, asked, lambda *_, **__: ("", ""))
    QFileDialog.getOpenFileNames = lambda *_, **__: ([], "")  # type: ignore[method-assign,assignment]
    QFileDialog.getExistingDirectory = lambda *_, **__: ""  # type: ignore[method-assign,assignment]


def _begin(text: str, chosen: bool = True) -> Callable[[Any], None]:
    def begin(desk: Desk) -> None:
        desk.document.begin(text)
        desk.notice.clear(offers=True)
        if chosen:
            desk.selection.choose_notes(list(range(min(3, len(desk.document.reading.song.notes)))))

    return begin


def _playing(desk: Desk) -> None:
    _begin("tempo: 60\n" + "C4 E4 G4 {Am} | " * 8)(desk)
    desk.playback.play_all()


def _recording(desk: Desk) -> None:
    from chickadee.sound.audio_file import write_audio

    path = Path("/tmp") / "chickadee-hard-recording.wav"
    if not path.exists():
        import chickadee

        write_audio(path, chickadee.read("C4 D4 E4").song)
    if desk.document.text != "C4 D4 E4\n":
        _begin("C4 D4 E4\n")(desk)
        desk.panel("recording").take_file(path)


_STATES: dict[str, Callable[[Any], None]] = {
    "no tune": _begin("", chosen=False),
    "a tune": _begin("title: A\nvoice A\nC4 D4 | E4=2 | {Am} | words\nvoice B\nsound: drum kit\nkick snare |\n"),
    "a broken tune": _begin("phrase\nvoice <b>\n( H4 C4=x } | zz [tempo] C4 x9999999\n=999999[slow to 60 over 4]\n"),
    "a huge tune": _begin("C4 D4 E4 F4 |\n" * 2500),
    "a tune that plays": _playing,
    "a recording": _recording,
}

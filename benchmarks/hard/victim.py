"""A desk that types, saves or brings work back until it is killed, and says what is on its screen: for kills.py."""

from __future__ import annotations

import json
import os
import random
import sys
import time
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QDialog

from chickadee.desk.app import application, destroy, furnish, shown_window
from chickadee.desk.interrupt import Interrupt
from chickadee.desk.journal import left_behind
from chickadee.desk.versions import VersionsDialog

SIGNS = ("C4 ", "66=1/2 ", "| ", "rest ", "\n  ", "♯")


def say(what: str, text: str) -> None:
    """Tell whoever will do the killing."""
    print(json.dumps([time.time(), what, text]), flush=True)


def main(how: str, tune: Path, seed: int) -> None:
    """Do one kind of thing for ever."""
    chance = random.Random(seed)
    say("begun", "")
    app = application()
    window = shown_window(tune)
    Interrupt(window)
    desk = furnish(window)
    desk.player.open = lambda: None  # type: ignore[method-assign]
    desk.files.open_path(tune)
    if how == "recovering":
        VersionsDialog.exec = lambda dialog: VersionsDialog.MINE  # type: ignore[method-assign]
        for file, what in left_behind():
            desk.recovery.bring_back(file, what)
            say("back", desk.document.text)
    QDialog.exec = lambda dialog: 0  # type: ignore[method-assign]

    def step() -> None:
        if how in ("typing", "saving"):
            if chance.random() < 0.2:
                desk.editor.undo()
            else:
                desk.editor.insertPlainText(chance.choice(SIGNS))
            say("typed", desk.document.text)
        if how == "saving":
            desk.files.save()
            say("saved", desk.document.text)
        QTimer.singleShot(chance.choice([1, 5, 20, 60]), step)

    step()
    app.exec()
    destroy(window)


if __name__ == "__main__":
    main(sys.argv[1], Path(sys.argv[2]), int(sys.argv[3]))

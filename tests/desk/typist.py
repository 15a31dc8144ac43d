"""Types into a desk for ever, and says after each key what is on the screen: run, and killed, by test_keeping."""

from __future__ import annotations

import json
import random
import sys
import time

from PyQt6.QtTest import QTest

from chickadee.desk.app import application, furnish, shown_window

if __name__ == "__main__":
    app = application()
    chance = random.Random(int(sys.argv[1]))
    window = shown_window()
    desk = furnish(window)
    desk.player.open = lambda: None
    desk.document.text_document.setPlainText(f"title: Typed {sys.argv[1]}\nvoice A\n  C4 D4\n")
    while True:
        sign = chance.choice(["C4 ", "66=1/2 ", "| ", "rest ", "\n  ", "♯"])
        if chance.random() < 0.2:
            desk.editor.undo()
        else:
            desk.editor.insertPlainText(sign)
        print(json.dumps([time.time(), desk.document.reading.text]), flush=True)
        QTest.qWait(chance.choice([1, 5, 20, 60]))

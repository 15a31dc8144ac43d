"""A sheet typed into the desk as a person would, and what is read of it."""

from __future__ import annotations

from PyQt6.QtCore import Qt

CONTROL = Qt.KeyboardModifier.ControlModifier


def write(qtbot, desk, text):
    """Type a sheet as a person would."""
    desk.editor.setFocus()
    for line in text.split("\n"):
        qtbot.keyClicks(desk.editor, line)
        qtbot.keyClick(desk.editor, Qt.Key.Key_Return)


def numbers(desk):
    """The MIDI numbers of the notes as they are read."""
    return [note.number for note in desk.document.reading.song.notes]

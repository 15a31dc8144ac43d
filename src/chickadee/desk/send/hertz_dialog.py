"""The hertz of each note by octaves, to read and to copy."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QPushButton,
    QSpinBox,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...boards.hertz import hertz_table
from ..clipboard import copy_text
from ..plain_text import PlainLabel

__all__ = ["HertzDialog"]

# octaves at first
_FIRST = 2
_LAST = 6


class HertzDialog(QDialog):
    """Shows a table for some octaves in the tune's tuning."""

    def __init__(self, tuning: float, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Hertz of each note")
        self._tuning = tuning
        self.first = _octave("First octave", _FIRST)
        self.last = _octave("Last octave", _LAST)
        self.table = QTableWidget()
        self.table.setAccessibleName("Hertz by note and octave")
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        copy = QPushButton("Copy the table")
        copy_list = QPushButton("Copy as a list")
        copy.clicked.connect(lambda: copy_text("\n".join("\t".join(row) for row in self._rows)))
        copy_list.clicked.connect(lambda: copy_text(", ".join(self._in_order())))
        row = QHBoxLayout()
        for widget in (PlainLabel("Octaves"), self.first, PlainLabel("to"), self.last):
            row.addWidget(widget)
        row.addWidget(PlainLabel(f"A4 = {tuning:g} Hz"))
        row.addStretch(1)
        row.addWidget(copy)
        row.addWidget(copy_list)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, self)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addLayout(row)
        column.addWidget(self.table, 1)
        column.addWidget(buttons)
        self.first.valueChanged.connect(self._show)
        self.last.valueChanged.connect(self._show)
        self._rows: list[list[str]] = []
        self._show()
        self.resize(720, 480)

    def _show(self) -> None:
        self.last.setMinimum(self.first.value())
        low = 12 * (self.first.value() + 1)
        high = min(127, 12 * (self.last.value() + 2) - 1)
        self._rows = hertz_table(low, high, self._tuning)
        heading, *rows = self._rows
        self.table.setColumnCount(len(heading) - 1)
        self.table.setRowCount(len(rows))
        self.table.setHorizontalHeaderLabels(heading[1:])
        self.table.setVerticalHeaderLabels([row[0].replace("#", "♯").replace("b", "♭") for row in rows])
        for place, row in enumerate(rows):
            for column, cell in enumerate(row[1:]):
                item = QTableWidgetItem(cell)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(place, column, item)

    def _in_order(self) -> list[str]:
        """All frequencies from the lowest up."""
        heading, *rows = self._rows
        return [row[place] for place in range(1, len(heading)) for row in rows if row[place]]


def _octave(name: str, value: int) -> QSpinBox:
    box = QSpinBox()
    box.setAccessibleName(name)
    box.setRange(-1, 9)
    box.setValue(value)
    return box

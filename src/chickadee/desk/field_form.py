"""A form made from the fields of a dataclass: a row for each, with the kind of box that its value needs."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QLineEdit, QSpinBox, QWidget

from ..faults import InputFault
from .parts import describe, plain_box
from .plain_dialogs import PlainForm

__all__ = ["Field", "FieldForm", "template_field"]


def _same(text: str) -> str:
    return text


def _with_escapes(text: str) -> str:
    return text.replace("\\", "\\\\").replace("\n", "\\n")


def _without_escapes(text: str) -> str:
    return re.sub(r"\\(.)", lambda found: {"n": "\n"}.get(found[1], found[1]), text)


@dataclass(frozen=True, slots=True)
class Field:
    """A row of a form."""

    key: str
    """The name of the dataclass's field."""
    label: str
    hint: str = ""
    """Its use, where the label does not say."""
    limits: tuple[float, float] = (0, 99)
    """The least and the greatest number."""
    after: str = ""
    """The unit after a number, or the words beside a check box."""
    choices: Mapping[str, str] = field(default_factory=dict)
    """The values that can be chosen, each with its words."""
    example: str = ""
    """Shown where a text is empty."""
    show: Callable[[Any], str] = _same
    """Gives the text of a value that is typed."""
    read: Callable[[str], Any] = _same
    """Gives the value of a text that is typed; it may raise InputFault."""


def template_field(key: str, label: str) -> Field:
    """A row for a template, in which ``\\n`` is a new line."""
    return Field(key, label, show=_with_escapes, read=_without_escapes)


class FieldForm(QWidget):
    """Shows some fields of a dataclass and takes other values for them. ``changed`` tells of every change by hand."""

    changed = pyqtSignal()

    def __init__(self, rows: Sequence[Field], values: object) -> None:
        """``values`` is an object of the dataclass: the kinds of its values choose the kinds of boxes."""
        super().__init__()
        self._rows = rows
        self._filling = False
        self.boxes = {row.key: _box_for(row, getattr(values, row.key)) for row in rows}
        self.rows = PlainForm(self)
        for row in rows:
            self.rows.addRow(row.label, self.boxes[row.key])
        describe(*((self.boxes[row.key], row.hint or row.label) for row in rows))
        self.show_values(values)
        for box in self.boxes.values():
            _change_signal(box).connect(self._tell)

    def show_values(self, values: object) -> None:
        """Show the values of an object, without telling; a text that already means the value stays as it is typed."""
        self._filling = True
        for row in self._rows:
            _show_in(self.boxes[row.key], row, getattr(values, row.key))
        self._filling = False

    @property
    def values(self) -> dict[str, Any]:
        """The values in the boxes by the names of the fields. Raises InputFault for a text that means none."""
        return {row.key: _value_in(self.boxes[row.key], row) for row in self._rows}

    def _tell(self) -> None:
        if not self._filling:
            self.changed.emit()


def _box_for(row: Field, value: object) -> QWidget:
    if row.choices:
        choice = plain_box(QComboBox())
        for key, words in row.choices.items():
            choice.addItem(words, key)
        return choice
    if isinstance(value, bool):
        return QCheckBox(row.after)
    if isinstance(value, int | float):
        number = QSpinBox() if isinstance(value, int) else QDoubleSpinBox()
        least, greatest = map(type(value), row.limits)
        number.setRange(least, greatest)  # type: ignore[arg-type]
        number.setSuffix(row.after)
        return number
    text = QLineEdit()
    text.setPlaceholderText(row.example)
    return text


def _change_signal(box: QWidget) -> Any:
    match box:
        case QComboBox():
            return box.currentIndexChanged
        case QCheckBox():
            return box.toggled
        case QSpinBox() | QDoubleSpinBox():
            return box.valueChanged
        case QLineEdit():
            return box.textChanged
    raise TypeError(type(box).__name__)


def _show_in(box: QWidget, row: Field, value: Any) -> None:
    match box:
        case QComboBox():
            box.setCurrentIndex(box.findData(value))
        case QCheckBox():
            box.setChecked(value)
        case QSpinBox() | QDoubleSpinBox():
            box.setValue(value)
        case QLineEdit() if not _means(box.text(), row, value):
            box.setText(row.show(value))
            box.setCursorPosition(0)


def _means(text: str, row: Field, value: object) -> bool:
    try:
        return bool(row.read(text) == value)
    except InputFault:
        return False


def _value_in(box: QWidget, row: Field) -> Any:
    match box:
        case QComboBox():
            return box.currentData()
        case QCheckBox():
            return box.isChecked()
        case QSpinBox() | QDoubleSpinBox():
            return box.value()
        case QLineEdit():
            return row.read(box.text())
    raise TypeError(type(box).__name__)

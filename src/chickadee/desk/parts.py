"""Parts that several panels have: a box with the parts of a tune, plain boxes and tables, what widgets are for; and
the answers at the end of a dialog."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QHeaderView,
    QPushButton,
    QTableWidget,
    QWidget,
)

from ..reshape import Part
from ..sheet import Reading
from .plain_text import hint_of

__all__ = ["PartBox", "answers", "describe", "fill", "plain_box", "plain_table"]

_SELECTED = "the selected notes"
_WHOLE = "the whole song"
_LIST_MARGIN = 30


class PartBox(QComboBox):
    """Offers the parts of the tune as it now reads; ``chosen`` tells the selected notes, where they are offered."""

    def __init__(
        self, name: str, chosen: Callable[[], Sequence[int]] | None = None, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._chosen = chosen
        self._parts: list[Part | None] = []
        self.setAccessibleName(name)
        plain_box(self)

    def show_reading(self, reading: Reading) -> None:
        """Offer a reading's parts; what was named before stays named where it is still there."""
        parts: dict[str, Part | None] = {_WHOLE: Part()}
        if self._chosen is not None:
            parts[_SELECTED] = None
        parts |= {f"the voice {voice.name}": Part.of_voice(index) for index, voice in enumerate(reading.song.voices)}
        parts |= {f"the phrase {name}": Part.of_phrase(name) for name in reading.sheet.phrases}
        self._parts = list(parts.values())
        fill(self, list(parts))

    @property
    def is_selection(self) -> bool:
        """True while the selected notes are named."""
        return bool(self._parts) and self._parts[self.currentIndex()] is None

    @property
    def part(self) -> Part:
        """The part that is named."""
        part = self._parts[self.currentIndex()] if self._parts else Part()
        return Part.of_notes(self._chosen() if self._chosen else ()) if part is None else part


def describe(*widgets: tuple[QWidget, str]) -> None:
    """Say what each widget is for, to the pointer and to a screen reader."""
    for widget, said in widgets:
        widget.setAccessibleName(said)
        widget.setToolTip(hint_of(said))


def fill(box: QComboBox, options: list[str]) -> None:
    """Offer other texts, silently; the current one stays where it is still there."""
    if options != [box.itemText(place) for place in range(box.count())]:
        before = box.currentText()
        box.blockSignals(True)
        box.clear()
        box.addItems(options)
        box.setCurrentText(before)
        box.blockSignals(False)
        if (listed := box.view()) is not None:
            listed.setMinimumWidth(listed.sizeHintForColumn(0) + _LIST_MARGIN)


def plain_box(box: QComboBox) -> QComboBox:
    """Let a box be narrower than its longest text."""
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(8)
    return box


def plain_table(headings: Sequence[str], rows_marked: bool = False) -> QTableWidget:
    """A table that is only read, its columns as wide as one another; a row can be marked where that is wanted."""
    table = QTableWidget(0, len(headings))
    table.setHorizontalHeaderLabels(headings)
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    modes = QAbstractItemView.SelectionMode
    table.setSelectionMode(modes.SingleSelection if rows_marked else modes.NoSelection)
    table.setShowGrid(False)
    across = table.horizontalHeader()
    down = table.verticalHeader()
    assert across is not None and down is not None
    across.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
    down.hide()
    return table


def answers(dialog: QDialog, go_on: str) -> tuple[QDialogButtonBox, QPushButton]:
    """The buttons at the end of a dialog: Cancel, and the one that goes on, which Return presses too."""
    buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel, dialog)
    button = QPushButton(go_on)
    buttons.addButton(button, QDialogButtonBox.ButtonRole.AcceptRole)
    button.setDefault(True)
    buttons.accepted.connect(dialog.accept)
    buttons.rejected.connect(dialog.reject)
    return buttons, button

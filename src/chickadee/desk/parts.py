"""Parts that several panels have: plain boxes and tables, hints of widgets, the answers at the end of a dialog."""

from __future__ import annotations

from collections.abc import Sequence

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

from .plain_text import hint_of

__all__ = ["answers", "describe", "fill", "plain_box", "plain_table"]

_LIST_MARGIN = 30


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

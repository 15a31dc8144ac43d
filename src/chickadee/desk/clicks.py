"""Buttons and lines of menus that call something with values of its own."""

from __future__ import annotations

from collections.abc import Callable
from typing import ParamSpec

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QAbstractButton, QMenu

__all__ = ["add_line", "on_click"]

_Given = ParamSpec("_Given")


def on_click(
    clicked: QAbstractButton | QAction,
    slot: Callable[_Given, object],
    *given: _Given.args,
    **options: _Given.kwargs,
) -> None:
    """Call a slot with what is given whenever a button is clicked, or an action of a menu chosen.

    Qt's own signals would add whether it is checked.
    """
    signal = clicked.triggered if isinstance(clicked, QAction) else clicked.clicked
    signal.connect(lambda: slot(*given, **options))


def add_line(
    menu: QMenu, text: str, slot: Callable[_Given, object], *given: _Given.args, **options: _Given.kwargs
) -> QAction:
    """Add a line to a menu that calls a slot with what is given when it is chosen."""
    action = QAction(text, menu)
    menu.addAction(action)
    on_click(action, slot, *given, **options)
    return action

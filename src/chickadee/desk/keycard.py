"""The key card: every action with its keys."""

from __future__ import annotations

from html import escape

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QTextBrowser, QVBoxLayout, QWidget

from .menu_bar import MENUS
from .theme import Look

__all__ = ["KeyCard"]


class KeyCard(QDialog):
    """Lists the menus' actions, their keys and what they do."""

    def __init__(self, menus: dict[str, list[QAction]], look: Look, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        self.resize(look.px(760), look.px(600))
        self.card = QTextBrowser()
        self.card.setHtml(_html(menus, look))
        self.card.setAccessibleName("Key card")
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, self)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(self.card)
        column.addWidget(buttons)


def _html(menus: dict[str, list[QAction]], look: Look) -> str:
    rows = []
    for menu, actions in menus.items():
        rows.append(
            f'<tr><td colspan="3"><h3 style="color:{look.theme.accent_text}">{MENUS[menu].title}</h3></td></tr>'
        )
        for action in actions:
            keys = action.shortcut().toString()  # the first; some have others that few keyboards have
            rows.append(
                f'<tr><td style="padding-right:16px; white-space:pre"><b>{escape(keys)}</b></td>'
                f'<td style="padding-right:16px; white-space:pre">{escape(action.iconText())}</td>'
                f'<td style="color:{look.theme.grey}">{escape(action.statusTip())}</td></tr>'
            )
    return f"<table>{''.join(rows)}</table>"

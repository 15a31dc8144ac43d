"""Labels and hints that show text as it is, whatever it holds.

Qt takes a text that looks like HTML for HTML, and then opens the pictures that it names: a title from a file could
stop the window. All words that may come from outside are shown by what stands here and in ``plain_dialogs``;
``make lint`` forbids the rest.
"""

from __future__ import annotations

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QLabel, QToolTip, QWidget

__all__ = ["PlainLabel", "RichLabel", "escaped", "hide_hint", "hint_of", "show_hint"]

# by number: their names would have PyQt build all that Qt names, before the window is up
_PLAIN_TEXT = 0
_RICH_TEXT = 1
_LONGEST_HINT = 2_000  # characters of a tooltip


class PlainLabel(QLabel):
    """A label whose text is never taken for HTML.

    >>> from chickadee.desk.app import application
    >>> app = application()
    >>> PlainLabel("<b>Gull</b>").textFormat().name
    'PlainText'
    """

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("textFormat", _PLAIN_TEXT)
        self.setText(text)


class RichLabel(QLabel):
    """A label that is given HTML of ours, in which everything from outside is escaped."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("textFormat", _RICH_TEXT)


def escaped(text: str) -> str:
    """Return a text as HTML of ours holds it.

    The standard library's function would bring a table of all signs with it, and the window would be up later.
    """
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace('"', "&quot;")


def hint_of(text: str) -> str:
    """Return a text as a tooltip is given it: shown as it is, its lines kept.

    >>> hint_of("Night Boat"), hint_of("a < b")
    ('Night Boat', '<span style="white-space: pre-wrap">a &lt; b</span>')
    """
    short = text if len(text) <= _LONGEST_HINT else f"{text[:_LONGEST_HINT]}…"
    if "<" not in short and "&" not in short:
        return short
    return f'<span style="white-space: pre-wrap">{escaped(short)}</span>'


def show_hint(at: QPoint, text: str, widget: QWidget | None = None) -> None:
    """Show a tooltip at a place on the screen; an empty text hides it."""
    QToolTip.showText(at, hint_of(text), widget)


def hide_hint() -> None:
    """Hide the tooltip, where one is shown."""
    QToolTip.hideText()

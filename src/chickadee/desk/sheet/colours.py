"""The colours of the sheet's text."""

from __future__ import annotations

import re

from PyQt6.QtGui import QFont, QSyntaxHighlighter, QTextCharFormat, QTextDocument

from ...sheet.properties import PROPERTIES
from ..theme import Look

__all__ = ["SheetColours"]

_HEADER = re.compile(r"^\s*(voice)\b.*", re.IGNORECASE)
_PROPERTY = re.compile(rf"^\s*({'|'.join(PROPERTIES)})\s*:.*", re.IGNORECASE)
_COMMENT = re.compile(r"(?<!\S)//.*")
_SIGNS = (
    (re.compile(r"\|"), "grey"),
    (re.compile(r"=[^\s|()&]+"), "right"),
    (re.compile(r"\[[^\]]*\]?"), "accent_text"),
    (re.compile(r"(?<!\S)(rest|\.|-)(?=[=\s|]|$)"), "grey"),
)


class SheetColours(QSyntaxHighlighter):
    """Tells headers, properties, lengths, directions and comments apart; pitches stay in plain ink."""

    def __init__(self, document: QTextDocument, look: Look) -> None:
        super().__init__(document)
        self._look = look

    def set_look(self, look: Look) -> None:
        """Colour with another theme."""
        self._look = look
        self.rehighlight()

    def highlightBlock(self, text: str | None) -> None:
        text = text or ""
        comment = _COMMENT.search(text)
        written = text[: comment.start()] if comment else text
        if _HEADER.match(written):
            self._colour(0, len(written), "accent_text", bold=True)
        elif _PROPERTY.match(written):
            self._colour(0, len(written), "grey")
        else:
            for pattern, colour in _SIGNS:
                for found in pattern.finditer(written):
                    self._colour(found.start(), found.end(), colour)
        if comment:
            self._colour(comment.start(), len(text), "grey", italic=True)

    def _colour(self, start: int, end: int, name: str, bold: bool = False, italic: bool = False) -> None:
        style = QTextCharFormat()
        style.setForeground(self._look.color(name))
        if bold:
            style.setFontWeight(QFont.Weight.Bold)
        style.setFontItalic(italic)
        self.setFormat(start, end - start, style)

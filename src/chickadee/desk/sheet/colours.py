"""The colours of the sheet's text."""

from __future__ import annotations

import re

from PyQt6.QtGui import QColor, QFont, QSyntaxHighlighter, QTextCharFormat, QTextDocument

from ...sheet.changes import CHANGE_WORDS
from ...sheet.properties import PROPERTIES
from ..theme import Look

__all__ = ["SheetColours"]

_HEADER = re.compile(r"^\s*(voice|phrase)\b.*", re.IGNORECASE)
_PROPERTY = re.compile(rf"^\s*({'|'.join(PROPERTIES)}|words)\s*:.*", re.IGNORECASE)
_COMMENT = re.compile(r"(?<!\S)//.*")
_SIGNS = (
    (re.compile(r"[|()]"), "grey"),
    (re.compile(r"=[^\s|()&]+"), "right"),
    (re.compile(r"(?<!\S)(rest|\.|-)(?=[=\s|]|$)"), "grey"),
    (
        re.compile(rf"(?<![^\s)])({'|'.join(sorted(CHANGE_WORDS - {'phrase', 'voice', 'x'}))}|x[0-9]+)(?![^\s)])"),
        "right",
    ),
    (re.compile(r"\[[^\]]*\]?"), "accent_text"),
    (re.compile(r"\{[^}]*\}?"), "accent_text"),
)
_WORD = re.compile(r"[^\s|()\[\]{}]+")


class SheetColours(QSyntaxHighlighter):
    """Tells headers, properties, phrases, lengths, chords and comments apart; pitches stay in plain ink."""

    def __init__(self, document: QTextDocument, look: Look) -> None:
        super().__init__(document)
        self._look = look
        self._phrases: frozenset[str] = frozenset()

    def set_look(self, look: Look) -> None:
        """Colour with another theme."""
        self._look = look
        self.rehighlight()

    def set_phrases(self, names: frozenset[str]) -> None:
        """Colour the uses of these phrases."""
        if names != self._phrases:
            self._phrases = names
            self.rehighlight()

    def highlightBlock(self, text: str | None) -> None:
        text = text or ""
        comment = _COMMENT.search(text)
        written = text[: comment.start()] if comment else text
        if _HEADER.match(written):
            self._colour(0, len(written), self._look.voice(0), bold=True)
        elif _PROPERTY.match(written):
            self._colour(0, len(written), self._look.color("grey"))
        else:
            self._music(written)
        if comment:
            self._colour(comment.start(), len(text), self._look.color("grey"), italic=True)

    def _music(self, written: str) -> None:
        for pattern, colour in _SIGNS:
            for found in pattern.finditer(written):
                self._colour(found.start(), found.end(), self._look.color(colour))
        for found in _WORD.finditer(written):
            if found[0] in self._phrases:
                self._colour(found.start(), found.end(), self._look.voice(0))

    def _colour(self, start: int, end: int, colour: QColor, bold: bool = False, italic: bool = False) -> None:
        style = QTextCharFormat()
        style.setForeground(colour)
        if bold:
            style.setFontWeight(QFont.Weight.Bold)
        style.setFontItalic(italic)
        self.setFormat(start, end - start, style)

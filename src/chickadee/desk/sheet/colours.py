"""The colours of the sheet's text."""

from __future__ import annotations

from PyQt6.QtGui import QColor, QFont, QSyntaxHighlighter, QTextCharFormat, QTextDocument

from ...sheet.changes import CHANGE_WORDS, read_change
from ...sheet.grammar import LineKind, Token, comment_start, kind_of, tokens
from ...sheet.word import Kind, read_word
from ...sheet.written import ChordSign
from ..theme import Look

__all__ = ["SheetColours"]

_TOKENS = {"bar": "grey", "open": "grey", "close": "grey", "direction": "accent_text"}
_SILENT = (Kind.REST, Kind.HOLD)


class SheetColours(QSyntaxHighlighter):
    """Tells headers, properties, phrases, lengths, chords and comments apart; pitches have the colour of text."""

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
        end = comment_start(text, 0, len(text))
        kind = kind_of(text, 0, len(text))
        if kind is LineKind.HEADER:
            self._colour(0, end, self._look.voice(0), bold=True)
        elif kind is LineKind.PROPERTY:
            self._colour(0, end, self._look.color("grey"))
        else:
            for token in tokens(text, 0, end):
                self._token(token)
        self._colour(end, len(text), self._look.color("grey"), italic=True)

    def _token(self, token: Token) -> None:
        start = token.start()
        end = token.end()
        kind = token.lastgroup or ""
        if kind in _TOKENS:
            first = 1 if kind == "close" else end - start
            self._colour(start, start + first, self._look.color(_TOKENS[kind]))
            self._colour(start + first, end, self._look.color("right"))
        elif kind == "word" and token[0] in self._phrases:
            self._colour(start, end, self._look.voice(0))
        elif kind == "word" and (token[0].lower() in CHANGE_WORDS or read_change([token[0]])[0] is not None):
            self._colour(start, end, self._look.color("right"))
        elif kind == "word":
            self._word(start, token[0])

    def _word(self, start: int, text: str) -> None:
        word = read_word(text)
        if word.kind in _SILENT:
            self._colour(start, start + word.length_start, self._look.color("grey"))
        for sign in word.signs:
            if isinstance(sign.what, ChordSign):
                self._colour(start + sign.start, start + sign.end, self._look.color("accent_text"))
        if word.length is not None:
            self._colour(start + word.length_start, start + len(text), self._look.color("right"))

    def _colour(self, start: int, end: int, colour: QColor, bold: bool = False, italic: bool = False) -> None:
        style = QTextCharFormat()
        style.setForeground(colour)
        if bold:
            style.setFontWeight(QFont.Weight.Bold)
        style.setFontItalic(italic)
        self.setFormat(start, end - start, style)

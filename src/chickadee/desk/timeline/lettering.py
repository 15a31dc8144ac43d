"""Text made to fit its cell: as it is, narrowed within reason, or cut short."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QFontMetrics

__all__ = ["Lettering"]

_NARROWEST = 60
_STEP = 5  # percent; few widths of a font are kept ready rather than one for each cell


class Lettering:
    """Fits texts of one font into widths, and remembers how."""

    def __init__(self, font: QFont) -> None:
        self._stretches = {}
        for stretch in range(_NARROWEST, 101, _STEP):
            narrowed = QFont(font)
            if stretch < 100:
                narrowed.setStretch(stretch)
            self._stretches[stretch] = narrowed, QFontMetrics(narrowed)
        self._fitted: dict[tuple[str, int], tuple[QFont, str]] = {}

    def fitted(self, text: str, width: int) -> tuple[QFont, str]:
        """The font and the text to draw in so many pixels; empty where nothing would be left of it."""
        found = self._fitted.get((text, width))
        if found is None:
            if len(self._fitted) > 5000:
                self._fitted.clear()
            found = self._fitted[text, width] = self._fit(text, width)
        return found

    def _fit(self, text: str, width: int) -> tuple[QFont, str]:
        for stretch in sorted(self._stretches, reverse=True):
            font, metrics = self._stretches[stretch]
            if metrics.horizontalAdvance(text) <= width:
                return font, text
        font, metrics = self._stretches[_NARROWEST]
        short = metrics.elidedText(text, Qt.TextElideMode.ElideRight, width)
        return font, "" if short == "…" else short

"""Colours, sizes and fonts of the window, by day and in the evening."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from PyQt6.QtGui import QColor, QFont, QFontDatabase

from ..display.palette import DAY, EVENING, Theme

__all__ = ["DAY", "EVENING", "Look", "Theme", "look_for", "mixed"]


@lru_cache(maxsize=256)
def mixed(colour: str, ground: str, part: float) -> QColor:
    """``part`` of a colour on a ground, as one opaque colour."""
    top = QColor(colour)
    bottom = QColor(ground)
    return QColor(
        *(
            round(part * a + (1 - part) * b)
            for a, b in zip(
                (top.red(), top.green(), top.blue()), (bottom.red(), bottom.green(), bottom.blue()), strict=True
            )
        )
    )


@lru_cache(maxsize=256)
def _colour(name: str) -> QColor:
    return QColor(name)


@lru_cache(maxsize=64)
def _font(kind: QFontDatabase.SystemFont, pixels: int, bold: bool) -> QFont:
    font = QFontDatabase.systemFont(kind)
    font.setPixelSize(pixels)
    font.setBold(bold)
    return font


@dataclass(frozen=True, slots=True)
class Look:
    """A theme at a size: what every view draws with."""

    theme: Theme = DAY
    scale: float = 1.0
    """1.5 in projector mode."""

    def px(self, size: float) -> int:
        """A length of the day's plan in pixels at this scale."""
        return round(size * self.scale)

    def color(self, name: str) -> QColor:
        """A colour of the theme by its field's name."""
        return _colour(getattr(self.theme, name))

    def font(self, size: float, bold: bool = False) -> QFont:
        """The system's font for words; ``size`` in pixels at scale 1."""
        return QFont(_font(QFontDatabase.SystemFont.GeneralFont, self.px(size), bold))

    def fixed_font(self, size: float, bold: bool = False) -> QFont:
        """The system's fixed-width font, for the sheet and for numbers."""
        return QFont(_font(QFontDatabase.SystemFont.FixedFont, self.px(size), bold))

    def voice(self, index: int) -> QColor:
        """The colour of a voice."""
        return _colour(self.theme.voices[index % len(self.theme.voices)])

    def voice_striped(self, index: int) -> bool:
        """Return whether the voice is told from one eight before it by a stripe."""
        return index // len(self.theme.voices) % 2 == 1

    @property
    def wash(self) -> QColor:
        """A light wash of the accent: selections, the reading column."""
        return mixed(self.theme.accent, self.theme.page, 0.32)


def look_for(evening: bool, projector: bool) -> Look:
    """The look by what the menu says."""
    return Look(EVENING if evening else DAY, 1.5 if projector else 1.0)

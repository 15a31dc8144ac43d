"""Colours, sizes and fonts of the window, by day and in the evening."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from PyQt6.QtGui import QColor, QFont, QFontDatabase

__all__ = ["DAY", "EVENING", "Look", "Theme", "look_for", "mixed"]


@dataclass(frozen=True, slots=True)
class Theme:
    """The colours of one time of day."""

    paper: str
    page: str
    ink: str
    grey: str
    line: str
    shade: str
    """Behind lanes outside the key, rulers and margins."""
    transport: str
    """Behind the transport bar."""
    transport_button: str
    transport_ink: str
    transport_grey: str
    accent: str
    accent_text: str
    """The accent where it is text on the page."""
    right: str
    wrong: str
    doubtful: str
    black_key: str
    white_key: str
    voices: tuple[str, ...]


DAY = Theme(
    paper="#F6F2EA",
    page="#FFFDF9",
    ink="#23272E",
    grey="#5E6A74",
    line="#DED9CD",
    shade="#EFE9DD",
    transport="#23272E",
    transport_button="#343A43",
    transport_ink="#FFFDF9",
    transport_grey="#A9B3BC",
    accent="#C4793A",
    accent_text="#97531A",
    right="#2F6B5B",
    wrong="#B3402E",
    doubtful="#A87B0E",
    black_key="#343A43",
    white_key="#FFFDF9",
    voices=("#3F6C99", "#C4793A", "#3E8068", "#84587F", "#8A4B43", "#6F7436", "#3D7F8C", "#6B5B95"),
)

EVENING = Theme(
    paper="#1E2227",
    page="#272C32",
    ink="#ECE7DC",
    grey="#A3AEB8",
    line="#3D444C",
    shade="#22262B",
    transport="#14171B",
    transport_button="#2C3239",
    transport_ink="#FFFDF9",
    transport_grey="#A9B3BC",
    accent="#D9914F",
    accent_text="#E2A469",
    right="#6DB39E",
    wrong="#E58470",
    doubtful="#D8AE4A",
    black_key="#14171B",
    white_key="#4A525B",
    voices=("#7BA7D3", "#D9914F", "#6FB397", "#BD8EB8", "#C98379", "#A9AE62", "#6FB5C2", "#A495CC"),
)


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

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
    strip: str
    """Behind the sounding strip."""
    strip_button: str
    strip_ink: str
    strip_grey: str
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
    strip="#23272E",
    strip_button="#343A43",
    strip_ink="#FFFDF9",
    strip_grey="#A9B3BC",
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
    strip="#14171B",
    strip_button="#2C3239",
    strip_ink="#FFFDF9",
    strip_grey="#A9B3BC",
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
    top, bottom = QColor(colour), QColor(ground)
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
        """Whether the voice is told from one eight before it by a stripe."""
        return index // len(self.theme.voices) % 2 == 1

    def style_sheet(self) -> str:
        """The style sheet of the whole window."""
        t, px = self.theme, self.px
        return f"""
        QWidget {{ background: {t.paper}; color: {t.ink}; font-size: {px(13)}px; }}
        QMainWindow::separator {{ background: {t.line}; width: 1px; height: 1px; }}
        QMenuBar {{ background: {t.paper}; padding: 2px 6px; }}
        QMenuBar::item {{ padding: {px(3)}px {px(8)}px; background: transparent; }}
        QMenuBar::item:selected, QMenu::item:selected {{ background: {t.shade}; color: {t.ink}; border-radius: 4px; }}
        QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
        QMenu {{ background: {t.page}; border: 1px solid {t.line}; padding: 4px; }}
        QMenu::item {{ padding: {px(5)}px {px(22)}px; }}
        QMenu::item:disabled {{ color: {t.grey}; }}
        QMenu::separator {{ height: 1px; background: {t.line}; margin: 4px 8px; }}
        QSplitter::handle {{ background: {t.line}; }}
        QPlainTextEdit {{ background: {t.page}; border: none; selection-background-color: {self.wash.name()};
                          selection-color: {t.ink}; }}
        QScrollArea, QListView {{ border: none; background: {t.paper}; }}
        QScrollBar:vertical {{ background: transparent; width: {px(10)}px; margin: 0; }}
        QScrollBar:horizontal {{ background: transparent; height: {px(10)}px; margin: 0; }}
        QScrollBar::handle {{ background: {mixed(t.grey, t.paper, 0.45).name()}; border-radius: {px(4)}px;
                              min-width: {px(28)}px; min-height: {px(28)}px; margin: 1px; }}
        QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
        QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
        QStatusBar {{ background: {t.paper}; border-top: 1px solid {t.line}; }}
        QStatusBar::item {{ border: none; }}
        QStatusBar QLabel {{ color: {t.grey}; padding: 0 {px(6)}px; }}
        QLineEdit {{ background: {t.page}; border: 1px solid {t.line}; border-radius: {px(4)}px; padding: {px(3)}px;
                     selection-background-color: {self.wash.name()}; selection-color: {t.ink}; }}
        QLineEdit:focus {{ border: 2px solid {t.accent}; }}
        #completions {{ background: {t.page}; border: 1px solid {t.grey}; }}
        #completions::item {{ padding: {px(2)}px {px(6)}px; }}
        #completions::item:selected {{ background: {self.wash.name()}; color: {t.ink}; }}
        QToolTip {{ background: {t.page}; color: {t.ink}; border: 1px solid {t.line}; padding: 3px; }}
        QPushButton {{ background: {t.page}; border: 1px solid {t.line}; border-radius: {px(5)}px;
                       padding: {px(5)}px {px(12)}px; }}
        QPushButton:hover {{ border-color: {t.grey}; }}
        QPushButton:focus {{ border: 2px solid {t.accent}; }}
        #findingFix {{ background: transparent; border: 1px solid transparent; border-radius: {px(4)}px;
                       color: {t.right}; padding: {px(2)}px {px(5)}px; text-align: left; }}
        #findingFix:hover {{ background: {t.shade}; text-decoration: underline; }}
        #findingFix:focus, #findingCard:focus {{ border-color: {t.accent}; }}
        #grid {{ font-size: {px(11)}px; }}
        #cellEditor {{ padding: 0 2px; }}
        #playingKeys:checked {{ background: {t.accent}; color: #14171B; }}
        #voiceName {{ text-align: left; border-color: transparent; background: transparent; }}
        #voiceName:checked {{ background: {t.page}; border-color: {t.accent}; }}
        #voiceToggle {{ padding: {px(4)}px {px(8)}px; }}
        #voiceToggle:checked {{ background: {t.accent}; color: #14171B; }}
        #panelName {{ background: transparent; border: 2px solid transparent; border-radius: 0;
                      padding: {px(4)}px {px(7)}px; color: {t.grey}; }}
        #panelName:checked {{ color: {t.ink}; border-bottom-color: {t.accent}; }}
        #panelName:hover {{ color: {t.ink}; }}
        #panelName:focus {{ border-color: {t.accent}; }}
        #panelTitle {{ font-weight: bold; padding: {px(9)}px {px(12)}px {px(4)}px {px(12)}px; }}
        #panelNote {{ color: {t.grey}; padding: {px(2)}px {px(12)}px; }}
        #notice {{ background: {t.page}; border-left: {px(5)}px solid {t.wrong}; border-bottom: 1px solid {t.line}; }}
        #notice[good="true"] {{ border-left-color: {t.right}; }}
        #notice QLabel {{ background: transparent; padding: {px(7)}px; }}
        #strip, #strip QWidget {{ background: {t.strip}; color: {t.strip_ink}; }}
        #strip QPushButton {{ padding: 2px {px(6)}px; background: {t.strip_button};
                              border: 1px solid {t.strip_button};
                              border-radius: {px(6)}px; }}
        #strip QPushButton:checked {{ background: {t.accent}; color: #14171B; }}
        #strip QPushButton:hover {{ border-color: {t.strip_grey}; }}
        #strip QPushButton:focus {{ border: 2px solid {t.accent}; }}
        #strip QPushButton:disabled {{ color: {t.strip_grey}; }}
        #strip #fieldName {{ color: {t.strip_grey}; font-size: {px(11)}px; }}
        #strip #light {{ color: {t.accent}; font-size: {px(11)}px; }}
        #strip #fieldValue {{ font-size: {px(14)}px; font-weight: bold; }}
        #strip QPushButton#fieldValue {{ background: transparent; border: none;
                                         border-bottom: 1px dotted {t.strip_grey};
                                         border-radius: 0; padding: 0; text-align: left; }}
        #strip QPushButton#fieldValue:focus {{ border: 1px solid {t.accent}; }}
        #strip QLineEdit {{ background: {t.strip_button}; color: {t.strip_ink}; }}
        #strip QSlider::groove:horizontal {{ height: {px(4)}px; background: {t.strip_button}; border-radius: 2px; }}
        #strip QSlider::handle:horizontal {{ background: {t.accent}; width: {px(12)}px; height: {px(12)}px;
                                             margin: -{px(4)}px 0; border-radius: {px(6)}px; }}
        #strip QSlider:focus {{ border: 1px solid {t.accent}; border-radius: 3px; }}
        """

    @property
    def wash(self) -> QColor:
        """A light wash of the accent: selections, the reading column."""
        return mixed(self.theme.accent, self.theme.page, 0.32)


def look_for(evening: bool, projector: bool) -> Look:
    """The look by what the menu says."""
    return Look(EVENING if evening else DAY, 1.5 if projector else 1.0)

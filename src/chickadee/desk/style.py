"""The style sheet of the whole window."""

from __future__ import annotations

from .theme import EVENING, Look, mixed

__all__ = ["style_sheet"]


def style_sheet(look: Look) -> str:
    """Return the style sheet of Qt's own parts."""
    evening = _evening(look) if look.theme is EVENING else ""
    return _frame(look) + _controls(look) + _transport_bar(look) + evening


def _frame(look: Look) -> str:
    """Menus, texts, lists, scroll bars and the status line."""
    t = look.theme
    px = look.px
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
    QPlainTextEdit {{ background: {t.page}; border: none; selection-background-color: {look.wash.name()};
                      selection-color: {t.ink}; }}
    QScrollArea, QListView {{ border: none; background: {t.paper}; }}
    QListWidget::item {{ padding: {px(4)}px {px(6)}px; }}
    QListWidget::item:selected {{ background: {look.wash.name()}; color: {t.ink}; }}
    QComboBox QAbstractItemView {{ background: {t.page}; border: 1px solid {t.grey};
                                   selection-background-color: {look.wash.name()}; selection-color: {t.ink}; }}
    QScrollBar:vertical {{ background: transparent; width: {px(10)}px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: {px(10)}px; margin: 0; }}
    QScrollBar::handle {{ background: {mixed(t.grey, t.paper, 0.45).name()}; border-radius: {px(4)}px;
                          min-width: {px(28)}px; min-height: {px(28)}px; margin: 1px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QStatusBar {{ background: {t.paper}; border-top: 1px solid {t.line}; }}
    QStatusBar::item {{ border: none; }}
    QStatusBar QLabel {{ color: {t.grey}; padding: 0 {px(6)}px; }}
    """


def _controls(look: Look) -> str:
    """Fields, buttons, panels and messages."""
    t = look.theme
    px = look.px
    return f"""
    QLineEdit {{ background: {t.page}; border: 1px solid {t.line}; border-radius: {px(4)}px; padding: {px(3)}px;
                 selection-background-color: {look.wash.name()}; selection-color: {t.ink}; }}
    QLineEdit:focus {{ border: 2px solid {t.accent}; }}
    #completions {{ background: {t.page}; border: 1px solid {t.grey}; }}
    #completions::item {{ padding: {px(2)}px {px(6)}px; }}
    #completions::item:selected {{ background: {look.wash.name()}; color: {t.ink}; }}
    QToolTip {{ background: {t.page}; color: {t.ink}; border: 1px solid {t.line}; padding: 3px; }}
    QAbstractSpinBox {{ selection-background-color: {look.wash.name()}; selection-color: {t.ink}; }}
    QPushButton {{ background: {t.page}; border: 1px solid {t.line}; border-radius: {px(5)}px;
                   padding: {px(5)}px {px(12)}px; }}
    QPushButton:hover {{ border-color: {t.grey}; }}
    QPushButton:focus {{ border: 2px solid {t.accent}; }}
    QTableView {{ background: {t.page}; border: 1px solid {t.line}; selection-background-color: {look.wash.name()};
                  selection-color: {t.ink}; }}
    QProgressBar {{ background: {t.page}; border: 1px solid {t.line}; border-radius: {px(4)}px; text-align: center; }}
    QProgressBar::chunk {{ background: {look.wash.name()}; }}
    QSlider::groove:horizontal {{ height: {px(4)}px; background: {t.line}; border-radius: 2px; }}
    QSlider::handle:horizontal {{ background: {t.accent}; width: {px(14)}px; margin: -{px(5)}px 0;
                                  border-radius: {px(7)}px; }}
    QSlider:focus {{ border: 1px solid {t.accent}; border-radius: 3px; }}
    #findingFix {{ background: transparent; border: 1px solid transparent; border-radius: {px(4)}px;
                   color: {t.right}; padding: {px(2)}px {px(5)}px; text-align: left; }}
    #findingFix:hover {{ background: {t.shade}; text-decoration: underline; }}
    #findingFix:focus, #findingCard:focus {{ border-color: {t.accent}; }}
    #grid {{ font-size: {px(11)}px; }}
    #cellEditor {{ padding: 0 2px; }}
    #playingKeys:checked, #microphone:checked, #choice:checked {{ background: {t.accent}; color: #14171B; }}
    #voiceName {{ text-align: left; border-color: transparent; background: transparent; }}
    #voiceName:checked {{ background: {t.page}; border-color: {t.accent}; }}
    #voiceToggle {{ padding: {px(4)}px {px(4)}px; }}
    #voiceToggle:checked {{ background: {t.accent}; color: #14171B; }}
    #groupName {{ background: transparent; border: 2px solid transparent; border-radius: 0; font-weight: bold;
                  padding: {px(4)}px {px(6)}px; color: {t.grey}; }}
    #groupName:checked {{ color: {t.accent_text}; border-bottom-color: {t.accent}; }}
    #groupName:hover {{ color: {t.ink}; }}
    #groupName:focus {{ border-color: {t.accent}; }}
    #panelSize {{ padding: {px(1)}px {px(8)}px; font-size: {px(15)}px; }}
    #panelName {{ background: transparent; border: 2px solid transparent; border-radius: 0;
                  padding: {px(4)}px {px(7)}px; color: {t.grey}; }}
    #panelName:checked {{ color: {t.ink}; border-bottom-color: {t.accent}; }}
    #panelName:hover {{ color: {t.ink}; }}
    #panelName:focus {{ border-color: {t.accent}; }}
    #panelTitle {{ font-weight: bold; padding: {px(9)}px {px(12)}px {px(4)}px {px(12)}px; }}
    #panelNote {{ color: {t.grey}; padding: {px(2)}px {px(12)}px; }}
    #factName {{ color: {t.grey}; }}
    #notice {{ background: {t.page}; border-left: {px(5)}px solid {t.wrong}; border-bottom: 1px solid {t.line}; }}
    #notice[good="true"] {{ border-left-color: {t.right}; }}
    #notice QLabel {{ background: transparent; padding: {px(7)}px; }}
    """


def _evening(look: Look) -> str:
    """Boxes to check, whose edges the system draws too dark for the evening."""
    t = look.theme
    px = look.px
    return f"""
    QCheckBox::indicator {{ width: {px(13)}px; height: {px(13)}px; background: {t.page}; border: 1px solid {t.grey};
                            border-radius: {px(3)}px; }}
    QCheckBox::indicator:checked {{ background: {t.accent}; border-color: {t.accent}; }}
    QCheckBox::indicator:focus {{ border: 2px solid {t.accent}; }}
    """


def _transport_bar(look: Look) -> str:
    """The transport bar."""
    t = look.theme
    px = look.px
    return f"""
    #transportBar, #transportBar QWidget {{ background: {t.transport}; color: {t.transport_ink}; }}
    #transportBar QPushButton {{ padding: 2px {px(6)}px; background: {t.transport_button};
                          border: 1px solid {t.transport_button};
                          border-radius: {px(6)}px; }}
    #transportBar QPushButton:checked {{ background: {t.accent}; color: #14171B; }}
    #transportBar QPushButton:hover {{ border-color: {t.transport_grey}; }}
    #transportBar QPushButton:focus {{ border: 2px solid {t.accent}; }}
    #transportBar QPushButton:disabled {{ color: {t.transport_grey}; }}
    #transportBar #fieldName {{ color: {t.transport_grey}; font-size: {px(11)}px; }}
    #transportBar #light {{ color: {t.accent}; font-size: {px(11)}px; }}
    #transportBar #fieldValue {{ font-size: {px(14)}px; font-weight: bold; }}
    #transportBar QPushButton#fieldValue {{ background: transparent; border: none;
                                     border-bottom: 1px dotted {t.transport_grey};
                                     border-radius: 0; padding: 0; text-align: left; }}
    #transportBar QPushButton#fieldValue:focus {{ border: 1px solid {t.accent}; }}
    #transportBar QLineEdit {{ background: {t.transport_button}; color: {t.transport_ink}; }}
    #transportBar QSlider::groove:horizontal {{ height: {px(4)}px; background: {t.transport_button};
                                         border-radius: 2px; }}
    #transportBar QSlider::handle:horizontal {{ background: {t.accent}; width: {px(12)}px; height: {px(12)}px;
                                         margin: -{px(4)}px 0; border-radius: {px(6)}px; }}
    #transportBar QSlider:focus {{ border: 1px solid {t.accent}; border-radius: 3px; }}
    """

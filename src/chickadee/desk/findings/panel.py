"""The findings panel: a card for each finding; choosing it goes there, its fixes are buttons."""

from __future__ import annotations

from collections import Counter

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLayout,
    QPushButton,
    QVBoxLayout,
)

from ...checks import CHECKS
from ...display import words
from ...display.scene import Scene
from ...sheet import Finding, Fix, Reading, Severity
from ...sheet.finding import alike, fixes_of_all, kind_of
from ..pauses import after_pause
from ..plain_text import PlainLabel, hint_of
from ..theme import Look
from ..timeline.squiggle import severity_color
from ..working.panel import Panel, PanelContext

__all__ = ["FindingsPanel"]

_MOST_CARDS = 100
_AT_ONCE = 12  # cards that are made at once
_PAUSE_MILLISECONDS = 120  # for more, a pause is waited for
_SIGNS = {Severity.ERROR: "✗", Severity.WARNING: "!", Severity.HINT: "i"}
_WHY = {check.rule.code: check.why for check in CHECKS}
_WORDS = {Severity.ERROR: "Error", Severity.WARNING: "Warning", Severity.HINT: "Hint"}


class FindingsPanel(Panel):
    """Lists what was found in the tune."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self._reading: Reading | None = None
        self.title = PlainLabel("Findings")
        self.title.setObjectName("panelTitle")
        self.cards: list[_Card] = []
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self._fill_now)
        self._list = QVBoxLayout()
        self._list.setSizeConstraint(QLayout.SizeConstraint.SetMinimumSize)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.title)
        column.addLayout(self._list, 1)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        if self._reading is not None:
            self._fill(self._reading)

    def go_to(self, finding: Finding) -> None:
        """Select the text of a finding, to write there."""
        self.context.selection.sheet_wanted.emit(finding.start, finding.end)

    def go_to_next(self) -> None:
        """Go to the finding after the caret, or to the first."""
        here = self.context.selection.text
        found = self.context.document.reading.findings
        if found:
            self.go_to(next((each for each in found if (each.start, each.end) > here), found[0]))

    def apply(self, fix: Fix) -> None:
        """Change the sheet as a fix proposes."""
        start = min((edit.start for edit in fix.edits), default=0)
        self.context.document.apply(fix.edits)
        self.context.selection.sheet_wanted.emit(start, start)

    def apply_to_all(self, finding: Finding) -> None:
        """Apply the first fix of every finding of a kind, as one step of the undo."""
        alike_ones = alike(self.context.document.reading.findings, finding)
        self.context.document.apply(fixes_of_all(alike_ones))
        self.context.selection.sheet_wanted.emit(finding.start, finding.start)

    def show_scene(self, scene: Scene) -> None:
        """List a reading's findings."""
        reading = scene.reading
        before, self._reading = self._reading, reading
        if before is not None and _said(before) == _said(reading):
            for card, finding in zip(self.cards, reading.findings, strict=False):
                card.finding = finding  # the same words, perhaps at other places
        elif len(reading.findings) <= _AT_ONCE:
            self._fill(reading)
        else:  # many cards take longer to make than all else that a key press does
            for card in self.cards:
                card.setEnabled(False)
            self._show_count(reading)
            self._due.start()

    def _fill_now(self) -> None:
        if self._reading is not None:
            self._fill(self._reading)

    def _show_count(self, reading: Reading) -> None:
        count = len(reading.findings)
        self.title.setText(f"Findings  {count}" if count else "Findings")

    def _fill(self, reading: Reading) -> None:
        while (item := self._list.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        px = self.look.px
        self._list.setContentsMargins(px(8), px(4), px(8), px(8))
        self._list.setSpacing(px(7))
        self._due.stop()
        self._show_count(reading)
        count = len(reading.findings)
        kinds = Counter(map(kind_of, reading.findings))
        self.cards = [_Card(self.look, each, kinds[kind_of(each)], self) for each in reading.findings[:_MOST_CARDS]]
        for card in self.cards:
            self._list.addWidget(card)
            card.fit(self.width())
        if not count:
            self._note(
                "Nothing to fix: every sign is understood and every bar adds up."
                if reading.song.notes
                else "What is wrong or unclear in the tune is listed here."
            )
        elif count > _MOST_CARDS:
            self._note(f"and {words.counted(count - _MOST_CARDS, 'more finding')}")
        self._list.addStretch()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        for card in self.cards:
            card.fit(self.width())

    def _note(self, text: str) -> None:
        note = PlainLabel(text)
        note.setObjectName("panelNote")
        note.setWordWrap(True)
        self._list.addWidget(note)


def _said(reading: Reading) -> tuple[bool, list[tuple[Severity, str, list[str]]]]:
    """Return the panel's sentence about a reading."""
    said = [(each.severity, each.message, [fix.title for fix in each.fixes]) for each in reading.findings]
    return bool(reading.song.notes), said


class _Card(QFrame):
    """One finding: a click or Enter goes there."""

    def __init__(self, look: Look, finding: Finding, count: int, panel: FindingsPanel) -> None:
        super().__init__()
        self.setObjectName("findingCard")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"{_WORDS[finding.severity]}: {finding.message}")
        self.setToolTip(hint_of(_WHY.get(finding.code, "")))
        self.finding = finding
        self._look = look
        self._panel = panel
        self.fixes = [self._fix_button(fix.title, place) for place, fix in enumerate(finding.fixes)]
        column = QVBoxLayout(self)
        column.setContentsMargins(look.px(30), look.px(7), look.px(8), look.px(5))
        column.setSpacing(look.px(2))
        message = PlainLabel(finding.message)
        message.setWordWrap(True)
        message.setStyleSheet("background: transparent")
        column.addWidget(message)
        row = QHBoxLayout()
        row.setContentsMargins(-look.px(2), 0, 0, 0)
        row.setSpacing(look.px(4))
        for button in self.fixes:
            row.addWidget(button)
        if self.fixes and count > 1:
            row.addWidget(self._all_button(count))
        row.addStretch()
        column.addLayout(row)

    def fit(self, panel_width: int) -> None:
        """Be as high as the message needs when it is broken into lines."""
        layout = self.layout()
        px = self._look.px
        if layout is not None:
            self.setMinimumHeight(layout.totalHeightForWidth(max(px(120), panel_width - px(28))))

    def _fix_button(self, title: str, place: int) -> QPushButton:
        button = QPushButton(title)
        button.setObjectName("findingFix")
        button.setToolTip("Apply this fix")
        button.clicked.connect(lambda: self._panel.apply(self.finding.fixes[place]))
        return button

    def _all_button(self, count: int) -> QPushButton:
        button = QPushButton(f"All {count}")
        button.setObjectName("findingFix")
        button.setAccessibleName(f"{self.finding.fixes[0].title}: all {count}")
        button.setToolTip(hint_of(f"Do the first of these for all {count} findings of this kind"))
        button.clicked.connect(lambda: self._panel.apply_to_all(self.finding))
        return button

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._panel.go_to(self.finding)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._panel.go_to(self.finding)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        look = self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colour = severity_color(look, self.finding.severity)
        painter.setPen(QPen(look.color("accent" if self.hasFocus() else "line"), 2 if self.hasFocus() else 1))
        painter.setBrush(look.color("page"))
        painter.drawRoundedRect(self.rect().adjusted(1, 1, -1, -1), 4, 4)
        painter.fillRect(1, 2, look.px(4), self.height() - 4, colour)
        painter.setPen(colour)
        painter.setFont(look.font(13, bold=True))
        painter.drawText(
            look.px(12),
            look.px(8),
            look.px(14),
            look.px(16),
            Qt.AlignmentFlag.AlignCenter,
            _SIGNS[self.finding.severity],
        )

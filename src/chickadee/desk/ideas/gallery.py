"""Ideas side by side: each with its contour and its facts."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QModelIndex, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPen, QResizeEvent
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from ...display.contour import contour_of
from ...display.idea import Idea
from ..plain_text import hint_of
from ..theme import Look

__all__ = ["Gallery"]

_IDEA = Qt.ItemDataRole.UserRole
_LOCKED = Qt.ItemDataRole.UserRole + 1
# pixels of an idea at scale 1
_HEIGHT = 62
_NARROWEST = 250
_PLAYED = "heard"


class Gallery(QListWidget):
    """``wanted`` carries the row of an idea that is to be heard: clicked, or Return pressed on it."""

    wanted = pyqtSignal(int)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.look = look
        self.playing = -1
        """The row of the idea that is heard; -1 for none."""
        self.setAccessibleName("Ideas")
        self.setFlow(QListWidget.Flow.LeftToRight)
        self.setWrapping(True)
        self.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.setUniformItemSizes(True)
        self.setMovement(QListWidget.Movement.Static)
        self.setVerticalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setItemDelegate(_IdeaDelegate(self))
        self.itemClicked.connect(lambda item: self.wanted.emit(self.row(item)))

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self.look = look
        self._fit()

    @property
    def ideas(self) -> list[Idea]:
        """The content that is shown."""
        return [self.item(row).data(_IDEA) for row in range(self.count())]  # type: ignore[union-attr]

    @property
    def chosen(self) -> Idea | None:
        """The idea that is marked."""
        item = self.currentItem()
        return item.data(_IDEA) if item is not None else None

    @property
    def locked(self) -> Idea | None:
        """The idea that stays when others come."""
        return next((item.data(_IDEA) for item in self._items() if item.data(_LOCKED)), None)

    def lock(self, row: int) -> None:
        """Let one idea stay; -1 for none."""
        for place, item in enumerate(self._items()):
            item.setData(_LOCKED, place == row)
            self._describe(item)

    def show_ideas(self, ideas: Sequence[Idea]) -> None:
        """Show other ideas; one that is locked and among them stays so."""
        locked = self.locked
        chosen = self.chosen
        self.clear()
        for idea in ideas:
            self.add(idea, idea is locked)
        if chosen is not None and chosen in ideas:
            self.setCurrentRow([*ideas].index(chosen))

    def add(self, idea: Idea, locked: bool = False) -> None:
        """Show one more."""
        item = QListWidgetItem()
        item.setData(_IDEA, idea)
        item.setData(_LOCKED, locked)
        self._describe(item)
        self.addItem(item)

    def show_playing(self, row: int) -> None:
        """Mark the idea that is heard."""
        self.playing = row
        self.viewport().update()  # type: ignore[union-attr]

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Return hears the marked idea."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.currentRow() >= 0:
            self.wanted.emit(self.currentRow())
        else:
            super().keyPressEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _items(self) -> list[QListWidgetItem]:
        return [item for row in range(self.count()) if (item := self.item(row)) is not None]

    def _describe(self, item: QListWidgetItem) -> None:
        idea = item.data(_IDEA)
        locked = ", locked" if item.data(_LOCKED) else ""
        item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{idea.title}, {idea.facts}{locked}")
        item.setToolTip(hint_of(f"{idea.title}: {idea.facts}"))

    def _fit(self) -> None:
        """As many columns as can be read, each as wide as the others."""
        bar = self.verticalScrollBar()
        wide = self.width() - (bar.sizeHint().width() if bar is not None else 0) - 4
        columns = max(1, wide // self.look.px(_NARROWEST))
        self.setGridSize(QSize(max(40, wide // columns), self.look.px(_HEIGHT)))


class _IdeaDelegate(QStyledItemDelegate):
    def __init__(self, gallery: Gallery) -> None:
        super().__init__(gallery)
        self._gallery = gallery

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return self._gallery.gridSize()

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        look = self._gallery.look
        px = self._gallery.look.px
        idea = index.data(_IDEA)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        focused = self._gallery.hasFocus() and chosen
        box = option.rect.adjusted(px(3), px(2), -px(3), -px(2))
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        edge = "grey" if chosen else "line"
        painter.setPen(QPen(look.color("accent" if focused else edge), 2 if chosen else 1))
        painter.setBrush(look.color("page"))
        painter.drawRoundedRect(box, px(5), px(5))
        inside = box.adjusted(px(8), px(4), -px(8), -px(4))
        state = _PLAYED if index.row() == self._gallery.playing else ""
        state = " · ".join(filter(None, ("locked" if index.data(_LOCKED) else "", state)))
        painter.setFont(look.font(11, bold=True))
        painter.setPen(look.color("accent_text"))
        painter.drawText(inside, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight, state)
        room = inside.width() - painter.fontMetrics().horizontalAdvance(state) - px(8)
        for font, colour, text, top, wide in (
            (look.font(12, bold=True), "ink", idea.title, 0, room),
            (look.font(11), "grey", idea.facts, px(38), inside.width()),
        ):
            painter.setFont(font)
            painter.setPen(look.color(colour))
            shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, wide)
            painter.drawText(inside.adjusted(0, top, 0, px(6)), Qt.AlignmentFlag.AlignTop, shown)
        self._paint_contour(painter, idea, QRect(inside.left(), inside.top() + px(17), inside.width(), px(19)))
        painter.restore()

    def _paint_contour(self, painter: QPainter, idea: Idea, box: QRect) -> None:
        colour = self._gallery.look.voice(idea.voice)
        thick = self._gallery.look.px(3)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        for start, end, height in contour_of(idea.song, idea.voice):
            left = box.left() + start * box.width()
            right = box.left() + end * box.width()
            top = box.bottom() - thick - height * (box.height() - thick)
            painter.fillRect(round(left), round(top), max(2, round(right - left) - 1), thick, colour)

"""The shelf: the tunes of a folder, each with its contour, length and findings."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QModelIndex, QPoint, QRect, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from ...display import words
from ...display.shelf_tune import Tune, is_read_at_once, shelf_tune
from ...files import is_folder, is_there, tunes_in
from ...formats.forms import FORMS
from ...sheet import Reading
from ...workers import Lost, Work
from ..clicks import add_line
from ..document import Document
from ..eliding import ElidedLabel
from ..pauses import after_pause
from ..plain_text import PlainLabel, hint_of
from ..theme import Look
from ..waiting import WorkThread

__all__ = ["ASKED", "ShelfPanel"]

ASKED = ("Rename the file…", "Duplicate", "Move to the trash")
"""The lines of the menu of a tune on the shelf."""
_SETTLE_MILLISECONDS = 300
_FOLLOW_MILLISECONDS = 80  # the open tune need not keep up with every key
_TUNE = Qt.ItemDataRole.UserRole
_SUFFIXES = tuple(suffix for form in FORMS if form.is_on_shelf for suffix in form.suffixes)


class ShelfPanel(QWidget):
    """Lists the tunes of a folder. ``tune_chosen`` carries the path of one that was clicked."""

    tune_chosen = pyqtSignal(object)
    asked = pyqtSignal(str, object)
    """An action on a tune, one of ASKED, and its path."""

    def __init__(self, look: Look, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._document = document
        self._folder: Path | None = None
        self._open: Path | None = None
        self._waiting: list[QListWidgetItem] = []
        self._large: list[Path] = []  # files that may take long to be read
        self._elsewhere: WorkThread | None = None
        self.title = ElidedLabel("Shelf")
        self.title.setObjectName("panelTitle")
        self.note = PlainLabel()
        self.note.setObjectName("panelNote")
        self.note.setWordWrap(True)
        self.list = QListWidget()
        self.list.setAccessibleName("Tunes on the shelf")
        self.list.setItemDelegate(_TuneDelegate(self))
        self.list.setVerticalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemClicked.connect(self._choose)
        self.list.itemActivated.connect(self._choose)
        self.list.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.list.customContextMenuRequested.connect(self._offer)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search the shelf")
        self.search.setAccessibleName("Search the shelf")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._filter)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.directoryChanged.connect(lambda: self._settled.start())
        self._settled = after_pause(self, _SETTLE_MILLISECONDS, self._follow_folder)
        due = after_pause(self, _FOLLOW_MILLISECONDS, self._follow_document)
        document.reading_changed.connect(due.start)
        document.file_changed.connect(self._follow_document)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for widget in (self.title, self.note):
            column.addWidget(widget)
        self._searching = QHBoxLayout()
        self._searching.addWidget(self.search)
        column.addLayout(self._searching)
        column.addWidget(self.list, 1)
        self._reader = QTimer(self)
        self._reader.setInterval(0)
        self._reader.timeout.connect(self._read_next)

    @property
    def look(self) -> Look:
        """The look to draw with."""
        return self._look

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self._searching.setContentsMargins(look.px(12), look.px(2), look.px(10), look.px(4))
        self.list.scheduleDelayedItemsLayout()

    def show_folder(self, folder: Path | None) -> None:
        """List a folder's tunes; their contours follow one at a time, so that many do not hold up the window."""
        self._folder = folder
        self.stop_work()
        self._large = []
        if watched := self._watcher.directories():
            self._watcher.removePaths(watched)
        if folder and is_folder(folder):
            self._watcher.addPath(str(folder))
        self.list.clear()
        paths = tunes_in(folder, _SUFFIXES) if folder else []
        self.title.show_words(folder.name if folder else "Shelf")
        self.note.setText(words.counted(len(paths), "tune") if paths else "The tunes in your folder are listed here.")
        for path in paths:
            item = QListWidgetItem()
            self._put(item, Tune(path, path.stem.replace("-", " ").capitalize()))
            self.list.addItem(item)
        self._waiting = self._items()
        self._reader.start()
        self._filter()

    def menu_for(self, path: Path) -> QMenu:
        """Return the menu of a tune on the shelf."""
        menu = QMenu(self)
        for what in ASKED:
            add_line(menu, what, self.asked.emit, what, path)
        return menu

    def _offer(self, at: QPoint) -> None:
        item = self.list.itemAt(at)
        if item is not None:
            menu = self.menu_for(item.data(_TUNE).path)
            menu.aboutToHide.connect(self._mark_open)  # the press has marked the tune that is asked about
            menu.popup(self.list.mapToGlobal(at))

    def _mark_open(self) -> None:
        opened = (item for item in self._items() if item.data(_TUNE).path == self._open)
        self.list.setCurrentItem(next(opened, None))

    def _filter(self) -> None:
        """Hide what the search does not find, by title or file name."""
        wanted = self.search.text().casefold()
        for item in self._items():
            tune = item.data(_TUNE)
            item.setHidden(wanted not in f"{tune.title} {tune.path.stem}".casefold())

    def _follow_folder(self) -> None:
        """Tunes came, went or changed in the folder: those that are new or changed are read again."""
        if self._folder is None:
            return
        there = tunes_in(self._folder, _SUFFIXES)
        if there != [item.data(_TUNE).path for item in self._items()]:
            current = self.list.currentItem()
            path = current.data(_TUNE).path if current is not None else None
            self.show_folder(self._folder)
            for item in self._items():
                if item.data(_TUNE).path == path:
                    self.list.setCurrentItem(item)
        else:
            self._waiting = self._items()
            self._reader.start()

    def _follow_document(self) -> None:
        self.show_current(self._document.path, self._document.reading)

    def show_current(self, path: Path | None, reading: Reading) -> None:
        """Mark the tune that is open and follow its changes."""
        self._open = path
        if path is not None and path.parent != self._folder:
            self.show_folder(path.parent)
        for item in self._items():
            if path is not None and item.data(_TUNE).path == path:
                self._put(item, Tune.of(path, reading))
                self.list.setCurrentItem(item)
                return
        if path is not None and is_there(path):
            self.show_folder(path.parent)
            if any(item.data(_TUNE).path == path for item in self._items()):
                self.show_current(path, reading)
        else:
            self.list.setCurrentItem(None)

    def read_all(self) -> None:
        """Read every tune now (for pictures and tests)."""
        for item in self._waiting:
            self._put(item, shelf_tune(None, item.data(_TUNE).path))
        self._waiting = []

    def _items(self) -> list[QListWidgetItem]:
        return [item for row in range(self.list.count()) if (item := self.list.item(row)) is not None]

    def _read_next(self) -> None:
        if not self._waiting:
            self._reader.stop()
            self._read_elsewhere()
            return
        item = self._waiting.pop(0)
        if not is_read_at_once(item.data(_TUNE).path):
            self._large.append(item.data(_TUNE).path)
            return
        self._put(item, shelf_tune(None, item.data(_TUNE).path))

    def stop_work(self) -> None:
        """End what reads files from elsewhere."""
        if self._elsewhere is not None:
            self._elsewhere.stop()
            self._elsewhere.deleteLater()
            self._elsewhere = None

    def _read_elsewhere(self) -> None:
        """Read what may take long, in a process of its own."""
        self.stop_work()
        paths = self._large
        self._large = []
        if paths:
            self._elsewhere = WorkThread(Work(shelf_tune, None, paths, count=1), self)
            self._elsewhere.done.connect(lambda index, tune: self._take(paths[index], tune))
            self._elsewhere.start()

    def _take(self, path: Path, tune: Tune | Lost) -> None:
        if isinstance(tune, Lost):
            tune = Tune(path, path.stem, "reading it took more than this computer has")
        for item in self._items():
            if item.data(_TUNE).path == path:
                self._put(item, tune)

    def _put(self, item: QListWidgetItem, tune: Tune) -> None:
        item.setData(_TUNE, tune)
        item.setToolTip(hint_of(str(tune.path)))
        state = words.counted(tune.findings, "finding") if tune.findings else tune.form or "no findings"
        item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{tune.title}, {tune.length}, {state}")

    def _choose(self, item: QListWidgetItem) -> None:
        self.tune_chosen.emit(item.data(_TUNE).path)


class _TuneDelegate(QStyledItemDelegate):
    def __init__(self, panel: ShelfPanel) -> None:
        super().__init__(panel)
        self._panel = panel

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(self._panel.look.px(120), self._panel.look.px(66))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        look = self._panel.look
        px = self._panel.look.px
        tune = index.data(_TUNE)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        box = option.rect.adjusted(px(6), px(2), -px(6), -px(2))
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if chosen:
            focused = bool(option.state & QStyle.StateFlag.State_HasFocus)
            painter.setPen(QPen(look.color("accent" if focused else "line"), 1.5))
            painter.setBrush(look.color("page"))
            painter.drawRoundedRect(box, px(5), px(5))
        inside = box.adjusted(px(8), px(5), -px(8), -px(5))
        state, colour = (
            ("✓", "right") if not tune.findings else (str(tune.findings), "wrong" if tune.errors else "accent_text")
        )
        if tune.form:
            state = tune.form
            colour = "grey"
        if tune.contour or tune.findings:
            painter.setPen(look.color(colour))
            painter.setFont(look.font(12, bold=True))
            painter.drawText(inside, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight, state)
        painter.setPen(look.color("ink"))
        painter.setFont(look.font(13, bold=chosen))
        room = inside.width() - px(18 if not tune.form else 46)
        title = painter.fontMetrics().elidedText(tune.title, Qt.TextElideMode.ElideRight, room)
        painter.drawText(inside, Qt.AlignmentFlag.AlignTop, title)
        painter.setPen(look.color("grey"))
        painter.setFont(look.font(11))
        painter.drawText(inside.adjusted(0, px(17), 0, 0), Qt.AlignmentFlag.AlignTop, tune.length)
        _paint_contour(
            painter, QRect(inside.left(), inside.bottom() - px(15), inside.width(), px(14)), tune, look.voice(0)
        )
        painter.restore()


def _paint_contour(painter: QPainter, box: QRect, tune: Tune, colour: QColor) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    for start, end, height in tune.contour:
        left = box.left() + start * box.width()
        right = box.left() + end * box.width()
        painter.fillRect(
            round(left),
            round(box.bottom() - 2 - height * (box.height() - 3)),
            max(1, round(right - left) - 1),
            2,
            colour,
        )

"""The panel of what was found: the voices that came, how they are snapped and written, and what was left out."""

from __future__ import annotations

from fractions import Fraction
from operator import attrgetter

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap, QResizeEvent
from PyQt6.QtWidgets import (
    QBoxLayout,
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
)

from ...display import words
from ...display.contour import contour_of
from ...display.scene import Scene
from ...files import printable
from ...formats.imported import AUTOMATIC
from ...song import Song
from ..clicks import on_click
from ..parts import plain_box
from ..plain_text import PlainLabel, RichLabel, escaped
from ..theme import Look
from ..working.panel import Panel, PanelContext

__all__ = ["FoundPanel"]

_SNAPS: dict[str, str | Fraction | None] = {
    "as it was meant": AUTOMATIC,
    "to whole beats": Fraction(1),
    "to halves of a beat": Fraction(1, 2),
    "to thirds of a beat": Fraction(1, 3),
    "to quarters of a beat": Fraction(1, 4),
    "not at all": None,
}
_LEAST_HEIGHT = 62  # pixels of the list at scale 1: two voices
_WIDE = 760  # pixels of the panel at scale 1
_NUMBER = Qt.ItemDataRole.UserRole


class FoundPanel(Panel):
    """Shows what came from elsewhere; each choice is seen at once on the timeline and in the sheet."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self.title = RichLabel()
        self.title.setWordWrap(True)
        self.voices = QListWidget()
        self.voices.setAccessibleName("Voices to take")
        self.voices.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        self.snap = plain_box(QComboBox())
        self.snap.setAccessibleName("Snapping")
        self.snap.addItems(_SNAPS)
        self.snap.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.phrases = QCheckBox("Name bars that come again")
        self.report = PlainLabel()
        self.report.setWordWrap(True)
        self.report.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.report.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.hear = QPushButton("Hear it")
        self.hear.setToolTip("Play the tune from its start")
        self.take = QPushButton("Take it as a new tune")
        self.take.setToolTip("Go on with the sheet as it is; undo still goes back")
        self._lay_out()
        self._filling = False
        self.voices.itemChanged.connect(self._choose_voices)
        self.snap.currentTextChanged.connect(lambda text: self._wish(snap=_SNAPS[text]))
        self.phrases.toggled.connect(lambda on: self._wish(phrases=on))
        on_click(self.hear, context.playback.play_or_stop)
        self.take.clicked.connect(context.arrivals.take)
        context.arrivals.brought.connect(self._show_found)
        context.arrivals.changed.connect(self._show_made)
        self._show_found()

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._column.setContentsMargins(*(look.px(side) for side in (12, 8, 12, 8)))
        self._column.setSpacing(look.px(6))
        self.voices.setIconSize(QSize(look.px(120), look.px(26)))
        self.voices.setMinimumHeight(look.px(_LEAST_HEIGHT))
        self._show_found()

    def show_scene(self, scene: Scene) -> None:
        """The sheet may no longer be as it was written."""
        self._show_made()

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        head = QHBoxLayout()
        choices = QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(self.hear)
        head.addWidget(self.take)
        choices.addWidget(PlainLabel("Snap"))
        choices.addWidget(self.snap)
        choices.addWidget(self.phrases)
        choices.addStretch()
        self._column.addLayout(head)
        self._column.addLayout(choices)
        self._below = QBoxLayout(QBoxLayout.Direction.TopToBottom)
        self._below.addWidget(self.voices, 2)
        self._below.addWidget(self.report, 1)
        self._column.addLayout(self._below, 1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The report stands beside the voices where there is room."""
        wide = self.width() > self.look.px(_WIDE)
        self._below.setDirection(QBoxLayout.Direction.LeftToRight if wide else QBoxLayout.Direction.TopToBottom)

    def _wish(self, **wishes: object) -> None:
        if not self._filling:
            self.context.arrivals.wish(**wishes)

    def _choose_voices(self, item: QListWidgetItem) -> None:
        if self._filling:
            return
        every = [each for row in range(self.voices.count()) if (each := self.voices.item(row)) is not None]
        taken = frozenset(each.data(_NUMBER) for each in every if each.checkState() is Qt.CheckState.Checked)
        if not taken:  # one is always taken
            self._filling = True
            item.setCheckState(Qt.CheckState.Checked)
            self._filling = False
            return
        self.context.arrivals.wish(voices=None if len(taken) == len(every) else taken)

    def _show_found(self) -> None:
        """Fill the page with what came."""
        arrivals = self.context.arrivals
        self._filling = True
        self.voices.clear()
        if arrivals.found is not None:
            song = arrivals.found.song
            chosen = arrivals.wishes.voices
            for index in range(len(song.voices)):
                item = QListWidgetItem(self._contour(song, index), _said_of(song, index))
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                taken = chosen is None or index + 1 in chosen
                item.setCheckState(Qt.CheckState.Checked if taken else Qt.CheckState.Unchecked)
                item.setData(_NUMBER, index + 1)
                self.voices.addItem(item)
            self.snap.setCurrentText(next(text for text, snap in _SNAPS.items() if snap == arrivals.wishes.snap))
            self.phrases.setChecked(arrivals.wishes.phrases)
        self._filling = False
        self._show_made()

    def _show_made(self) -> None:
        """Say what became of it, and let choices be made while the sheet is as it was written for them."""
        arrivals = self.context.arrivals
        made = self.context.arrivals.made
        if arrivals.found is None or made is None:
            self.title.setText(
                "Open a MIDI file, a score, a table or a list, or drop it on the window; "
                "what was found in it is shown here."
            )
            self.report.clear()
            if self.voices.count():
                self.voices.clear()
        else:
            count = words.counted(len(arrivals.found.song.notes), "note")
            voices = words.counted(len(arrivals.found.song.voices), "voice")
            self.title.setText(f"<b>{escaped(printable(arrivals.name))}</b>: {voices}, {count}.")
            lines = list(made.left_out)
            if not arrivals.is_untouched:
                lines.insert(0, "The sheet was changed since. Undo those changes to choose anew.")
            elif made.moved_worst >= 0.5:
                lines.insert(
                    0,
                    f"Strikes were moved by {made.moved_mean:.0f} ms on average, {made.moved_worst:.0f} ms at most.",
                )
            self.report.setText("\n".join(lines))
        free = arrivals.is_untouched
        for widget in (self.voices, self.snap, self.phrases, self.hear, self.take):
            widget.setEnabled(free)

    def _contour(self, song: Song, index: int) -> QIcon:
        look = self.look
        picture = QPixmap(look.px(120), look.px(26))
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        for start, end, height in contour_of(song, index):
            left = start * picture.width()
            width = max(2.0, (end - start) * picture.width() - 1)
            top = (1 - height) * (picture.height() - look.px(4))
            painter.fillRect(QRectF(left, top, width, look.px(3)), look.voice(index))
        painter.end()
        return QIcon(picture)


def _said_of(song: Song, index: int) -> str:
    """A voice in words: its name, sound, number of notes and range."""
    voice = song.voices[index]
    mine = [song.notes[place] for place in song.by_voice[index].tolist()]
    low = min(mine, key=attrgetter("number"))
    high = max(mine, key=attrgetter("number"))
    reach = "" if voice.is_drums else f", {low.pitch.pretty} to {high.pitch.pretty}"
    return f"{voice.name}: {words.counted(len(mine), 'note')}{reach}, {voice.sound}"

"""The Voices panel: which voice is edited, which are seen and heard, and with what sound."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QComboBox, QGridLayout, QLabel, QPushButton, QScrollArea, QWidget

from ...song import Song
from ...song.sounds import SOUNDS
from ..theme import Look

__all__ = ["VoicesPanel"]


class VoicesPanel(QScrollArea):
    """One line for each voice. ``brought_forward`` carries the voice that is to be edited, ``sound_given`` a voice
    and its new sound, ``changed`` tells that :attr:`silent` or :attr:`hidden` did."""

    brought_forward = pyqtSignal(int)
    sound_given = pyqtSignal(int, str)
    changed = pyqtSignal()

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Voices")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._look, self._song, self._front = look, Song(), 0
        self._made_for: object = None
        self._muted: set[str] = set()
        self._alone: set[str] = set()
        self._unseen: set[str] = set()
        self.rows: list[_VoiceRow] = []
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look, self._made_for = look, None
        self.show_song(self._song, self._front)

    @property
    def silent(self) -> frozenset[int]:
        """The voices that are not heard: those muted, and where some are to be heard alone all others."""
        return frozenset(
            index
            for index, voice in enumerate(self._song.voices)
            if voice.name in self._muted or (self._alone and voice.name not in self._alone)
        )

    @property
    def hidden(self) -> frozenset[int]:
        """The voices that are not drawn; the one that is edited always is."""
        voices = enumerate(self._song.voices)
        return frozenset(index for index, voice in voices if voice.name in self._unseen and index != self._front)

    def show_song(self, song: Song, front: int) -> None:
        """List a song's voices; the front one is edited."""
        names = [voice.name for voice in song.voices]
        for marks in (self._muted, self._alone, self._unseen):
            marks &= set(names)
        self._song, self._front = song, front
        made_for = [(voice.name, voice.sound) for voice in song.voices], self._look
        if made_for != self._made_for:
            self._made_for = made_for
            self._fill()
        for index, row in enumerate(self.rows):
            row.name.setChecked(index == front)

    def _fill(self) -> None:
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(*(self._look.px(10),) * 4)
        self.rows = []
        for index, voice in enumerate(self._song.voices):
            row = _VoiceRow(voice.name, voice.sound, self._swatch(index))
            row.name.clicked.connect(lambda _, index=index: self.brought_forward.emit(index))
            row.sound.activated.connect(
                lambda _, index=index, box=row.sound: self.sound_given.emit(index, box.currentText())
            )
            for column, (button, marks) in enumerate(
                ((row.mute, self._muted), (row.alone, self._alone), (row.hide, self._unseen))
            ):
                button.setChecked(voice.name in marks)
                button.toggled.connect(lambda on, name=voice.name, marks=marks: self._mark(on, name, marks))
                grid.addWidget(button, index, 2 + column)
            grid.addWidget(row.name, index, 0)
            grid.addWidget(row.sound, index, 1)
            self.rows.append(row)
        if not self.rows:
            grid.addWidget(QLabel("The voices of the tune stand here."), 0, 0)
        grid.setColumnStretch(0, 1)
        grid.setRowStretch(len(self.rows) + 1, 1)
        self.setWidget(page)

    def _mark(self, on: bool, name: str, marks: set[str]) -> None:
        (marks.add if on else marks.discard)(name)
        self.changed.emit()

    def _swatch(self, voice: int) -> QIcon:
        """The voice's colour, with a stripe where it is told by one."""
        side = self._look.px(14)
        picture = QPixmap(QSize(side, side))
        picture.fill(self._look.voice(voice))
        if self._look.voice_striped(voice):
            painter = QPainter(picture)
            painter.fillRect(0, side // 2 - 1, side, 3, QColor(self._look.color("page")))
            painter.end()
        return QIcon(picture)


class _VoiceRow:
    """The widgets of one voice."""

    def __init__(self, name: str, sound: str, swatch: QIcon) -> None:
        self.name = QPushButton(swatch, name)
        self.name.setObjectName("voiceName")
        self.name.setCheckable(True)
        self.name.setToolTip("Bring this voice to the front, to edit it")
        self.sound = QComboBox()
        self.sound.setAccessibleName(f"Sound of {name}")
        self.sound.addItems(SOUNDS)
        self.sound.setCurrentText(sound)
        self.sound.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.sound.setMinimumContentsLength(9)
        self.mute = _toggle("Mute", f"Do not hear {name}")
        self.alone = _toggle("Alone", f"Hear {name} and no other that is not alone too")
        self.hide = _toggle("Hide", f"Do not draw {name} while another voice is edited")


def _toggle(text: str, hint: str) -> QPushButton:
    button = QPushButton(text)
    button.setObjectName("voiceToggle")
    button.setCheckable(True)
    button.setToolTip(hint)
    button.setAccessibleName(hint)
    return button

"""The Voices panel: which voice is edited, which are seen and heard, and with what sound."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QComboBox, QGridLayout, QPushButton, QVBoxLayout, QWidget

from ...display.scene import Scene
from ...song.sounds import SOUNDS
from ..clicks import on_click
from ..mix import Mark
from ..plain_text import PlainLabel, hint_of
from ..theme import Look
from ..working.panel import Panel, PanelContext

__all__ = ["VoicesPanel"]

_WIDEST_NAME = 300  # pixels at scale 1


class VoicesPanel(Panel):
    """One line for each voice."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self.setAccessibleName("Voices")
        self._scene = context.selection.scene
        self._made_for: object = None
        self.rows: list[_VoiceRow] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._page = QWidget()
        self._column.addWidget(self._page)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._made_for = None
        self.show_scene(self._scene)

    def show_scene(self, scene: Scene) -> None:
        """List a song's voices; the front one is edited."""
        self._scene = scene
        made_for = [(voice.name, voice.sound) for voice in scene.song.voices], self.look
        if made_for != self._made_for:
            self._made_for = made_for
            self._fill()
        for index, row in enumerate(self.rows):
            row.name.setChecked(index == scene.front)

    def _fill(self) -> None:
        old, self._page = self._page, QWidget()
        self._column.replaceWidget(old, self._page)
        old.deleteLater()
        grid = QGridLayout(self._page)
        grid.setContentsMargins(*(self.look.px(8),) * 4)
        grid.setHorizontalSpacing(self.look.px(4))
        self.rows = []
        for index, voice in enumerate(self._scene.song.voices):
            row = _VoiceRow(voice.name, voice.sound, self._swatch(index))
            on_click(row.name, self.context.selection.bring_forward, index)
            row.sound.activated.connect(lambda _, index=index, box=row.sound: self._give(index, box.currentText()))
            for column, (mark, button) in enumerate(row.marks.items()):
                button.setChecked(self.context.mix.is_marked(voice.name, mark))
                button.toggled.connect(lambda on, name=voice.name, mark=mark: self.context.mix.mark(name, mark, on))
                grid.addWidget(button, index, 2 + column)
            grid.addWidget(row.name, index, 0)
            grid.addWidget(row.sound, index, 1)
            row.name.setMaximumWidth(self.look.px(_WIDEST_NAME))
            self.rows.append(row)
        if not self.rows:
            grid.addWidget(PlainLabel("The voices of the tune are listed here."), 0, 0)
        grid.setColumnStretch(0, 3)
        grid.setColumnStretch(5, 1)
        grid.setRowStretch(len(self.rows) + 1, 1)

    def _give(self, voice: int, sound: str) -> None:
        """Give a voice another sound, and let it be heard."""
        self.context.editing.set_property("sound", sound, voice)
        self.context.audition.sound(sound)

    def _swatch(self, voice: int) -> QIcon:
        """The voice's colour, with a stripe where it is told by one."""
        side = self.look.px(14)
        picture = QPixmap(QSize(side, side))
        picture.fill(self.look.voice(voice))
        if self.look.voice_striped(voice):
            painter = QPainter(picture)
            painter.fillRect(0, side // 2 - 1, side, 3, QColor(self.look.color("page")))
            painter.end()
        return QIcon(picture)


class _VoiceRow:
    """The widgets of one voice."""

    def __init__(self, name: str, sound: str, swatch: QIcon) -> None:
        self.name = QPushButton(swatch, name.replace("&", "&&"))
        self.name.setObjectName("voiceName")
        self.name.setCheckable(True)
        self.name.setToolTip("Bring this voice to the front, to edit it")
        self.sound = QComboBox()
        self.sound.setAccessibleName(f"Sound of {name}")
        self.sound.addItems(SOUNDS)
        self.sound.setCurrentText(sound)
        self.sound.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.sound.setMinimumContentsLength(6)
        self.marks = {
            Mark.MUTE: _toggle("Mute", f"Do not hear {name}"),
            Mark.SOLO: _toggle("Solo", f"Solo {name}"),
            Mark.HIDE: _toggle("Hide", f"Do not draw {name} while another voice is edited"),
        }


def _toggle(text: str, hint: str) -> QPushButton:
    button = QPushButton(text)
    button.setObjectName("voiceToggle")
    button.setCheckable(True)
    button.setToolTip(hint_of(hint))
    button.setAccessibleName(hint)
    return button

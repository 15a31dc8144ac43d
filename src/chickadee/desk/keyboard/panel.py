"""The keyboard with its ways of use: just play, write step by step, record in time."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...display.key_layout import number_at, octave_at, place_of
from ...display.scene import Scene
from ...theory import read_key
from ..actions import ActionSpec
from ..theme import Look
from .held_keys import HeldKeys
from .view import LABELS, KeyboardView

__all__ = ["JUST_PLAY", "RECORD", "WRITE", "KeyboardPanel"]

JUST_PLAY, WRITE, RECORD = "Just play", "Write", "Record"
_HINTS = {
    JUST_PLAY: "What is played is heard.",
    WRITE: "Each key writes a note after the selected one, Space a rest.",
    RECORD: "A bar is counted in; what is played is kept until you accept it.",
}


class KeyboardPanel(QWidget):
    """``wrote`` carries MIDI numbers to be written, or none for a rest; ``recording_wanted`` whether to record."""

    wrote = pyqtSignal(tuple)
    recording_wanted = pyqtSignal(bool)

    def __init__(self, look: Look, hands: HeldKeys, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.held_keys = hands
        self.octave = 4
        self._key = read_key("C major")
        self._own: dict[str, tuple[int, ...]] = {}
        self._on = False
        self.keys = KeyboardView(look)
        self.keys.pressed.connect(lambda number, loudness: hands.press("mouse", number, loudness=loudness))
        self.keys.released.connect(lambda number: hands.release("mouse"))
        hands.lit_changed.connect(self.keys.show_held)
        hands.struck.connect(self._struck)
        self.state = QPushButton("Computer keys play")
        self.state.setCheckable(True)
        self.state.setObjectName("playingKeys")
        self.state.setToolTip("The home row plays the scale, the digits choose the octave, Esc ends it (F6)")
        self.state.clicked.connect(self.play_on_keys)
        self._ways = QButtonGroup(self)
        self._hint = QLabel()
        self._hint.setObjectName("panelNote")
        self._hint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._row = QHBoxLayout()
        self._row.addWidget(self.state)
        for place, way in enumerate(_HINTS):
            button = QPushButton(way)
            button.setObjectName("panelName")
            button.setCheckable(True)
            self._ways.addButton(button, place)
            self._row.addWidget(button)
        self._ways.idClicked.connect(lambda place: self.use_for(list(_HINTS)[place]))
        self._row.addWidget(self._hint, 1)
        self.labels = QComboBox()
        self.labels.setAccessibleName("Labels on the keys")
        self.labels.addItems(LABELS)
        self.labels.currentTextChanged.connect(self.keys.set_labels)
        self._row.addWidget(self.labels)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(self._row)
        column.addWidget(self.keys)
        self.way = JUST_PLAY
        self.use_for(JUST_PLAY)
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._row.setContentsMargins(look.px(8), look.px(2), look.px(8), look.px(2))
        self.keys.set_look(look)

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Playing on the computer's keys."""
        return (ActionSpec("keys.play", "Listen/keys", "Pla&y on the computer keys", "F6",
                           "The home row plays the scale; Esc ends it",
                           lambda: self.play_on_keys(not self.plays_on_keys)),)  # fmt: skip

    def show_scene(self, scene: Scene) -> None:
        """Follow a song's key, its front voice's range, and the keys that have pitches of their own."""
        self._key = scene.song.key
        self._own = {key.letter: key.numbers for key in scene.reading.sheet.settings.keys or ()}
        self._show_hint()
        self.keys.show_song(scene.song, scene.front)

    def use_for(self, way: str) -> None:
        """Just play, write or record."""
        was, self.way = self.way, way
        self._ways.button(list(_HINTS).index(way)).setChecked(True)
        self._show_hint()
        if way == RECORD or was == RECORD:
            self.recording_wanted.emit(way == RECORD)

    def play_on_keys(self, on: bool) -> None:
        """Let the computer's keys play, or edit again."""
        if on == self._on:
            return
        self._on = on
        self.state.setChecked(on)
        app = QApplication.instance()
        if app is not None:
            app.installEventFilter(self) if on else app.removeEventFilter(self)
        if not on:
            self.held_keys.release_all()
        self._show_hint()

    @property
    def plays_on_keys(self) -> bool:
        """Whether the computer's keys play."""
        return self._on

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """While the keys play, they do nothing else; menus and their shortcuts stay."""
        if event is None or event.type() not in _KEY_EVENTS or not isinstance(event, QKeyEvent):
            if event is not None and event.type() == QEvent.Type.ApplicationDeactivate:
                self.held_keys.release_all()
            return False
        plain = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier == Qt.KeyboardModifier.NoModifier
        if not plain or QApplication.activeModalWidget() is not None:
            return False
        return self._take_key(event)

    def _take_key(self, event: QKeyEvent) -> bool:
        scan, letter, kind = event.nativeScanCode(), event.text()[:1] or chr(event.key() & 0xFF), event.type()
        place, octave = place_of(scan, letter), octave_at(scan, letter)
        own = self._own.get(letter.lower(), ())
        written = event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Escape)
        if place is None and octave is None and not own and not (written and self._takes(event.key())):
            return False
        if kind == QEvent.Type.ShortcutOverride:
            event.accept()
        elif event.isAutoRepeat():
            pass
        elif kind == QEvent.Type.KeyRelease:
            self.held_keys.release(("key", scan or letter))
        elif own or place is not None:
            numbers = own or (number_at(self._key, self.octave, place or (0, 0)),)
            self.held_keys.press(("key", scan or letter), *(number for number in numbers if number is not None))
        elif octave is not None:
            self.octave = octave
            self._show_hint()
        elif event.key() == Qt.Key.Key_Escape:
            self.play_on_keys(False)
        else:
            self.wrote.emit(())
        return True

    def _takes(self, key: int) -> bool:
        return key == Qt.Key.Key_Escape or self.way == WRITE

    def _struck(self, numbers: tuple[int, ...]) -> None:
        if self.way == WRITE:
            self.wrote.emit(numbers)

    def _show_hint(self) -> None:
        playing = f"Home row: {self._key.pretty} from octave {self.octave}; Esc ends. " if self._on else ""
        own = f"Own keys: {', '.join(self._own)}. " if self._on and self._own else ""
        self._hint.setText(playing + own + _HINTS[self.way])


_KEY_EVENTS = (QEvent.Type.KeyPress, QEvent.Type.KeyRelease, QEvent.Type.ShortcutOverride)

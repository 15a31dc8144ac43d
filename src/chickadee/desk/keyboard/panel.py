"""The keyboard with its ways of use: just play, write step by step, record in time."""

from __future__ import annotations

import time
from functools import partial

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...display.key_layout import number_at, octave_at, place_of
from ...display.scene import Scene
from ...sheet.properties import OwnKey
from ...song.drums import DRUM_SOUND
from ...theory import read_key
from ..actions import ActionSpec
from ..plain_text import PlainLabel
from ..theme import Look
from .held_keys import HeldKeys
from .view import LABELS, KeyboardView

__all__ = ["JUST_PLAY", "RECORD", "WRITE", "KeyboardPanel"]

JUST_PLAY = "Just play"
WRITE = "Write"
RECORD = "Record"
_HINTS = {
    JUST_PLAY: "What is played is heard.",
    WRITE: "Each key writes a note after the selected one, Space a rest.",
    RECORD: "A bar is counted in; what is played is kept until you accept it.",
}


class KeyboardPanel(QWidget):
    """``wrote`` carries MIDI numbers to be written, or none for a rest, and the name of the voice they are for, None
    for the one in front; ``recording_wanted`` whether to record."""

    wrote = pyqtSignal(tuple, object)
    recording_wanted = pyqtSignal(bool)
    carried = pyqtSignal(object, str)
    """An own key was pressed: the OwnKey, and the name of its set."""
    carrying_wrote = pyqtSignal(object)
    """Carries the OwnKey that is to be written as it is written."""
    phrase_wanted = pyqtSignal(str)
    """A phrase that is to be heard; empty where it is to stop."""
    set_changed = pyqtSignal(str, str)
    """Another set of keys is played on: its name, and its keys in words."""

    def __init__(self, look: Look, hands: HeldKeys, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.held_keys = hands
        self.octave = 4
        self._key = read_key("C major")
        self._sets: list[tuple[str, dict[str, OwnKey]]] = [("", {})]
        self._set = 0
        self._pressed: OwnKey | None = None  # while it is struck
        self._phrase_key: object = None  # the key that plays a phrase
        self.bounce = 0.0  # seconds within which a key that comes up and goes down again is one that bounced
        self._released: dict[object, float] = {}
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
        self._hint = PlainLabel()
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
        """Playing on the computer's keys, and going from one set of own keys to another."""
        return (ActionSpec("keys.next-set", "listen/keys", "Ne&xt set of keys", "Ctrl+Shift+PgDown",
                           "Play on the next set of own keys (Page Down while the keys play)",
                           partial(self.step_set, 1)),
                ActionSpec("keys.last-set", "listen/keys", "Set of keys be&fore", "Ctrl+Shift+PgUp",
                           "Play on the set before (Page Up while the keys play)",
                           partial(self.step_set, -1)),
                ActionSpec("keys.play", "listen/keys", "Pla&y on the computer keys", "F6",
                           "The home row plays the scale; Esc ends it",
                           lambda: self.play_on_keys(not self.plays_on_keys)),)  # fmt: skip

    def show_scene(self, scene: Scene) -> None:
        """Follow a song's key, its front voice's range, and the keys that have pitches of their own."""
        self._key = scene.song.key
        settings = scene.reading.sheet.settings
        sets = [("", settings.keys or ()), *settings.key_sets]
        self._sets = [(name, {key.letter: key for key in keys}) for name, keys in sets if keys] or [("", {})]
        self._set = min(self._set, len(self._sets) - 1)
        self._show_hint()
        self.keys.show_song(scene.song, scene.front)

    def use_for(self, way: str) -> None:
        """Just play, write or record."""
        was, self.way = self.way, way
        button = self._ways.button(list(_HINTS).index(way))
        assert button is not None
        button.setChecked(True)
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
        """True if the computer's keys play."""
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
        scan = event.nativeScanCode()
        letter = event.text()[:1] or chr(event.key() & 0xFF)
        kind = event.type()
        place = place_of(scan, letter)
        octave = octave_at(scan, letter)
        own = self._own.get(_NAMED.get(Qt.Key(event.key()), letter.lower()))
        written = event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Escape)
        turned = _TURNS.get(Qt.Key(event.key()), 0) if len(self._sets) > 1 else 0
        if place is None and octave is None and not own and not turned and not (written and self._takes(event.key())):
            return False
        if kind == QEvent.Type.ShortcutOverride:
            event.accept()
        elif event.isAutoRepeat():
            pass
        elif kind == QEvent.Type.KeyRelease:
            self._released[event.key()] = time.monotonic()
            if self._phrase_key == ("key", scan or letter or event.key()):
                self._phrase_key = None
                self.phrase_wanted.emit("")
            self.held_keys.release(("key", scan or letter or event.key()))
        elif time.monotonic() - self._released.get(event.key(), -1.0) < self.bounce:
            pass
        elif turned:
            self.step_set(turned)
        elif own is not None:
            self._press_own(own, ("key", scan or letter or event.key()))
        elif place is not None:
            number = number_at(self._key, self.octave, place)
            self.held_keys.press(("key", scan or letter), *(() if number is None else (number,)))
        elif octave is not None:
            self.octave = octave
            self._show_hint()
        elif event.key() == Qt.Key.Key_Escape:
            self.play_on_keys(False)
        else:
            self.wrote.emit((), None)
        return True

    def _press_own(self, own: OwnKey, key: object) -> None:
        """An own key goes down: it sounds what it carries, and is shown."""
        self._pressed = own
        if own.numbers:
            self.held_keys.press(key, *own.numbers, sound=DRUM_SOUND if own.kind == "drum" else None)
        elif self.way == WRITE:
            self.carrying_wrote.emit(own)
        else:
            self._phrase_key = key
            self.phrase_wanted.emit(own.written)
        self._pressed = None
        self.carried.emit(own, self._sets[self._set][0])

    @property
    def _own(self) -> dict[str, OwnKey]:
        return self._sets[self._set][1]

    def step_set(self, by: int) -> None:
        """Play on the next set of own keys, or on the one before; round at the ends."""
        self._set = (self._set + by) % len(self._sets)
        name, keys = self._sets[self._set]
        self._show_hint()
        words = "  ".join(f"{key.letter} {key.written}" for key in keys.values())
        self.set_changed.emit(name or "first", words)

    def tame(self, milliseconds: int) -> None:
        """Take a key that comes up and goes down again within so many milliseconds for one that bounced."""
        self.bounce = milliseconds / 1000

    def _takes(self, key: int) -> bool:
        return key == Qt.Key.Key_Escape or self.way == WRITE

    def _struck(self, numbers: tuple[int, ...], voice: str | None) -> None:
        if self.way == WRITE and self._pressed is not None:
            self.carrying_wrote.emit(self._pressed)
        elif self.way == WRITE:
            self.wrote.emit(numbers, voice)

    def _show_hint(self) -> None:
        playing = f"Home row: {self._key.pretty} from octave {self.octave}; Esc ends. " if self._on else ""
        name = self._sets[self._set][0]
        which = f"Set {name}" if name else "Own keys"
        own = f"{which}: {', '.join(self._own)}. " if self._on and self._own else ""
        self._hint.setText(playing + own + _HINTS[self.way])


_TURNS = {Qt.Key.Key_PageUp: -1, Qt.Key.Key_PageDown: 1}
_NAMED = {
    Qt.Key.Key_Left: "left", Qt.Key.Key_Right: "right", Qt.Key.Key_Up: "up", Qt.Key.Key_Down: "down",
    Qt.Key.Key_Space: "space", Qt.Key.Key_Return: "enter", Qt.Key.Key_Enter: "enter", Qt.Key.Key_Tab: "tab",
    Qt.Key.Key_Backspace: "backspace", Qt.Key.Key_Insert: "insert", Qt.Key.Key_Delete: "delete",
    Qt.Key.Key_Home: "home", Qt.Key.Key_End: "end",
}  # fmt: skip
"""Keys by the names that a sheet has for them."""
_KEY_EVENTS = (QEvent.Type.KeyPress, QEvent.Type.KeyRelease, QEvent.Type.ShortcutOverride)

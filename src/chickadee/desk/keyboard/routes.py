"""Which voice a MIDI instrument plays: asked for, kept, and used."""

from __future__ import annotations

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QValidator
from PyQt6.QtWidgets import QComboBox, QDialog, QGridLayout, QSpinBox, QVBoxLayout, QWidget

from ...signals.routes import Route, read_routes
from ...song import Song
from ..actions import ActionSpec
from ..parts import answers
from ..plain_text import PlainLabel
from ..selection import Selection
from ..settings import Settings
from .ports import MidiKeys

__all__ = ["MidiRoutes", "RoutesDialog"]

_KEPT = "midi-routes"  # in the settings
_NOT = "Not by MIDI keys"
_ANY = "Any channel"
_MOST_VOICES = 16


class MidiRoutes(QObject):
    """Keeps which keys play which voice, by the voices' names."""

    def __init__(self, keys: MidiKeys, selection: Selection, settings: Settings, window: QWidget) -> None:
        super().__init__(window)
        self._keys = keys
        self._selection = selection
        self._settings = settings
        self._window = window
        keys.routes = read_routes(settings.words(_KEPT, []))

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Asking which keys play which voice."""
        return (
            ActionSpec(
                "keys.routes",
                "listen/keys",
                "MIDI ke&ys for voices…",
                "Ctrl+Alt+K",
                "Which voice each channel and range of MIDI keys plays",
                self.ask,
            ),
        )

    def ask(self) -> None:
        """Ask which keys play which voice."""
        dialog = RoutesDialog(self._selection.scene.song, self._keys.routes, self._window)
        accepted = dialog.exec()
        routes = dialog.routes
        dialog.deleteLater()
        if accepted:
            asked = {voice for voice, *_ in dialog.rows}
            kept = [
                route for route in self._keys.routes if route.voice not in asked
            ]  # such as of other tunes' voices
            self.use((*routes, *kept))

    def use(self, routes: tuple[Route, ...]) -> None:
        """Play voices by these routes from now on."""
        self._keys.routes = routes
        self._settings.set_words(_KEPT, [route.text for route in routes])


class RoutesDialog(QDialog):
    """Asks for each voice of a song which channel and keys play it."""

    def __init__(self, song: Song, routes: tuple[Route, ...], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("MIDI keys for voices")
        known = {route.voice: route for route in routes}
        self.rows: list[tuple[str, QComboBox, QSpinBox, QSpinBox]] = []
        grid = QGridLayout()
        column = QVBoxLayout(self)
        for place, title in enumerate(("Voice", "Channel", "From", "To")):
            grid.addWidget(PlainLabel(title), 0, place)
        for voice in song.voices[:_MOST_VOICES]:
            channel = QComboBox()
            low = _KeyBox(song)
            high = _KeyBox(song)
            channel.addItems([_NOT, _ANY, *(f"Channel {number}" for number in range(1, 17))])
            route = known.get(voice.name)
            lowest, highest = voice.range or (0, 127)
            channel.setCurrentIndex(0 if route is None else 1 + (route.channel or 0))
            low.setValue(lowest if route is None else route.low)
            high.setValue(highest if route is None else route.high)
            for widget, what in ((channel, "Channel"), (low, "Lowest key"), (high, "Highest key")):
                widget.setAccessibleName(f"{what} of {voice.name}")
            for end in (low, high):
                end.setEnabled(route is not None)
                channel.currentIndexChanged.connect(lambda index, end=end: end.setEnabled(index > 0))
            row = len(self.rows) + 1
            cells: tuple[QWidget, ...] = (PlainLabel(voice.name), channel, low, high)
            for place, cell in enumerate(cells):
                grid.addWidget(cell, row, place)
            self.rows.append((voice.name, channel, low, high))
        said = PlainLabel(
            "Other keys play the voice in front. Of several voices that take a key, the first plays it."
            if self.rows
            else "The tune has no voices yet."
        )
        said.setObjectName("panelNote")
        said.setWordWrap(True)
        buttons, _ = answers(self, "Use them")
        column.addLayout(grid)
        column.addWidget(said)
        column.addWidget(buttons)

    @property
    def routes(self) -> tuple[Route, ...]:
        """The values of the fields."""
        return tuple(
            Route(voice, channel.currentIndex() - 1 or None, *sorted((low.value(), high.value())))
            for voice, channel, low, high in self.rows
            if channel.currentIndex() > 0
        )


class _KeyBox(QSpinBox):
    """A MIDI number, shown with its name in a song's key and tradition; either can be typed."""

    def __init__(self, song: Song) -> None:
        super().__init__()
        self._song = song
        self.setRange(0, 127)

    def textFromValue(self, value: int) -> str:
        return f"{self._song.naming.pitch_pretty(self._song.key.spell(value))} {value}"

    def valueFromText(self, text: str | None) -> int:
        word = (text or "").split()[-1:]
        if word and word[0].isdigit():
            return min(127, int(word[0]))
        read = self._song.naming.read(word[0]) if word else None
        return read[0].at(read[1]).number if read is not None and read[1] is not None else self.value()

    def validate(self, text: str | None, position: int) -> tuple[QValidator.State, str, int]:
        return QValidator.State.Acceptable, text or "", position

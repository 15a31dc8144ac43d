"""Telling other programs and instruments what sounds: switched on and off, and where it goes."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, replace
from threading import Thread
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QLineEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ..faults import InputFault
from ..player import Player
from .actions import ActionSpec
from .notice import Notice
from .parts import answers
from .plain_dialogs import PlainForm
from .plain_text import PlainLabel, hint_of
from .settings import Settings

if TYPE_CHECKING:
    from ..signals.emitter import Emitter, EmitterThread

__all__ = ["Signals", "SignalsDialog", "Wish"]

_ADDRESS = "127.0.0.1:9000"
_KEPT = "signals"  # in the settings: address, its delay, port, its delay
_MOST_DELAY = 2000  # milliseconds


@dataclass(frozen=True, slots=True)
class Wish:
    """The addresses that signals go to."""

    osc: bool = False
    address: str = _ADDRESS
    osc_delay: int = 0
    """Milliseconds by which it is told later."""
    midi: bool = False
    port: str = ""
    midi_delay: int = 0
    """Milliseconds."""

    def emitters(self) -> list[Emitter]:
        """Those who tell. Raises InputFault where there is no such host or port."""
        from ..signals.emitter import Emitter
        from ..signals.outlets import MidiOutlet, OscOutlet, SystemPort, read_address

        found = [Emitter(OscOutlet(*read_address(self.address)), self.osc_delay / 1000)] if self.osc else []
        return [*found, Emitter(MidiOutlet(SystemPort(self.port)), self.midi_delay / 1000)] if self.midi else found


class Signals(QObject):
    """Nothing is told until it is switched on here, and nothing ever listens."""

    def __init__(self, player: Player, settings: Settings, notice: Notice, window: QWidget) -> None:
        super().__init__(window)
        self._player = player
        self._settings = settings
        self._notice = notice
        self._window = window
        self._thread: EmitterThread | None = None
        self._looking_up: _LookUp | None = None
        self.wish = settings.read(_KEPT, Wish(), _remembered)
        """The signals that are sent now; at the start none are."""

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Asking what is to be told."""
        return (
            ActionSpec(
                "signals",
                "listen/switches",
                "Tell other pro&grams…",
                "Ctrl+Shift+G",
                "Send what sounds by Open Sound Control or to a MIDI port",
                self.ask,
            ),
        )

    def ask(self) -> None:
        """Ask what is to be told, and where to."""
        from ..signals.ports import OUTPUTS, port_names

        dialog = SignalsDialog(self.wish, port_names(OUTPUTS), self._window)
        accepted = dialog.exec()
        wish = dialog.wish
        dialog.deleteLater()
        if accepted:
            self.send_to(wish)

    def send_to(self, wish: Wish) -> None:
        """Tell this from now on."""
        from ..signals.outlets import is_numeric

        self.stop()
        try:
            if wish.osc and not is_numeric(wish.address):
                self._looking_up = _LookUp(wish, self)
                self._looking_up.found.connect(self._tell_to)
                self._looking_up.failed.connect(self._notice.say)
            else:
                self._tell_to(wish, wish.address)
        except InputFault as fault:
            self._notice.say(str(fault))

    def _tell_to(self, wish: Wish, address: str) -> None:
        """Tell by Open Sound Control to the address that was found; a sentence where there is none."""
        try:
            emitters = replace(wish, address=address).emitters()
        except InputFault as fault:
            self._notice.say(str(fault))
            return
        self.wish = wish
        self._settings.set_words(_KEPT, [wish.address, str(wish.osc_delay), wish.port, str(wish.midi_delay)])
        if emitters:
            from ..signals.emitter import EmitterThread

            self._thread = EmitterThread(lambda: self._player.heard, emitters)
            self._thread.start()

    def stop(self) -> None:
        """Tell nothing more."""
        if self._looking_up is not None:
            self._looking_up.blockSignals(True)
            self._looking_up = None
        if self._thread is not None:
            self._thread.stop()
            self._thread = None


class _LookUp(QObject):
    """Asks the network for a host's address, in a thread that nothing waits for: it may take long.

    ``found`` carries the wish and the address, ``failed`` a sentence.
    """

    found = pyqtSignal(object, str)
    failed = pyqtSignal(str)

    def __init__(self, wish: Wish, parent: QObject) -> None:
        super().__init__(parent)
        self._wish = wish
        Thread(target=self._run, daemon=True).start()

    def _run(self) -> None:
        from ..signals.outlets import resolved

        with suppress(RuntimeError):  # the window is gone
            try:
                self.found.emit(self._wish, resolved(self._wish.address))
            except InputFault as fault:
                self.failed.emit(str(fault))


class SignalsDialog(QDialog):
    """Asks what is to be told."""

    def __init__(self, wish: Wish, ports: list[str], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Tell other programs")
        self.osc = QCheckBox("Open Sound Control, over UDP")
        self.midi = QCheckBox("MIDI, to a port")
        self.address = QLineEdit(wish.address)
        self.port = QComboBox()
        self.osc_delay = _delay(wish.osc_delay)
        self.midi_delay = _delay(wish.midi_delay)
        self.osc.setChecked(wish.osc)
        self.midi.setChecked(wish.midi)
        self.port.addItems(ports)
        self.port.setCurrentText(wish.port)
        self.midi.setEnabled(bool(ports))
        said = PlainLabel(
            "What sounds is told as it is heard; docs/signals.md lists the messages."
            if ports
            else "There are no MIDI outputs here, or python-rtmidi is not installed."
        )
        said.setObjectName("panelNote")
        said.setWordWrap(True)
        for widget, name in (
            (self.address, "Host and port"),
            (self.osc_delay, "Milliseconds later, by Open Sound Control"),
            (self.port, "MIDI port"),
            (self.midi_delay, "Milliseconds later, by MIDI"),
        ):
            widget.setAccessibleName(name)
            widget.setToolTip(hint_of(name))
        form = PlainForm()
        column = QVBoxLayout(self)
        form.addRow(self.osc)
        form.addRow("To", self.address)
        form.addRow("Later by", self.osc_delay)
        form.addRow(self.midi)
        form.addRow("Port", self.port)
        form.addRow("Later by", self.midi_delay)
        buttons, _ = answers(self, "Tell them")
        column.addLayout(form)
        column.addWidget(said)
        column.addWidget(buttons)
        for check, widgets in (
            (self.osc, (self.address, self.osc_delay)),
            (self.midi, (self.port, self.midi_delay)),
        ):
            for widget in widgets:
                widget.setEnabled(check.isChecked())
                check.toggled.connect(widget.setEnabled)

    @property
    def wish(self) -> Wish:
        """The values of the fields."""
        return Wish(
            self.osc.isChecked(),
            self.address.text().strip(),
            self.osc_delay.value(),
            self.midi.isChecked(),
            self.port.currentText(),
            self.midi_delay.value(),
        )


def _delay(value: int) -> QSpinBox:
    box = QSpinBox()
    box.setRange(0, _MOST_DELAY)
    box.setSuffix(" ms")
    box.setValue(value)
    return box


def _remembered(words: list[str]) -> Wish:
    """Read the signals of the last time. Raises ValueError for other words."""
    address, osc_delay, port, midi_delay = words
    return Wish(False, address, _within(osc_delay), False, port, _within(midi_delay))


def _within(text: str) -> int:
    return max(0, min(_MOST_DELAY, int(text)))

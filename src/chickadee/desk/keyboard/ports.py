"""MIDI keys, through the system's ports where it has them, or a simulated one."""

from __future__ import annotations

from importlib import import_module

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ...signals.ports import INPUTS, port_names
from .held_keys import HeldKeys

__all__ = ["MidiKeys", "SimulatedPort", "system_ports"]

_LOOK_MILLISECONDS = 4


class SimulatedPort(QObject):
    """A port without a device: what is sent into it arrives."""

    arrived = pyqtSignal(bytes)

    def send(self, message: bytes) -> None:
        """Let a MIDI message arrive."""
        self.arrived.emit(message)


class SystemPort(QObject):
    """One of the system's MIDI inputs, through python-rtmidi."""

    arrived = pyqtSignal(bytes)

    def __init__(self, place: int, parent: QObject) -> None:
        super().__init__(parent)
        self._input = import_module("rtmidi").MidiIn()
        self._input.open_port(place)
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._look)
        self._timer.start(_LOOK_MILLISECONDS)

    def _look(self) -> None:
        while (found := self._input.get_message()) is not None:
            self.arrived.emit(bytes(found[0]))


def system_ports() -> list[str]:
    """The names of the system's MIDI inputs; none where it has none, or python-rtmidi is not installed."""
    return port_names(INPUTS)


class MidiKeys(QObject):
    """Reads note-on and note-off messages of a port (MIDI 1.0) into hands; the damper pedal holds what is let go."""

    def __init__(self, hands: HeldKeys, parent: QObject) -> None:
        super().__init__(parent)
        self._hands = hands
        self._pedal = self._playback = False
        self._after_pedal: set[object] = set()

    def listen_to(self, port: SimulatedPort | SystemPort) -> None:
        """Play what arrives at a port."""
        port.arrived.connect(self._read)

    def listen_to_system(self) -> None:
        """Play what arrives at any of the system's ports, as they are when the window is first shown."""
        if not self._playback:
            self._playback = True
            for place in range(len(system_ports())):
                self.listen_to(SystemPort(place, self))

    def _read(self, message: bytes) -> None:
        if len(message) < 3:
            return
        kind, first, second = message[0] & 0xF0, message[1] & 0x7F, message[2] & 0x7F
        key = ("midi", message[0] & 0x0F, first)
        if kind == 0x90 and second:
            self._after_pedal.discard(key)
            self._hands.press(key, first, loudness=second)
        elif kind in (0x80, 0x90):
            if self._pedal:
                self._after_pedal.add(key)
            else:
                self._hands.release(key)
        elif kind == 0xB0 and first == 64:
            self._pedal = second >= 64
            if not self._pedal:
                for each in self._after_pedal:
                    self._hands.release(each)
                self._after_pedal = set()

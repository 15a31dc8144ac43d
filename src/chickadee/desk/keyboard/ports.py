"""MIDI keys, through the system's ports where it has them, or a simulated one."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from importlib.util import find_spec

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ...faults import InputFault
from ...signals.ports import INPUTS, opened, port_names
from ...signals.routes import Route, voice_for
from .held_keys import HeldKeys

__all__ = ["MidiKeys", "SimulatedPort", "system_ports"]

_LOOK_MILLISECONDS = 4
_PLUGGED_MILLISECONDS = 1500
_PEDAL = 64
_ALL_SOUND_OFF = 120
_ALL_NOTES_OFF = 123


class SimulatedPort(QObject):
    """A port without a device: what is sent into it arrives."""

    arrived = pyqtSignal(bytes)

    def __init__(self, name: str = "simulated") -> None:
        super().__init__()
        self.name = name

    def send(self, message: bytes) -> None:
        """Let a MIDI message arrive."""
        self.arrived.emit(message)

    def close(self) -> None:
        """No more arrives."""
        self.arrived.disconnect()


class SystemPort(QObject):
    """One of the system's MIDI inputs, through python-rtmidi. Raises InputFault where there is none of that name."""

    arrived = pyqtSignal(bytes)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = name
        self._input = opened(INPUTS, name)
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._look)
        self._timer.start(_LOOK_MILLISECONDS)

    def close(self) -> None:
        """No more arrives."""
        self._timer.stop()
        with suppress(Exception):  # it was unplugged
            self._input.close_port()
        self.deleteLater()

    def _look(self) -> None:
        while (found := self._input.get_message()) is not None:
            self.arrived.emit(bytes(found[0]))


def system_ports() -> list[str]:
    """The names of the system's MIDI inputs; none where it has none, or python-rtmidi is not installed."""
    return port_names(INPUTS) if find_spec("rtmidi") else []


class MidiKeys(QObject):
    """Reads note-on and note-off messages of ports (MIDI 1.0) into hands.

    A channel's damper pedal holds what is let go. What is plugged in is listened to; what is unplugged lets its keys
    go.
    """

    def __init__(
        self,
        hands: HeldKeys,
        parent: QObject,
        names: Callable[[], list[str]] = system_ports,
        open_port: Callable[[str], SimulatedPort | SystemPort] = SystemPort,
    ) -> None:
        super().__init__(parent)
        self._hands = hands
        self._names = names
        self._open = open_port
        self.routes: tuple[Route, ...] = ()
        """Which voices are played by which keys; the front one by all others."""
        self._ports: dict[str, SimulatedPort | SystemPort] = {}
        self._down: set[tuple[object, ...]] = set()  # the keys that are down or held by a pedal
        self._pedals: set[tuple[str, int]] = set()  # (port, channel) whose pedal is down
        self._after_pedal: set[tuple[object, ...]] = set()
        self._plugging = QTimer(self)
        self._plugging.setInterval(_PLUGGED_MILLISECONDS)
        self._plugging.timeout.connect(self.look_for_ports)

    def listen_to(self, port: SimulatedPort | SystemPort) -> None:
        """Play what arrives at a port."""
        self._ports[port.name] = port
        port.arrived.connect(lambda message: self._read(port.name, message))

    def listen_to_system(self) -> None:
        """Play what arrives at any of the system's ports, from now on."""
        if not self._plugging.isActive():
            self.look_for_ports()
            self._plugging.start()

    def look_for_ports(self) -> None:
        """Listen to what was plugged in, and let go what was unplugged."""
        there = self._names()
        for name in [name for name in self._ports if name not in there]:
            self._ports.pop(name).close()
            self._let_go(name)
        for name in there:
            if name not in self._ports:
                with suppress(InputFault):  # it was unplugged again
                    self.listen_to(self._open(name))

    def _let_go(self, port: str, channel: int | None = None) -> None:
        """Let all keys of a port go, or those of one of its channels."""
        for key in [key for key in self._down if key[1] == port and channel in (None, key[2])]:
            self._release(key)
        self._pedals = {each for each in self._pedals if each[0] != port or channel not in (None, each[1])}

    def _release(self, key: tuple[object, ...]) -> None:
        self._down.discard(key)
        self._after_pedal.discard(key)
        self._hands.release(key)

    def _read(self, port: str, message: bytes) -> None:
        if len(message) < 3:
            return
        kind = message[0] & 0xF0
        channel = message[0] & 0x0F
        first = message[1] & 0x7F
        second = message[2] & 0x7F
        key = ("midi", port, channel, first)
        if kind == 0x90 and second:
            self._after_pedal.discard(key)
            self._down.add(key)
            self._hands.press(key, first, loudness=second, voice=voice_for(self.routes, channel + 1, first))
        elif kind in (0x80, 0x90):
            if (port, channel) in self._pedals:
                self._after_pedal.add(key)
            else:
                self._release(key)
        elif kind == 0xB0 and first == _PEDAL:
            if second >= 64:
                self._pedals.add((port, channel))
            else:
                self._pedals.discard((port, channel))
                for each in [each for each in self._after_pedal if each[1:3] == (port, channel)]:
                    self._release(each)
        elif kind == 0xB0 and first in (_ALL_SOUND_OFF, _ALL_NOTES_OFF):
            self._let_go(port, channel)

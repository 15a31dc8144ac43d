"""Where signals go: an address of Open Sound Control, a MIDI port, or a list for trying things out."""

from __future__ import annotations

import socket
from contextlib import suppress
from ipaddress import ip_address
from typing import Protocol

from pythonosc.osc_message_builder import OscMessageBuilder

from ..faults import InputFault
from .messages import MidiMessage, OscMessage, song_position
from .ports import OUTPUTS, opened

__all__ = [
    "MidiOutlet",
    "MidiPort",
    "OscOutlet",
    "Outlet",
    "SimulatedPort",
    "SystemPort",
    "is_numeric",
    "read_address",
    "resolved",
]


class Outlet(Protocol):
    """Takes what is told. Nothing of it ever waits, or fails: a receiver that is gone costs nothing."""

    def start(self, title: str, seconds: float, second: float, tick: float) -> None:
        """A tune that lasts so many seconds is heard from a second, and tick, on."""

    def send(self, message: OscMessage | MidiMessage) -> None:
        """Something happens now."""

    def silence(self) -> None:
        """Nothing sounds any longer of what was told."""

    def end(self, second: float) -> None:
        """The tune is over, or was stopped."""

    def close(self) -> None:
        """Nothing more is told."""


def read_address(text: str) -> tuple[str, int]:
    """``9000`` or ``host:9000`` as host and port; this machine where no host is named. Raises InputFault."""
    host, _, port = text.strip().rpartition(":")
    if host.startswith("[") and host.endswith("]"):  # an address of version 6, such as [::1]
        host = host[1:-1]
    if not (port.isascii() and port.isdigit() and len(port) <= 5 and 1 <= int(port) <= 65535):
        raise InputFault(f"{text}: an address is HOST:PORT, such as 127.0.0.1:9000 or [::1]:9000.")
    return host or "127.0.0.1", int(port)


def resolved(address: str) -> str:
    """Return an address with its host as a number; this may ask the network. Raises InputFault.

    >>> resolved("9000")
    '127.0.0.1:9000'
    """
    host, port = read_address(address)
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_DGRAM)
    except (OSError, UnicodeError):
        raise InputFault(f"{host}: there is no such host.") from None
    number = str(found[0][4][0])
    return f"[{number}]:{port}" if ":" in number else f"{number}:{port}"


def is_numeric(address: str) -> bool:
    """Return whether an address names its host by a number, so that no network is asked. Raises InputFault."""
    host, _ = read_address(address)
    try:
        ip_address(host.partition("%")[0])
    except ValueError:
        return False
    return True


def _osc_bytes(address: str, tags: str, values: tuple[str | int | float, ...]) -> bytes:
    """An Open Sound Control 1.0 message."""
    builder = OscMessageBuilder(address)
    for tag, value in zip(tags[1:], values, strict=True):
        builder.add_arg(value, tag)
    return builder.build().dgram


class OscOutlet:
    """Sends Open Sound Control 1.0 over UDP. Raises InputFault for a host that has no address."""

    def __init__(self, host: str, port: int) -> None:
        try:
            found = socket.getaddrinfo(host, port, type=socket.SOCK_DGRAM)
        except (OSError, UnicodeError):
            raise InputFault(f"{host}: there is no such host.") from None
        family, kind, protocol, _, goal = found[0]
        self._goal: tuple[object, ...] = goal
        self._socket = socket.socket(family, kind, protocol)
        self._socket.setblocking(False)
        self._sounding: dict[tuple[str | int | float, ...], int] = {}
        self._second = 0.0

    def start(self, title: str, seconds: float, second: float, tick: float) -> None:
        """``/chickadee/start``: the title, and how long the tune lasts."""
        self._second = second
        self._write("/chickadee/start", ",sf", (title, seconds))

    def send(self, message: OscMessage | MidiMessage) -> None:
        """Send a message, and remember what sounds."""
        if isinstance(message, OscMessage):
            self._second = message.second
            what = message.values[:3]
            if message.address.endswith("/note"):
                self._sounding[what] = self._sounding.get(what, 0) + 1
            elif message.address.endswith("/off"):
                if what not in self._sounding:
                    return  # it was let go when playing went elsewhere
                left = self._sounding.pop(what) - 1
                if left:
                    self._sounding[what] = left
            self._write(*message[1:])

    def silence(self) -> None:
        """``/chickadee/off`` for all that sounds."""
        for what, times in self._sounding.items():
            for _ in range(times):
                self._write("/chickadee/off", ",sisf", (*what, self._second))
        self._sounding.clear()

    def end(self, second: float) -> None:
        """``/chickadee/end``: the second."""
        self._write("/chickadee/end", ",f", (second,))

    def close(self) -> None:
        self._socket.close()

    def _write(self, address: str, tags: str, values: tuple[str | int | float, ...]) -> None:
        with suppress(OSError):  # nobody listens, or nobody has room: the sound goes on
            self._socket.sendto(_osc_bytes(address, tags, values), self._goal)


class MidiPort(Protocol):
    """Takes MIDI messages."""

    def write(self, data: bytes) -> None:
        """Send one message."""

    def close(self) -> None:
        """No more come."""


class SimulatedPort:
    """A port without a device: it keeps what it is sent."""

    def __init__(self) -> None:
        self.sent: list[bytes] = []

    def write(self, data: bytes) -> None:
        self.sent.append(data)

    def close(self) -> None:
        pass


class SystemPort:
    """One of the system's MIDI outputs, by its name or a part of it. Raises InputFault where there is none."""

    def __init__(self, name: str) -> None:
        self._port = opened(OUTPUTS, name)

    def write(self, data: bytes) -> None:
        with suppress(Exception):  # it was unplugged: the sound goes on
            self._port.send_message(list(data))

    def close(self) -> None:
        self._port.close_port()


class MidiOutlet:
    """Sends MIDI 1.0 to a port: start, song position, clock, the notes, stop."""

    def __init__(self, port: MidiPort) -> None:
        self._port = port
        self._used: set[int] = set()

    def start(self, title: str, seconds: float, second: float, tick: float) -> None:
        """Start from the beginning, or go on from a place."""

        if tick:
            self._port.write(song_position(tick))
        self._port.write(b"\xfb" if tick else b"\xfa")

    def send(self, message: OscMessage | MidiMessage) -> None:
        """Send a message, and remember its channel."""
        if isinstance(message, MidiMessage):
            if message.data[0] < 0xF0:
                self._used.add(message.data[0] & 0x0F)
            self._port.write(message.data)

    def silence(self) -> None:
        """Lift the pedal and let all notes go, in every channel that was used."""
        for channel in sorted(self._used):
            for controller in (64, 123):
                self._port.write(bytes((0xB0 | channel, controller, 0)))

    def end(self, second: float) -> None:
        self._port.write(b"\xfc")

    def close(self) -> None:
        self._port.close()

"""A small listener: what comes over UDP or a MIDI port, as lines of text."""

from __future__ import annotations

import socket
from collections.abc import Iterator
from typing import Any

from pythonosc.osc_packet import OscPacket, ParseError

from ..faults import InputFault
from ..files import printable
from .ports import INPUTS, opened

__all__ = ["lines_of", "midi_input", "osc_socket"]

_LARGEST = 65_536
_NAMES = {0x80: "note off", 0x90: "note on", 0xA0: "key pressure", 0xB0: "control", 0xC0: "program",
          0xD0: "pressure", 0xE0: "bend"}  # fmt: skip
_SYSTEM = {0xF2: "song position", 0xF8: "clock", 0xFA: "start", 0xFB: "continue", 0xFC: "stop"}


def osc_socket(port: int) -> socket.socket:
    """A socket that hears what this machine sends to a port. Raises InputFault where the port is taken."""
    found = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    try:
        found.bind(("127.0.0.1", port))
    except OSError as fault:
        found.close()
        raise InputFault(f"port {port} cannot be listened to: {fault.strerror}") from None
    return found


def midi_input(name: str) -> Any:
    """The system's MIDI input of a name, or a part of it, opened. Raises InputFault where there is none."""
    port = opened(INPUTS, name)
    port.ignore_types(timing=False)
    return port


def lines_of(data: bytes) -> Iterator[str]:
    """Return the messages of a datagram or of MIDI bytes, a line each."""
    if data[:1] in (b"/", b"#"):
        try:
            for timed in OscPacket(data[:_LARGEST]).messages:
                yield " ".join([timed.message.address, *map(_value, timed.message.params)])
        except (ParseError, ValueError):
            yield "a datagram that is no Open Sound Control"
    elif data and data[0] >= 0xF0:
        yield " ".join(["midi", _SYSTEM.get(data[0], f"{data[0]:02x}"), *map(str, data[1:])])
    elif data and data[0] >= 0x80:
        yield " ".join(["midi", _NAMES[data[0] & 0xF0], f"channel {1 + (data[0] & 0x0F)}:", *map(str, data[1:])])
    else:
        yield "a datagram that is no Open Sound Control"


def _value(value: object) -> str:
    return f"{value:.3f}" if isinstance(value, float) else printable(str(value))

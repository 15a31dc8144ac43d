"""``chickadee signals``: what the desk or ``chickadee play`` tells other programs, printed as it comes."""

from __future__ import annotations

import signal
import socket
import time
from typing import Any

import click

from ..faults import InputFault
from ..signals.receiving import lines_of, midi_input, osc_socket
from .refusal import Refused
from .terminal import say_line

__all__ = ["signals"]

_PORT = 9000
_LOOK = 0.1  # seconds


@click.command()
@click.option(
    "--osc", type=click.IntRange(1, 65_535), metavar="PORT", help=f"The UDP port; {_PORT} if nothing is named."
)
@click.option("--midi", metavar="PORT", help="A MIDI port, by its name or a part of it.")
def signals(osc: int | None, midi: str | None) -> int:
    """Print what the desk or “chickadee play --osc 127.0.0.1:PORT” tells others, a line a message. Ctrl+C ends it."""
    try:
        port = midi_input(midi) if midi is not None else None
        sound = osc_socket(osc or _PORT) if osc is not None or midi is None else None
    except InputFault as fault:
        raise Refused(str(fault)) from None
    ended = False

    def end(*_: object) -> None:
        nonlocal ended
        ended = True

    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, end)
    if sound is not None:
        sound.settimeout(_LOOK if port is None else _LOOK / 10)
        click.echo(f"listening on 127.0.0.1:{sound.getsockname()[1]}", err=True)
    while not ended:
        for data in (_datagram(sound), _message(port)):
            for line in lines_of(data) if data else ():
                say_line(line)
        if sound is None:
            time.sleep(_LOOK / 10)
    if sound is not None:
        sound.close()
    return 0


def _datagram(sound: socket.socket | None) -> bytes:
    if sound is None:
        return b""
    try:
        return sound.recv(65_536)
    except TimeoutError:
        return b""


def _message(port: Any) -> bytes:
    found = port.get_message() if port is not None else None
    return bytes(found[0]) if found is not None else b""

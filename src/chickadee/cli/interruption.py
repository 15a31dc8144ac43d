"""Signals that end a command, held back while code runs that an exception would break."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from types import FrameType

__all__ = ["HeldSignal", "held_signals"]

_ENDING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


@dataclass
class HeldSignal:
    """The signal that came meanwhile; 0 for none."""

    number: int = 0


@contextmanager
def held_signals() -> Iterator[HeldSignal]:
    """Note signals instead of raising; the first that came takes effect when the block is left.

    Signals that are ignored, as a hangup is under ``nohup``, stay so.
    Qt's painting calls back into Python, and an exception there ends the process without cleaning up.
    """
    held = HeldSignal()

    def note(number: int, frame: FrameType | None) -> None:
        held.number = held.number or number

    wanted = [number for number in _ENDING if signal.getsignal(number) is not signal.SIG_IGN]
    before = {number: signal.signal(number, note) for number in wanted}
    try:
        yield held
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)
        if held.number:
            os.kill(os.getpid(), held.number)

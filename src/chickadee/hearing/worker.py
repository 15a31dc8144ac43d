"""Listening in a process of its own: told how far it is, and stopped at once."""

from __future__ import annotations

import subprocess
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from pathlib import Path

from ..files import FileFault
from ..own_process import started
from .listening import Heard, listen

__all__ = ["Listening", "listen_for"]


@dataclass
class Listening:
    """A recording that is listened to elsewhere."""

    path: Path
    tuning: float = 440.0
    _process: subprocess.Popen[bytes] | None = field(default=None, init=False)
    _stopped: bool = field(default=False, init=False)

    def heard(self, progress: Callable[[float], object] = lambda done: None) -> Heard | None:
        """Wait for what is heard; None where it was stopped. Raises FileFault."""
        ours, theirs = Pipe()
        with theirs:
            process = self._process = started("chickadee.hearing.worker", theirs.fileno())
        if self._stopped:
            process.kill()
        with ours, suppress(EOFError, OSError):
            ours.send((self.path, self.tuning))
            while True:
                told = ours.recv()
                if isinstance(told, float):
                    progress(told)
                    continue
                process.wait()
                if isinstance(told, Heard):
                    return told
                raise FileFault(self.path, told)
        process.wait()
        if self._stopped:
            return None
        raise FileFault(self.path, "listening to it took more than this computer has")

    def stop(self) -> None:
        """End it at once, from any thread."""
        self._stopped = True
        if self._process is not None:
            self._process.kill()


def listen_for(descriptor: int) -> None:
    """Listen to what is asked for, and tell: what the process does."""
    with Connection(descriptor) as connection, suppress(EOFError, OSError):
        path, tuning = connection.recv()

        def told(done: float) -> bool:
            connection.send(float(done))
            return True

        try:
            connection.send(listen(path, tuning, told))
        except FileFault as fault:
            connection.send(fault.reason)


if __name__ == "__main__":
    import sys

    listen_for(int(sys.argv[1]))

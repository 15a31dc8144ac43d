"""The system's sound server: if it is there."""

from __future__ import annotations

import os
import socket
from pathlib import Path

__all__ = ["SoundServer"]


class SoundServer:
    """Looks for the socket of the user's sound server, and remembers whether it was there."""

    def __init__(self) -> None:
        self._was_there = self.is_there()

    def came_back(self) -> bool:
        """Return whether it is there now and was not the time before."""
        was_there, self._was_there = self._was_there, self.is_there()
        return self._was_there and not was_there

    @staticmethod
    def is_there() -> bool:
        """Return whether it answers at its socket."""
        place = Path(os.environ.get("XDG_RUNTIME_DIR", "/nonexistent")) / "pulse" / "native"
        with socket.socket(socket.AF_UNIX) as knock:
            try:
                knock.connect(str(place))
            except OSError:
                return False
        return True

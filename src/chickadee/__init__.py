"""Chickadee: tunes as names and numbers, read, checked, rendered and sent out.

>>> import chickadee
>>> reading = chickadee.read("C4 62 E4=2")
>>> [note.pitch.text for note in reading.song.notes]
['C4', 'D4', 'E4']
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from .checks import checked_reading as read

__all__ = ["read"]
__version__ = "0.1.0"


def __getattr__(name: str) -> object:
    """Load what the package offers when it is first asked for, so that the window need not wait for it."""
    if name == "read":
        from .checks import checked_reading

        return checked_reading
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")

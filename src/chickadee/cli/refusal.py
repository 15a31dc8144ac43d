"""How a command that cannot be carried out says so."""

from __future__ import annotations

__all__ = ["Refused"]


class Refused(Exception):  # noqa: N818 - a sentence for the user
    """A command could not be carried out; its text is the one sentence that says why."""

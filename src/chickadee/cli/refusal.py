"""How a command that cannot be carried out says so."""

from __future__ import annotations

from ..faults import InputFault
from ..files import printable

__all__ = ["Refused"]


_LONGEST = 300  # characters of a sentence, which may quote what was typed


class Refused(InputFault):
    """A command could not be carried out; its text is the one sentence that says why."""

    def __init__(self, sentence: str) -> None:
        sentence = printable(sentence)
        super().__init__(sentence if len(sentence) <= _LONGEST else sentence[: _LONGEST - 1] + "…")

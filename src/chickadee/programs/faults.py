"""Reasons for which a trace ends before the program does, in sentences."""

from __future__ import annotations

from enum import Enum

from .tree import Span

__all__ = ["End", "TraceFault", "shown"]

_LONGEST_SHOWN = 30


class End(Enum):
    """How a trace ended, by the names that the command line gives them."""

    END = "end"
    FAULT = "fault"
    """The pupil's."""
    BOUND = "bound"
    """Ours: it is larger, or of another kind, than what is traced."""
    QUESTION = "question"


class TraceFault(Exception):  # noqa: N818 - a sentence for the user
    """The trace goes no further; its text is the sentence without the line."""

    def __init__(self, sentence: str, span: Span, end: End = End.FAULT) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.span = span
        self.end = end


def shown(text: str) -> str:
    """Return a piece of a program as a sentence can have it."""
    line = " ".join(text.split())
    line = line if len(line) <= _LONGEST_SHOWN else f"{line[: _LONGEST_SHOWN - 1]}…"
    return "".join(sign if sign.isprintable() else "\ufffd" for sign in line)

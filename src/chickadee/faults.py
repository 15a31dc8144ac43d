"""Faults of input: one base for every one of them."""

from __future__ import annotations

__all__ = ["InputFault", "failure_of"]


class InputFault(Exception):  # noqa: N818 - a sentence for the user
    """Something that was written, named or asked for cannot be taken; its text is one sentence for people.

    Nothing else is ever shown to a user as a sentence: any other exception is a fault of ours.
    """


def failure_of(fault: BaseException) -> str:
    """Name a fault of ours and the function that it comes from, for whoever mends it."""
    place = fault.__traceback__
    while place is not None and place.tb_next is not None:
        place = place.tb_next
    return f"{type(fault).__name__} in {place.tb_frame.f_code.co_name}" if place else type(fault).__name__

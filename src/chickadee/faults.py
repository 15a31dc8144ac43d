"""What is wrong with what somebody gave us: one base for every such fault."""

from __future__ import annotations

__all__ = ["InputFault"]


class InputFault(Exception):  # noqa: N818 - a sentence for the user
    """Something that was written, named or asked for cannot be taken; its text is one sentence for people.

    Nothing else is ever shown to a user as a sentence: any other exception is a fault of ours.
    """

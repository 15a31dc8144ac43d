"""A cache for what texts mean, bounded by how long they are too."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import TypeVar

__all__ = ["remembered"]

_T = TypeVar("_T")


def remembered(most: int, longest: int) -> Callable[[Callable[[str], _T]], Callable[[str], _T]]:
    """A decorator that keeps a function's results for the last ``most`` texts of up to ``longest`` characters.

    A longer text is worked out anew each time: one that is edited is another text at each key press, and keeping
    them all would fill the memory.
    """

    def decorate(function: Callable[[str], _T]) -> Callable[[str], _T]:
        cached = lru_cache(maxsize=most)(function)

        def remembering(text: str) -> _T:
            return cached(text) if len(text) <= longest else function(text)

        remembering.__name__, remembering.__doc__ = function.__name__, function.__doc__
        return remembering

    return decorate

"""A cache for what texts mean, bounded by how many characters it keeps."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

__all__ = ["remembered"]

_T = TypeVar("_T")


def remembered(characters: int, longest: int) -> Callable[[Callable[[str], _T]], Callable[[str], _T]]:
    """A decorator that keeps a function's results for texts of up to ``longest`` characters.

    A longer text is worked out anew each time: one that is edited is another text at each key press. The results are
    kept in two generations of so many ``characters`` each: once the younger one is full, the older one is given up,
    but for what has been asked for again. So all that a large sheet needs is found, and what is no longer met goes.
    """

    def decorate(function: Callable[[str], _T]) -> Callable[[str], _T]:
        young: dict[str, _T] = {}
        old: dict[str, _T] = {}
        kept = 0

        def remembering(text: str) -> _T:
            try:
                return young[text]
            except KeyError:
                return function(text) if len(text) > longest else keep(text)

        def keep(text: str) -> _T:
            nonlocal young, old, kept
            result = old[text] if text in old else function(text)
            if kept > characters:
                young, old, kept = {}, young, 0
            young[text] = result
            kept += len(text) + 1
            return result

        remembering.__name__, remembering.__doc__ = function.__name__, function.__doc__
        remembering.__wrapped__ = function  # type: ignore[attr-defined]
        return remembering

    return decorate

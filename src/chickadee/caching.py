"""Caches: of what texts mean, bounded by size; of what sounds are made of, given up at rest."""

from __future__ import annotations

from collections.abc import Callable
from functools import _lru_cache_wrapper, lru_cache
from threading import Lock
from typing import Any, TypeVar

__all__ = ["cached", "drop_caches", "latest", "remembered"]

_T = TypeVar("_T")
_dropped: list[_lru_cache_wrapper[Any]] = []


def cached(most: int) -> Callable[[Callable[..., _T]], _lru_cache_wrapper[_T]]:
    """A decorator that keeps the last results of a function, up to so many, until :func:`drop_caches`.

    It is for what is large, soon made again, and wanted often only while a program plays or draws.
    """

    def decorate(function: Callable[..., _T]) -> _lru_cache_wrapper[_T]:
        wrapper = lru_cache(most)(function)
        _dropped.append(wrapper)
        return wrapper

    return decorate


def drop_caches() -> None:
    """Clear every cache of :func:`cached`; from any thread."""
    for wrapper in _dropped:
        wrapper.cache_clear()


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

        remembering.__name__ = function.__name__
        remembering.__doc__ = function.__doc__
        remembering.__wrapped__ = function  # type: ignore[attr-defined]
        return remembering

    return decorate


def latest(
    results: int, weight: int, weight_of: Callable[[_T], int]
) -> Callable[[Callable[[str], _T]], Callable[[str], _T]]:
    """A decorator that keeps a function's newest ``results``, fewer where they are heavier than ``weight`` together.

    The newest one is kept whatever it weighs. While another is worked out, heavy ones are not held: two large ones
    are never in memory because of the cache.
    """

    def decorate(function: Callable[[str], _T]) -> Callable[[str], _T]:
        held: dict[str, _T] = {}  # the newest last
        lock = Lock()

        def drop_old(most: int) -> None:
            while held and (len(held) > most or (len(held) > 1 and sum(map(weight_of, held.values())) > weight)):
                del held[next(iter(held))]

        def newest(text: str) -> _T:
            with lock:
                if text in held:
                    held[text] = held.pop(text)
                    return held[text]
                if sum(map(weight_of, held.values())) > weight:
                    held.clear()
            result = function(text)
            with lock:
                held[text] = result
                drop_old(results)
            return result

        newest.__name__ = function.__name__
        newest.__doc__ = function.__doc__
        newest.__wrapped__ = function  # type: ignore[attr-defined]
        return newest

    return decorate

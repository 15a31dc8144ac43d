"""How a notebook shows a tune: whoever can draw one says so here, and the tune asks.

A song knows nothing of pages; the library, which does, gives this module a function when it is loaded.
"""

from __future__ import annotations

from collections.abc import Callable

__all__ = ["draw_with", "drawn"]

_drawers: list[Callable[[object], str]] = []


def draw_with(drawer: Callable[[object], str]) -> None:
    """Draw tunes with a function that gives HTML, from now on."""
    _drawers[:] = [drawer]


def drawn(tune: object) -> str | None:
    """A song or a reading as HTML; None where nothing is loaded that can draw it."""
    return _drawers[0](tune) if _drawers else None

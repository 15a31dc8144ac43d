"""Our own synthesis: instruments, mixing, rendering in blocks, audio files.

The window needs the score alone; the rest is loaded when something is rendered.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from .score import Score

if TYPE_CHECKING:
    from .render import Renderer, rendered

__all__ = ["Renderer", "Score", "rendered"]


def __getattr__(name: str) -> object:
    if name in __all__:
        from . import render

        return getattr(render, name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")

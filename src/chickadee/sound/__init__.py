"""Our own synthesis: instruments, mixing, rendering in blocks, audio files."""

from .render import Renderer, rendered
from .score import Score

__all__ = ["Renderer", "Score", "rendered"]

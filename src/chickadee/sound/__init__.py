"""Our own synthesis: instruments, mixing, rendering in blocks, audio files."""

from .render import Renderer, Tone, rendered

__all__ = ["Renderer", "Tone", "rendered"]

"""Which voice a MIDI instrument plays: by its channel, and by the range of keys."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

__all__ = ["Route", "read_routes", "voice_for"]

_ANY = "any"


@dataclass(frozen=True, slots=True)
class Route:
    """Some keys that play a voice.

    >>> Route("Whistle", 2, 60, 72).takes(2, 64), Route("Whistle").takes(9, 30)
    (True, True)
    """

    voice: str
    """The name of the voice."""
    channel: int | None = None
    """From 1 to 16; None for any."""
    low: int = 0
    """The lowest MIDI number."""
    high: int = 127
    """The highest."""

    def takes(self, channel: int, number: int) -> bool:
        """Return whether a key of a channel is one of them."""
        return self.channel in (None, channel) and self.low <= number <= self.high

    @property
    def text(self) -> str:
        """As :func:`read_routes` reads it."""
        return f"{self.channel or _ANY} {self.low} {self.high} {self.voice}"


def voice_for(routes: Iterable[Route], channel: int, number: int) -> str | None:
    """The voice that a key plays, by the first route that takes it; None where none does."""
    return next((route.voice for route in routes if route.takes(channel, number)), None)


def read_routes(lines: Sequence[str]) -> tuple[Route, ...]:
    """Routes from their texts; what is none is left out."""
    found = []
    for line in lines:
        channel, low, high, voice = [*line.split(" ", 3), "", "", "", ""][:4]
        numbers = [
            int(part)
            for part in (channel.replace(_ANY, "0"), low, high)
            if part.isascii() and part.isdigit() and len(part) < 4
        ]
        if len(numbers) == 3 and voice and numbers[0] <= 16 and numbers[1] <= numbers[2] <= 127:
            found.append(Route(voice, numbers[0] or None, numbers[1], numbers[2]))
    return tuple(found)

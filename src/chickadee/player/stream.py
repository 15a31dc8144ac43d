"""A performance on its way to a device."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable

from PyQt6.QtMultimedia import QAudioDevice

from ..sound.performance import Performance
from ..sound.render import DEFAULT_RATE
from .output import Output, SilentOutput

__all__ = ["Stream"]

# made in one go
_LEAST_FRAMES = 96
_MOST_FRAMES = 2048
_MOST_AT_ONCE = 16  # such goes, before other things have their turn
_LIT_SECONDS = 0.4  # how long the limiter's light stays on


class Stream:
    """Makes a performance's sound as an output wants it, and knows which frame of it is heard.

    Before each block the performance is kept as it stands, so that what was made and is not yet heard can be made
    again, otherwise: what is asked for is heard soon, however much is made beforehand.
    """

    def __init__(self, output: Callable[[QAudioDevice], Output]) -> None:
        """``output`` opens a device."""
        self.output: Output = SilentOutput(DEFAULT_RATE)
        self._open_device = output
        self._made = Performance(DEFAULT_RATE)
        self._kept: deque[Performance] = deque()
        self._opened_at = 0  # the performance's frame at which the output was opened
        self._asked_at = 0  # the frame at which something was last asked of it
        self._written = 0  # the frame up to which the output has it
        self._lit_until = 0.0

    @property
    def performance(self) -> Performance:
        """As it will be at the last frame that was made."""
        return self._made

    @property
    def device(self) -> QAudioDevice | None:
        """The device it plays on; None for the silent clock."""
        return self.output.device

    @property
    def heard(self) -> int:
        """The performance's frame that is heard."""
        return self._opened_at + self.output.heard()

    @property
    def peak(self) -> float:
        """The largest sample of the block that is heard."""
        return self._heard_performance.peak

    @property
    def limited(self) -> bool:
        """True if the limiter was at work just now."""
        return time.monotonic() < self._lit_until

    def open(self, device: QAudioDevice | None) -> None:
        """Go on playing on a device, or on the silent clock, with what would have been heard next."""
        self._made = self._as_at(min(self._made.frames, max(self._asked_at, self.heard)))
        self.output.close()
        self._opened_at = self._asked_at = self._written = self._made.frames
        self.output = SilentOutput(DEFAULT_RATE) if device is None else self._open_device(device)

    def soon(self, same_until: int = 0) -> Performance:
        """The performance at the first frame that can still be changed, to ask something of it there.

        What is asked will make no difference before the frame ``same_until``: what the output has of that stays.
        """
        here = max(self._asked_at, self._opened_at + self.output.settled())
        self._made = self._as_at(min(here, self._made.frames))
        self._asked_at = self._made.frames
        if (stays := max(self._asked_at, same_until)) < self._written:
            self.output.take_back(self._written - stays)
            self._written = stays
        return self._made

    def pump(self) -> None:
        """Make what is wanted now."""
        wanted = self._written - self._made.frames + self.output.wanted()
        for _ in range(_MOST_AT_ONCE):
            if wanted < _LEAST_FRAMES:
                break
            frames = min(wanted, _MOST_FRAMES)
            self._kept.append(self._made.copy())
            known = min(frames, self._written - self._made.frames)  # the output has these already
            sound = self._made.read(frames)[known:]
            if len(sound):
                self.output.write(sound)
            self._written += len(sound)
            wanted -= frames
        self._made.prepare(0.001)
        heard = self.heard
        while len(self._kept) > 1 and self._kept[1].frames <= heard:
            self._kept.popleft()
        if self._heard_performance.limited:
            self._lit_until = time.monotonic() + _LIT_SECONDS

    @property
    def _heard_performance(self) -> Performance:
        """As it was before the block that is heard."""
        return self._kept[0] if self._kept else self._made

    def _as_at(self, frame: int) -> Performance:
        """The performance at a frame that was made and can still be heard."""
        if frame == self._made.frames:
            return self._made
        while len(self._kept) > 1 and self._kept[-1].frames > frame:
            self._kept.pop()
        performance = self._kept.pop()
        if frame > performance.frames:
            performance.read(frame - performance.frames)
        return performance

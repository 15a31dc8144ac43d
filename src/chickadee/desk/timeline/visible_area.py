"""How large the tune is drawn, and which part of it is seen."""

from __future__ import annotations

from PyQt6.QtWidgets import QScrollBar

from ...display.axes import Axes, with_room
from ...song import TICKS_PER_QUARTER
from ..theme import Look

__all__ = ["VisibleArea"]

_QUARTER = (4.0, 400.0)
_USUAL_QUARTER = 46.0
_LANES = (9, 26)
_LEAST_USUAL_LANE = 12
_TALLER = (0.4, 3.0)
_READING_COLUMN = 0.45  # where in the roll it stays while the music scrolls under it
_NEW_COLUMN = 0.3  # where in the roll a place comes that was out of sight
# pixels
_FIT_MARGIN = 24
_END_MARGIN = 30


class VisibleArea:
    """Zoom and scrolling of a roll on two scroll bars: across in pixels, down in lanes from MIDI number 127."""

    def __init__(self, across: QScrollBar, down: QScrollBar, look: Look) -> None:
        self._across = across
        self._down = down
        self._look = look
        self._quarter = _USUAL_QUARTER
        self._span = with_room(60, 72)  # MIDI numbers; lanes are as high as suits these
        self._taller = 1.0  # lanes, against that height
        self._width = 1
        self._height = 1
        self._end = 0

    @property
    def axes(self) -> Axes:
        """Where ticks and MIDI numbers are drawn at this moment."""
        low, high = self._span
        usual = min(self._look.px(_LANES[1]), max(self._look.px(_LEAST_USUAL_LANE), self._height // (high - low + 1)))
        lane = max(self._look.px(_LANES[0]), round(usual * self._taller))
        return Axes(self._quarter, self._across.value(), lane, 127 - self._down.value())

    def set_look(self, look: Look) -> None:
        """Draw at another size."""
        self._quarter *= look.scale / self._look.scale
        self._look = look

    def measure(self, width: int, height: int, end: int) -> None:
        """The roll is so many pixels large, and the tune ends at a tick."""
        self._width = width
        self._height = height
        self._end = end
        whole = end * self._quarter / TICKS_PER_QUARTER + 0.2 * width
        self._across.setRange(0, max(0, round(whole - width)))
        self._across.setPageStep(max(1, width))
        self._across.setSingleStep(round(self._quarter))
        self._down.setRange(0, max(0, 128 - self._lanes))
        self._down.setPageStep(self._lanes)

    # Zoom

    def zoom(self, factor: float, at: float | None = None) -> None:
        """Make time wider or narrower, keeping the pixel ``at`` of the roll in its place."""
        at = self._width / 2 if at is None else at
        tick = self.axes.tick(at)
        self._set_quarter(self._quarter * factor)
        self._across.setValue(round(tick * self._quarter / TICKS_PER_QUARTER - at))

    def zoom_pitch(self, factor: float, at: float | None = None) -> None:
        """Make lanes higher or lower, keeping the pitch at the pixel ``at`` of the roll in its place."""
        at = self._height / 2 if at is None else at
        number = self.axes.number(at)
        self._taller = min(_TALLER[1], max(_TALLER[0], self._taller * factor))
        self._measure_again()
        self._down.setValue(127 - number - int(at // self.axes.lane))

    def zoom_to_usual(self) -> None:
        """Back to the usual width of time and height of lanes."""
        self.zoom(_USUAL_QUARTER * self._look.scale / self._quarter)
        self.zoom_pitch(1 / self._taller)

    def fit_time(self, start: int, end: int) -> None:
        """Make time as wide as shows all between two ticks."""
        room = self._width - self._look.px(_FIT_MARGIN)
        self._set_quarter(room * TICKS_PER_QUARTER / max(1, end - start))
        self._across.setValue(round(start * self._quarter / TICKS_PER_QUARTER))

    def fit_pitches(self, low: int, high: int) -> None:
        """Make lanes as low as shows all pitches, but no higher than usual."""
        self._taller = 1.0
        self.show_pitches(low, high)
        first, last = self._span
        fitting = self._height // (last - first + 1) / self.axes.lane
        self._taller = min(1.0, max(_TALLER[0], fitting))
        self.show_pitches(low, high)

    # Scrolling

    def show_start(self) -> None:
        """Scroll to the start."""
        self._across.setValue(0)

    def sees(self, low: int, high: int) -> bool:
        """Return whether all lanes between two MIDI numbers are seen."""
        top = self.axes.top
        return top - self._height // self.axes.lane < low and high <= top

    def show_pitches(self, low: int, high: int) -> None:
        """Make lanes that suit a range of MIDI numbers, and scroll to where it lies in the middle."""
        self._span = first, last = with_room(low, high)
        self._measure_again()
        top = min(127, max(last, round((first + last + self._lanes - 1) / 2)))
        self._down.setValue(127 - top)

    def reveal(self, tick: float, number: int) -> None:
        """Scroll to a place, unless it is seen."""
        if not self.sees(number, number):
            self._down.setValue(127 - number - self._height // self.axes.lane // 2)
        x = self.axes.x(tick)
        if not 0 <= x <= self._width - self._look.px(_END_MARGIN):
            self._across.setValue(round(self._across.value() + x - self._width * _NEW_COLUMN))

    def follow(self, tick: float) -> None:
        """Let the music move under the reading column once that has reached its place."""
        x = self.axes.x(tick)
        place = self._width * _READING_COLUMN
        if x < 0 or x > place:
            self._across.setValue(round(self._across.value() + x - place))

    @property
    def _lanes(self) -> int:
        return max(1, self._height // self.axes.lane)

    def _set_quarter(self, pixels: float) -> None:
        self._quarter = min(_QUARTER[1], max(_QUARTER[0], pixels))
        self._measure_again()

    def _measure_again(self) -> None:
        self.measure(self._width, self._height, self._end)

"""The meters of a score whose bars may be of any length."""

from __future__ import annotations

from fractions import Fraction

from ...song import TICKS_PER_QUARTER, BarGrid, Meter
from ...song.meter import read_meter

__all__ = ["Meters"]


class Meters:
    """Meters by tick, as bars of any length come one after another."""

    def __init__(self) -> None:
        self._bars: list[tuple[int, int, Meter]] = []  # start, length, meter

    def add(self, start: int, length: int, meter: Meter) -> None:
        """Add the next bar, by its tick and ticks and the meter in force; two halves of a bar are one."""
        if self._bars:
            before = self._bars[-1]
            whole = before[1] + length == meter.bar_ticks
            if before[2] == meter and before[1] < meter.bar_ticks and whole and len(self._bars) > 1:
                self._bars[-1] = before[0], meter.bar_ticks, meter  # a bar in two halves
                return
        self._bars.append((start, length, meter))

    def grid(self) -> BarGrid:
        """The bars as meters; a first one that is too short is a pickup."""
        bars = self._bars
        pickup = 0
        if len(bars) > 1 and bars[0][1] < bars[0][2].bar_ticks:
            pickup = bars[0][1]
        before = bars[0][2] if bars else Meter()
        changes: dict[int, Meter] = {0: before}
        for place, (start, length, meter) in enumerate(bars):
            if not place and pickup:
                continue
            last = place == len(bars) - 1
            own = meter if length == meter.bar_ticks or (last and length < meter.bar_ticks) else _of_length(length)
            if own is not None and own != before:
                changes[start] = before = own
        return BarGrid(tuple(sorted(changes.items())), pickup)


def _of_length(ticks: int) -> Meter | None:
    """A meter of which a bar lasts so many ticks; None where there is none."""
    quarters = Fraction(ticks, 4 * TICKS_PER_QUARTER)
    lower = max(4, quarters.denominator)
    upper = quarters * lower
    return read_meter(f"{upper}/{lower}") if upper.denominator == 1 else None

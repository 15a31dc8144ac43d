"""Pitch of one voice: the normalized autocorrelation of short frames, and the likeliest path through its peaks.

The function of lag is the normalized square difference, 2 r(τ) / m(τ), with a window of constant length (McLeod and
Wyvill, A smarter way to find pitch, 2005). The path through the candidates, with its costs of octave jumps and of
beginning and ending, follows Boersma (Accurate short-term analysis of the fundamental frequency, 1993).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .fourier import irfft, rfft
from .sound_file import Signal

__all__ = [
    "HOP",
    "Candidates",
    "Frames",
    "PitchFrames",
    "in_parts",
    "numbers_of",
    "pitch_path",
    "quick_size",
]

HOP = 0.005
"""Seconds from one frame to the next."""
LOWEST = 40.0
"""The lowest pitch that is looked for, in Hz."""
HIGHEST = 4000.0
"""The highest, in Hz."""
_WINDOW = 0.040  # seconds that a frame compares with what comes a lag later
_AT_ONCE = 64  # frames that are transformed together
_KEPT = 5  # candidates of a frame
_WEAKEST = 0.4  # peak from which on a candidate is kept
_OCTAVE = 0.03  # by which a candidate an octave lower is liked less
_SAME = 0.1  # octaves within which two candidates are one
_PERIODIC = 0.93  # from how much on a period is plain
_BELOW = 12.0  # dB below the strongest partial, from which on a candidate's own partial is missed
_A_DECIBEL = 0.012  # what each dB below that costs
_MOST_HOLLOW = 0.4  # what it costs at most
_SOME = 4000  # frames of the path that are weighed together
_JUMP = 0.35  # the cost of an octave from one frame to the next
_VOICING = 0.45  # the cost of beginning or ending
_UNVOICED = 0.62  # what silence or noise is worth where it is loud
_SILENCE = -50.0  # dB below the loudest, from which on nothing sounds


@dataclass(frozen=True, slots=True)
class Candidates:
    """The candidates for the pitch of some frames."""

    hertz: NDArray[np.float32]
    """Shape (frames, 5); 0 where there is none."""
    strength: NDArray[np.float32]
    """How periodic the frame is at that frequency, to 1; shape (frames, 5)."""
    power: NDArray[np.float32]
    """Mean square of each frame; shape (frames,)."""


class PitchFrames:
    """Finds candidates in a signal that comes in blocks. Frame ``n`` has its middle at ``n * HOP`` seconds."""

    def __init__(self, rate: float) -> None:
        self.picker = picker = Picker(rate)
        self._lead = (picker.window + picker.longest // 4) // 2
        self._frames = Frames(rate, picker.length, self._lead)

    def of(self, block: Signal, last: bool = False) -> Candidates:
        """The candidates of all frames that are complete with this block; with the last, of all."""
        frames = self._frames.of(block, last)
        picker = self.picker
        measured = [self._measured(part) for part in in_parts(frames)]
        alike, partials = (np.concatenate(each) for each in zip(*measured, strict=True))
        hertz, strength = picker.pick(alike, partials)
        return Candidates(hertz, strength, np.mean(frames[:, : picker.window] ** 2, axis=1).astype(np.float32))

    def _measured(self, frames: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """How alike frames are to what comes a lag later, and their partials in dB below the strongest."""
        whole = rfft(frames)
        return self.picker.alike(frames, whole), self.picker.below_top(_through_hann(whole))


def numbers_of(hertz: NDArray[np.floating], tuning: float) -> NDArray[np.float64]:
    """Frequencies in Hz as MIDI numbers with parts; not a number for 0."""
    return np.where(hertz > 0, 69 + 12 * np.log2(np.maximum(hertz.astype(np.float64), 1e-3) / tuning), np.nan)


def in_parts(frames: NDArray[np.float32]) -> list[NDArray[np.float32]]:
    """Frames, so many at a time as a processor keeps at hand while it transforms them; at least one part."""
    return [frames[start : start + _AT_ONCE] for start in range(0, max(1, len(frames)), _AT_ONCE)]


class Frames:
    """Cuts a signal that comes in blocks into overlapping frames. Frame ``n`` begins ``lead`` samples before ``n``
    times ``hop`` seconds."""

    def __init__(self, rate: float, length: int, lead: int, hop: float = HOP) -> None:
        self._rate = rate
        self._length = length
        self._lead = lead
        self._hop = hop
        self._known: Signal = np.zeros(lead, np.float32)  # from the first sample that is still needed on
        self._first = -lead  # the number of that sample
        self._count = 0

    def of(self, block: Signal, last: bool = False) -> NDArray[np.float32]:
        """The frames that are complete with this block, of shape (frames, length); with the last, all."""
        rest = np.zeros(2 * self._length if last else 0, np.float32)
        self._known = np.concatenate((self._known, block, rest))
        starts: list[int] = []
        while (start := self._start()) + self._length <= len(self._known):
            starts.append(start)
            self._count += 1
        frames = [self._known[start : start + self._length] for start in starts]
        keep = max(0, self._start())
        self._known = self._known[keep:]
        self._first = self._first + keep
        return np.stack(frames) if frames else np.zeros((0, self._length), np.float32)

    def _start(self) -> int:
        return round(self._count * self._hop * self._rate) - self._lead - self._first


class Picker:
    """Picks what frames could be from how alike they are to what comes a lag later, and from their partials."""

    def __init__(self, rate: float) -> None:
        self.rate = rate
        self.window = round(_WINDOW * rate)
        self.longest = int(rate / LOWEST) + 2
        self.length = quick_size(self.window + self.longest)
        """Samples of a frame."""
        self._shortest = max(3, int(rate / min(HIGHEST * 1.06, rate / 3)))

    def pick(
        self, alike: NDArray[np.float32], partials: NDArray[np.float32]
    ) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """The frequencies in Hz, 0 where there is none, and their strengths; both of shape (frames, 5).

        ``alike`` is of shape (frames, lags), ``partials`` of shape (frames, bins).
        """
        inside = alike[:, 1:-1]
        before = alike[:, :-2]
        after = alike[:, 2:]
        peak = (inside > before) & (inside >= after) & (inside > _WEAKEST)
        peak[:, : self._shortest - 1] = False
        slope = before - after
        bend = np.minimum(before - 2 * inside + after, -1e-9)
        height = inside - slope**2 / (8 * bend)  # of the parabola: few samples make a short period's peak look low
        lags = np.arange(1, alike.shape[1] - 1)
        worth = np.where(peak, height - _OCTAVE * np.log2(lags / self._shortest), -np.inf)
        best, real = _best(worth)
        lag, strength = _refined(alike, best + 1, self._shortest)
        hertz = np.where(real, self.rate / np.maximum(lag, 1.0), 0.0)
        self._add_strongest(partials, alike, hertz, strength)
        strength = np.where(hertz > 0, np.clip(strength - self._hollow(partials, hertz), 0.0, 1.0), 0.0)
        return hertz.astype(np.float32), strength.astype(np.float32)

    def below_top(self, size: NDArray[np.float32]) -> NDArray[np.float32]:
        """Magnitudes in dB below the highest between LOWEST and HIGHEST."""
        bins = np.arange(size.shape[1]) * self.rate / self.length
        inside = np.where((bins < LOWEST / 2) | (bins > HIGHEST * 1.1), 0.0, size)
        top = np.maximum(inside.max(axis=1, keepdims=True), 1e-12)
        found: NDArray[np.float32] = (20 * np.log10(np.maximum(inside / top, 1e-6))).astype(np.float32)
        return found

    def _add_strongest(
        self,
        partials: NDArray[np.float32],
        alike: NDArray[np.float32],
        hertz: NDArray[np.float64],
        strength: NDArray[np.float64],
    ) -> None:
        """Put the strongest partial among the candidates: what is struck has partials that share no period."""
        at = np.clip(partials.argmax(axis=1), 1, partials.shape[1] - 2)[:, None]
        place, _ = _parabola(partials, at)
        found = place[:, 0] * self.rate / self.length
        lags = self.rate / np.maximum(found, 1.0)
        rows = np.arange(len(hertz))
        away = np.abs(np.log2(np.maximum(hertz, 1.0) / np.maximum(found, 1.0)[:, None]))
        nearest = away.argmin(axis=1)
        there = away[rows, nearest] < _SAME
        exact = there & (strength[rows, nearest] > _PERIODIC)  # then the period is known better than the partial
        fits = (found >= LOWEST) & (found <= HIGHEST) & ~exact & (lags < alike.shape[1] - 6)
        weakest = np.where(hertz > 0, strength, -1.0).argmin(axis=1)
        place_of = np.where(there, nearest, weakest)
        value = _between(alike, np.clip(lags, 1, alike.shape[1] - 6)[:, None])[:, 0]
        hertz[rows[fits], place_of[fits]] = found[fits]
        strength[rows[fits], place_of[fits]] = np.maximum(value, np.where(there, strength[rows, place_of], 0))[fits]

    def _hollow(self, partials: NDArray[np.float32], hertz: NDArray[np.float64]) -> NDArray[np.float64]:
        """Return the penalty of candidates without a partial at their frequency: periods of several notes."""
        bins = np.clip(np.rint(hertz * self.length / self.rate).astype(np.intp), 1, partials.shape[1] - 2)
        around = np.stack([np.take_along_axis(partials, bins + by, axis=1) for by in (-1, 0, 1)])
        missing = np.maximum(0.0, -around.max(axis=0) - _BELOW)
        lost: NDArray[np.float64] = np.minimum(_MOST_HOLLOW, _A_DECIBEL * missing)
        return lost

    def alike(self, frames: NDArray[np.float32], whole: NDArray[np.complexfloating]) -> NDArray[np.float32]:
        """How alike each frame, whose transform is ``whole``, is to what comes each lag later, from -1 to 1; shape
        (frames, lags)."""
        first = rfft(frames[:, : self.window], self.length)
        products = irfft(np.conj(first) * whole, self.length)[:, : self.longest]
        squares = np.cumsum(np.pad(frames.astype(np.float64) ** 2, ((0, 0), (1, 0))), axis=1)
        later = squares[:, self.window : self.window + self.longest] - squares[:, : self.longest]
        both = later + later[:, :1]
        return np.asarray(np.divide(2 * products, both, out=np.zeros_like(both), where=both > 1e-12), np.float32)


def _through_hann(whole: NDArray[np.complexfloating]) -> NDArray[np.float32]:
    """The magnitudes that transforms of frames would have through a Hann window: three bins weighed together."""
    seen = 0.5 * whole
    seen[:, 1:] -= 0.25 * whole[:, :-1]
    seen[:, :-1] -= 0.25 * whole[:, 1:]
    return np.asarray(np.abs(seen), np.float32)


def _best(worth: NDArray[np.float32]) -> tuple[NDArray[np.intp], NDArray[np.bool_]]:
    """Where each row is highest, and whether it is anything there; both of shape (rows, 5). Clears the rows."""
    rows = np.arange(len(worth))
    places = np.zeros((len(worth), _KEPT), np.intp)
    real = np.zeros(places.shape, np.bool_)
    for column in range(_KEPT):
        places[:, column] = worth.argmax(axis=1)
        real[:, column] = worth[rows, places[:, column]] > -np.inf
        worth[rows, places[:, column]] = -np.inf
    return places, real


def quick_size(least: int) -> int:
    """The next number without prime factors beyond five, whose transform is quick."""
    while True:
        rest = least
        for prime in (2, 3, 5):
            while not rest % prime:
                rest //= prime
        if rest == 1 and not least % 2:
            return least
        least += 1


def _refined(
    alike: NDArray[np.float32], places: NDArray[np.intp], shortest: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Lags to a small part of a sample, and how alike they are: a parabola through each peak, and then through the
    peaks at twice, four times ... the lag, whose error is shared by as many periods."""
    lag, strength = _parabola(alike, places)
    top = alike.shape[1] - 3
    times = 2
    while shortest * times < top:
        guess = np.rint(lag * times).astype(np.intp)
        inside = guess < top
        near = np.clip(guess, 2, top)
        step = _higher_beside(alike, near)
        exact, height = _parabola(alike, near + step)
        good = inside & (np.abs(exact - lag * times) < 1.5) & (height > 0.7 * strength)
        lag = np.where(good, exact / times, lag)
        times *= 2
    return lag, np.maximum(strength, _between(alike, lag))


def _between(alike: NDArray[np.float32], lags: NDArray[np.float64]) -> NDArray[np.float64]:
    """How alike between whole lags: a sinc with a window (Hann) through eight of them."""
    whole = np.floor(lags).astype(np.intp)
    found = np.zeros(lags.shape)
    for tap in range(-3, 5):
        place = np.clip(np.abs(whole + tap), 0, alike.shape[1] - 1)  # the function is even
        away = lags - (whole + tap)
        weight = np.sinc(away) * (0.5 + 0.5 * np.cos(np.pi * np.clip(away / 4.5, -1, 1)))
        found += weight * np.take_along_axis(alike, place, axis=1)
    return found


def _higher_beside(alike: NDArray[np.float32], near: NDArray[np.intp]) -> NDArray[np.intp]:
    around = np.stack([np.take_along_axis(alike, near + by, axis=1) for by in (-1, 0, 1)])
    step: NDArray[np.intp] = np.argmax(around, axis=0) - 1
    return step


def _parabola(
    alike: NDArray[np.float32], places: NDArray[np.intp]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The top of the parabola through three values: its place and its height."""
    before, at, after = (np.take_along_axis(alike, places + by, axis=1).astype(np.float64) for by in (-1, 0, 1))
    bend = before - 2 * at + after
    shift = np.divide(0.5 * (before - after), bend, out=np.zeros_like(bend), where=bend < -1e-12)
    shift = np.clip(shift, -1.0, 1.0)
    return places.astype(np.float64) + shift, at - 0.25 * (before - after) * shift


def _worth(hertz: NDArray[np.float64], strength: NDArray[np.float32]) -> NDArray[np.float64]:
    """How candidates are liked: by their strength, and the higher of two octaves a little more."""
    higher = np.where(hertz > 0, np.log2(np.maximum(hertz, 1) / LOWEST), 0.0)
    liked: NDArray[np.float64] = strength + _OCTAVE * higher
    return liked


def pitch_path(found: Candidates) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The frequency of each frame in Hz, 0 where nothing sounds, and how periodic it is; both of shape (frames,).

    A path of least cost (Viterbi) through the candidates and through silence.
    """
    frames = len(found.power)
    if not frames:
        return np.zeros(0), np.zeros(0)
    level = 10 * np.log10(np.maximum(found.power, 1e-14))
    quiet = level < max(level.max() + _SILENCE, -90.0)
    came = np.zeros((frames, _KEPT + 1), np.int8)
    cost = np.full((_KEPT + 1, _KEPT + 1), _VOICING)
    cost[-1, -1] = 0.0
    best = np.zeros(_KEPT + 1)
    before = np.zeros(_KEPT)
    for start in range(0, frames, _SOME):
        part = slice(start, start + _SOME)
        octaves, states = _states(found.hertz[part].astype(np.float64), found.strength[part], quiet[part])
        moves = _JUMP * np.abs(octaves[:, None, :] - np.concatenate((before[None], octaves[:-1]))[:, :, None])
        for frame in range(len(states)):
            cost[:-1, :-1] = moves[frame] if start + frame else 0.0
            ways = best[:, None] - cost
            came[start + frame] = ways.argmax(axis=0)
            best = ways.max(axis=0) + states[frame]
            best -= best.max()
        before = octaves[-1]
    path = np.zeros(frames, np.intp)
    path[-1] = int(best.argmax())
    for frame in range(frames - 1, 0, -1):
        path[frame - 1] = came[frame, path[frame]]
    voiced = path < _KEPT
    at = np.minimum(path, _KEPT - 1)[:, None]
    return (
        np.where(voiced, np.take_along_axis(found.hertz, at, axis=1)[:, 0].astype(np.float64), 0.0),
        np.where(voiced, np.take_along_axis(found.strength, at, axis=1)[:, 0].astype(np.float64), 0.0),
    )


def _states(
    hertz: NDArray[np.float64], strength: NDArray[np.float32], quiet: NDArray[np.bool_]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Candidates in octaves, shape (frames, 5), and what each of them and silence, the last, is worth."""
    worth = np.where((hertz > 0) & ~quiet[:, None], _worth(hertz, strength), -10.0)
    silent = np.where(quiet, 2.0, _UNVOICED + _OCTAVE * np.log2(HIGHEST / LOWEST) / 2)
    return np.log2(np.where(hertz > 0, hertz, 1.0)), np.column_stack((worth, silent))

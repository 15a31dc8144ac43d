"""When each strike of a program sounds, and for how long."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from ..formats.signs import pitches_of
from ..theory import Naming, Pitch
from .arguments import duration_of, given, notes_in, sign_of
from .meaning import PARTS, USUAL_TEMPO, Meaning, Understood
from .recording import Flow, Heard, Joined, LoopRun, PartRun, Pause, Recorded
from .tree import Span
from .vocabulary import Verb

__all__ = ["ENOUGH_BEATS", "Event", "Loop", "Part", "Shaped", "Timed", "timed"]

ENOUGH_BEATS = 32
"""Beats of a loop without an end that are shown: eight bars."""
_ONE = Fraction(1)
_TEMPOS = (Fraction(4), Fraction(1000))
_MOST_BEATS = 1_000_000
_PARTS = (1, 2, 3, 4, 6, 8, 12, 16, 24, 48)  # of a beat that are meant, the plainest first
_MILLISECOND = Fraction(11, 10_000)  # seconds that rounding down takes, and a little more
_LEAST_SEQUENCE = 7  # pitches in one call that follow one another; fewer sound together


@dataclass(slots=True)
class Event:
    """A strike, or a silence where it has no pitches."""

    start: Fraction
    """Beats."""
    length: Fraction
    """Beats."""
    pitches: tuple[Pitch, ...]
    heard: Heard
    """The call that strikes it, or lets the time pass."""
    sign: str = ""
    """The sign in the place of a pitch that cannot be read."""
    loudness: int = 80
    has_length: bool = True
    """False while it is not known when it is over."""
    beside: list[Event] = field(default_factory=list)
    """Others that are struck with it by calls of their own."""

    @property
    def span(self) -> Span:
        """Where the call stands."""
        return self.heard.span


@dataclass(slots=True)
class Loop:
    """A loop's turns in the order in which they sound."""

    turns: list[list[Shaped]]


@dataclass(slots=True)
class Part:
    """A call of one of the program's own functions."""

    name: str
    items: list[Shaped]


Shaped = Event | Loop | Part


@dataclass(slots=True)
class Timed:
    """All that a program sounds, on its clock."""

    events: list[Event] = field(default_factory=list)
    """In order of the trace."""
    shape: list[Shaped] = field(default_factory=list)
    """The events and the silences as the program has them; empty where they do not simply follow one another."""
    tempos: list[tuple[Fraction, Fraction]] = field(default_factory=list)
    """Beats, and beats a minute from there on."""
    end: Fraction = Fraction(0)
    """Beats."""
    turns_at: list[Fraction] = field(default_factory=list)
    """The beats at which the turns of the loop that has no end begin."""
    has_times: bool = False
    """True if any strike or wait has a length."""
    in_seconds: bool = False
    """True if times are given by the clock alone."""


def timed(
    recorded: list[Recorded], meaning: Meaning, endless: Span | None, naming: Naming, exact: bool = False
) -> Timed:
    """Return what a program sounds; ``endless`` is its loop that has no end.

    Times that were rounded to milliseconds are the beats that were meant, unless all are to be ``exact``.
    """
    return _Clock(meaning, endless, naming, exact).run(recorded)


class _Clock:
    """Goes through what was recorded, with the time."""

    def __init__(self, meaning: Meaning, endless: Span | None, naming: Naming, exact: bool) -> None:
        self._exact = exact
        self._meaning = meaning
        self._endless = endless
        self._naming = naming
        self._tempo = meaning.tempo or Fraction(USUAL_TEMPO)
        self._found = Timed()
        self._now = Fraction(0)
        self._ends: dict[int, Fraction] = {}
        self._open: list[Event] = []
        """Strikes that still wait for their length."""
        self._ringing: dict[int, Event] = {}
        """Strikes that are let go later, by MIDI number."""
        self._is_plain = True
        self._lengths: dict[tuple[float | str, str], Fraction | None] = {}
        """Lengths in beats at the tempo in force, by what was given to which call."""
        self._units: set[str] = set()

    def run(self, recorded: list[Recorded]) -> Timed:
        """Return what sounds."""
        found = self._found
        found.shape = self._walk(recorded)
        self._close(_ONE)
        found.end = max([self._now, *(event.start + event.length for event in found.events)], default=Fraction(0))
        if not self._is_plain:
            found.shape = []
        found.in_seconds = bool(self._units) and "beats" not in self._units and not found.tempos
        found.in_seconds = found.in_seconds and self._meaning.tempo is None
        return found

    def _walk(self, items: Sequence[Recorded]) -> list[Shaped]:
        shape: list[Shaped] = []
        for item in items:
            if isinstance(item, Heard):
                understood = self._meaning.calls.get(item.name)
                if understood is not None:
                    self._hear(item, understood, shape)
            elif isinstance(item, LoopRun):
                shape.append(self._loop(item))
            elif isinstance(item, PartRun):
                shape.append(Part(item.name, self._walk(item.items)))
            elif isinstance(item, Flow):
                self._flow(item)
            elif isinstance(item, Joined):
                until = self._ends.get(id(item.flow), self._now)
                if until > self._now:
                    self._wait(until - self._now, None, shape)
            elif isinstance(item, Pause):
                self._wait(self._beats(Fraction(item.milliseconds) / 1000), None, shape)
        return shape

    def _loop(self, item: LoopRun) -> Loop:
        turns: list[list[Shaped]] = []
        for turn in item.turns:
            if item.span == self._endless:
                self._found.turns_at.append(self._now)
                if self._now >= ENOUGH_BEATS and len(turns) > 1:
                    break
            turns.append(self._walk(turn))
        return Loop(turns)

    def _flow(self, flow: Flow) -> None:
        """Walk through a flow that goes on beside the rest."""
        before = self._now
        opened = self._open
        self._open = []
        self._is_plain = False
        self._now = before + self._beats(Fraction(flow.delay) / 1000)
        self._walk(flow.items)
        ends = [self._now]
        if flow.holds_for_inner:
            ends += [self._ends[id(each)] for each in flow.items if isinstance(each, Flow)]
        self._ends[id(flow)] = max(ends)
        self._close(_ONE)
        self._now = before
        self._open = opened

    # Calls

    def _hear(self, heard: Heard, understood: Understood, shape: list[Shaped]) -> None:
        value = given(heard, understood.roles.length)
        if understood.verb is Verb.TEMPO:
            length = duration_of(value)
            if length is not None and _TEMPOS[0] <= length <= _TEMPOS[1] and length != self._last_tempo:
                self._tempo = length
                self._lengths.clear()
                self._found.tempos.append((self._now, length))
            return
        beats = self._lasting(value, understood)
        if understood.is_off:
            self._let_go(heard, understood)
        elif understood.verb is Verb.SILENCE:
            self._wait(beats if beats is not None else _ONE, heard, shape)
        else:
            self._strike(heard, understood, beats, shape)

    @property
    def _last_tempo(self) -> Fraction | None:
        return self._found.tempos[-1][1] if self._found.tempos else None

    def _lasting(self, value: object, understood: Understood) -> Fraction | None:
        """A length in beats, at the tempo in force; None for what is no length."""
        if not isinstance(value, int | float | str):
            length = duration_of(value)
            return None if length is None else self._counted(length, understood)
        key = value, understood.call
        if key not in self._lengths:
            length = duration_of(value)
            self._lengths[key] = None if length is None else self._counted(length, understood)
        return self._lengths[key]

    def _counted(self, length: Fraction, understood: Understood) -> Fraction:
        self._found.has_times = True
        self._units.add(understood.unit)
        if understood.unit == PARTS and length:
            return Fraction(4) / abs(length) * (Fraction(3, 2) if length < 0 else 1)
        length = max(Fraction(0), min(length * understood.factor, Fraction(_MOST_BEATS)))
        if understood.unit == "beats":
            return length
        return self._beats(length / (1000 if understood.unit == "ms" else 1))

    def _beats(self, seconds: Fraction) -> Fraction:
        """Seconds in beats; those that were rounded to whole milliseconds are what they were meant to be."""
        beats = seconds * self._tempo / 60
        for parts in () if self._exact else _PARTS:
            near = Fraction(round(beats * parts), parts)
            if near and abs(near - beats) * 60 <= self._tempo * _MILLISECOND:
                return near
        return beats

    def _wait(self, beats: Fraction, heard: Heard | None, shape: list[Shaped]) -> None:
        lasts = Fraction(0)
        for event in self._open:
            if not event.has_length:
                event.length = beats
                event.has_length = True
            lasts = max(lasts, event.length)
        if lasts > beats or len({event.length for event in self._open}) > 1:
            self._is_plain = False
        self._open = []
        if lasts < beats and heard is not None:
            shape.append(Event(self._now + lasts, beats - lasts, (), heard))
        self._now += beats

    def _strike(self, heard: Heard, understood: Understood, beats: Fraction | None, shape: list[Shaped]) -> None:
        roles = understood.roles
        several = _struck(given(heard, roles.pitch), given(heard, roles.octave), given(heard, roles.length))
        loudness = duration_of(given(heard, roles.loudness))
        level = max(1, min(127, round(loudness))) if loudness is not None and loudness >= 1 else 80
        for value, own in several:
            lasting = beats if own is None else self._lasting(own, understood)
            sign = sign_of(value)
            pitches = pitches_of(sign, roles.hertz, self._naming) if len(sign) < 200 else None
            event = Event(self._now, lasting or _ONE, pitches or (), heard, loudness=level)
            if lasting == 0:
                continue
            if pitches is None:
                event.sign = sign or "nothing"
            if pitches or event.sign:
                self._found.events.append(event)
            if understood.holds or len(several) > 1:
                shape.append(event)
                self._now += event.length
            else:
                self._begin(event, None if understood.fills else lasting, shape)

    def _begin(self, event: Event, lasting: Fraction | None, shape: list[Shaped]) -> None:
        """A strike that goes on at once."""
        event.has_length = lasting is not None
        if self._open:
            self._open[0].beside.append(event)
        else:
            shape.append(event)
        self._open.append(event)
        if lasting is None:
            for pitch in event.pitches:
                self._ringing[pitch.number] = event

    def _let_go(self, heard: Heard, understood: Understood) -> None:
        """A strike ends: the one named, or all."""
        self._is_plain = False
        sign = sign_of(given(heard, understood.roles.pitch))
        pitches = pitches_of(sign, understood.roles.hertz, self._naming) if sign else None
        numbers = [pitch.number for pitch in pitches] if pitches else list(self._ringing)
        for number in numbers:
            event = self._ringing.pop(number, None)
            if event is not None and self._now > event.start:
                event.length = self._now - event.start
                if event in self._open:
                    self._open.remove(event)

    def _close(self, length: Fraction) -> None:
        """Strikes that nothing gave a length to have one beat."""
        for event in self._open:
            if not event.has_length:
                event.length = length
        self._open = []


def _struck(pitch: object, octave: object, length: object) -> list[tuple[object, Fraction | None]]:
    """The pitches that a call strikes one after the other, each with its own length where it has one."""
    if isinstance(pitch, list | tuple):
        if any(isinstance(each, list | tuple) for each in pitch):
            pairs = [tuple(each) if isinstance(each, list | tuple) else (each,) for each in pitch]
            return [(each[0], duration_of(each[1]) if len(each) > 1 else None) for each in pairs if each]
        if isinstance(length, list | tuple):
            lengths = [duration_of(each) for each in length]
            return list(zip(pitch, lengths, strict=False))
        if len(pitch) >= _LEAST_SEQUENCE:
            return [(each, None) for each in pitch]
    if isinstance(pitch, str) and octave is None and (several := notes_in(pitch)) is not None:
        return list(several)
    if isinstance(octave, int) and isinstance(pitch, str) and pitch:
        return [(f"{pitch}{octave}", None)]
    return [(pitch, None)]

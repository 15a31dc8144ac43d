"""One voice, walked from its start: every sign at its tick."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import NamedTuple
from zlib import crc32

from ..song import BarGrid, Meter, Note
from ..theory import Key
from . import rules
from .bounds import Allowance, Findings, TooMany
from .direction import (
    ChangeKey,
    ChangeMeter,
    ChangeSound,
    ChangeSwing,
    ChangeTempo,
    Loudness,
    Mark,
    Pedal,
    RampTempo,
    Swell,
    TempoMark,
    Vary,
)
from .finding import Fix, TextEdit
from .flatten import Fit, Frame, Placed, Until
from .meaning import EventKind, Scope, Settled, settle
from .tree import BarLine, Direction, Item, Sung
from .word import Word
from .written import ACCENT

__all__ = ["ONCE", "Event", "EventKind", "SongWide", "VoiceWalk"]

_MOST_TICKS = 24 * 60 * 1000 * 8_064_000  # twenty-four hours at a thousand quarters a minute
_MOST_AT_ONCE = 1_000  # repeats that are walked in one go
_NEVER = float("inf")
ONCE = -1
"""A goal that has what is repeated to the end played once, where no other voice sets an end."""
_USUAL = 80
_MOST_SCOPES = 50  # whose words are kept, settled


_new = tuple.__new__  # makes a named tuple at a third of its own constructor's time
_STRIKE = EventKind.STRIKE
_HOLD = EventKind.HOLD
_BAR = EventKind.BAR


class Event(NamedTuple):
    """One thing a voice does, where it is written and when it happens."""

    tick: int
    length: int
    """Ticks until the next event; 0 for a bar line."""
    kind: EventKind
    start: int
    """Offsets of the text."""
    end: int


class SongWide(NamedTuple):
    """A direction for the whole song, where a voice has it."""

    tick: int
    what: ChangeTempo | RampTempo | ChangeMeter | ChangeKey | ChangeSwing | Mark
    start: int
    end: int


@dataclass(slots=True)
class _Swelling:
    """A run from one loudness towards the next."""

    tick: int
    level: float
    by: int
    first: int
    """The first note it reaches."""


class VoiceWalk:
    """Walks one voice.

    ``changes`` are the song's meters and keys as known so far: (tick, Meter or Key) in order. ``goal`` is the tick
    at which the longest other voice ends, ONCE where there is none, or None while that is not known. ``allowance``
    is what may still be made by this walk and those after it.
    """

    def __init__(
        self,
        index: int,
        scope: Scope,
        changes: Sequence[tuple[int, Meter | Key]],
        level: int,
        goal: int | None,
        allowance: Allowance,
    ) -> None:
        self.tick = 0
        self.notes: list[Note] = []
        self.events: list[Event] = []
        self.findings = Findings()
        self.song_wide: list[SongWide] = []
        self.sounds: list[tuple[int, str]] = []
        self.pedals: list[tuple[int, int]] = []
        self.spent = 0
        """The part of the allowance that this walk took."""
        self.waits = False
        """True if something here is repeated to an end that is not known."""
        self.repeated_tempos: list[TempoMark] = []
        """The tempos that it changes to."""
        self._index = index
        self._scope = scope
        self._goal = goal
        self._allowance = allowance
        self._changes = changes
        self._next_place = 0
        self._next_change: float = self._changes[0][0] if self._changes else _NEVER
        self._level: float = level
        self._vary = 0
        self._swelling: _Swelling | None = None
        self._shades: dict[int, tuple[float, bool, int]] = {}  # note: loudness before accent, accent, vary
        self._newest = 0  # how many of the newest notes a hold makes longer
        self._held: list[tuple[int, int, int]] = []  # the holds since: ticks, and the offsets of each
        self._started = False
        self._pedal: int | None = None
        self._sung: Counter[Sung] = Counter()
        self._fitted: dict[Frame, Frame] = {}  # the frames of fitted groups, with what that does to lengths
        self._insides: dict[Fit, Fraction] = {}  # the ticks of what is to be fitted
        self._frame: Frame | None = None
        self._settled: dict[Word, Settled] = {}
        self._by_frame: dict[Frame, dict[Word, Settled]] = {}
        self._spans: dict[
            tuple[int, int], tuple[tuple[int, int]]
        ] = {}  # of notes by span, shared by all that come again
        self._by_scope = {scope: self._by_frame}

    def run(self, placed: Sequence[Placed]) -> None:
        """Walk some signs. Raises TooMany beyond the bounds."""
        if placed:
            self._spend(len(placed), placed[-1].node.start, placed[-1].node.end)
        item = self._item
        bar_line = BarLine
        bars = self.events
        for node, frame in placed:
            kind = type(node)
            if kind is Item:
                if frame.fits:
                    frame = self._fitted.get(frame) or self._fit(frame)
                if frame is not self._frame:
                    self._frame = frame
                    self._settled = self._by_frame.setdefault(frame, {})
                item(node, frame)  # type: ignore[arg-type]
            elif kind is bar_line:
                bars.append(_new(Event, (self.tick, 0, _BAR, node[0], node[1])))  # type: ignore[index]
            elif kind is Direction:
                self._direction(node)  # type: ignore[arg-type]
            else:
                self._until(node)  # type: ignore[arg-type]
        self._join_holds()

    def finish(self, stress: tuple[int, ...] | None, grid: BarGrid) -> None:
        """Settle what only the end tells: swells, stress and variation of loudness, and the pedal."""
        if self._pedal is not None and self.tick > self._pedal:
            self.pedals.append((self._pedal, self.tick))
        if self._swelling is not None:
            self._swell_to(self._swelling.level + self._swelling.by)
        if stress:
            self._shades = {
                place: self._shades.get(place, (note.loudness, False, 0)) for place, note in enumerate(self.notes)
            }
        for place, (level, accent, vary) in self._shades.items():
            note = self.notes[place]
            if stress:
                meter = grid.meter_at(note.start)
                place_in_bar = grid.place(note.start)
                beat = int(place_in_bar.beat - 1)
                if place_in_bar.bar == 0:  # a pickup is the end of a bar
                    beat += (meter.bar_ticks - grid.pickup) // meter.beat_ticks
                beat //= meter.pulse_beats
                level = level * stress[beat % len(stress)] / _USUAL
            if vary:
                level += crc32(f"{self._index}:{place}:{note.start}".encode()) % (2 * vary + 1) - vary
            loudness = min(127, max(1, round(level + (ACCENT if accent else 0))))
            self.notes[place] = note._replace(loudness=loudness)

    # Notes, rests and holds

    def _item(self, item: Item, frame: Frame) -> None:
        start, end, word = item
        if self._next_change <= self.tick:
            self._catch_up()
        settled = self._settled.get(word)
        if settled is None:
            settled = self._settled[word] = settle(word, frame, self._scope)
        kind, ticks, struck, findings = settled
        if findings:
            self.findings.extend(findings, start)
        tick = self.tick
        if self._held and kind is not _HOLD:
            self._join_holds()
        if kind is _STRIKE:
            loud = round(self._level)
            tune = self.notes
            shaded = self._vary or self._swelling is not None or self._shades
            sung = frame.syllables.get(start) if frame.syllables else None
            syllable = self._sing(sung) if sung is not None else ""
            for pitch, number, first, last, accent, short, after, own in struck:
                span = (start, end) if first < 0 else (start + first, start + last)
                spans = self._spans.get(span) or self._spans.setdefault(span, (span,))
                if shaded:
                    self._shades[len(tune)] = self._level, accent, self._vary
                loudness = min(127, loud + ACCENT) if accent else loud
                tune.append(
                    _new(
                        Note,
                        (
                            tick + after if after else tick,
                            self._index,
                            own or ticks,
                            pitch,
                            number,
                            loudness,
                            short,
                            spans,
                            syllable,
                        ),
                    )
                )
            self._newest = len(struck)
            if self._newest > 1:
                self._spend(self._newest - 1, start, end)
        elif kind is _HOLD:
            self._hold(ticks, start, end)
        else:
            self._newest = 0
        self._started = True
        self.events.append(_new(Event, (tick, ticks, kind, start, end)))
        self.tick = tick + ticks
        if self.tick > _MOST_TICKS:
            raise TooMany(start, end)

    def _sing(self, sung: Sung) -> str:
        """The syllable of the verse whose turn it is."""
        verse = self._sung[sung] % len(sung.verses)
        self._sung[sung] += 1
        return sung.verses[verse]

    def _hold(self, ticks: int, start: int, end: int) -> None:
        if not self._started:
            fix = Fix("Make it a rest", (TextEdit(start, start + 1, "rest"),))
            self.findings.append(rules.HOLD.at(start, end, "Nothing sounds before this hold, so it is silent.", fix))
        self._held.append((ticks, start, end))

    def _join_holds(self) -> None:
        """Make the newest notes longer by the holds after them: each gets the source spans of all holds."""
        if not self._held:
            return
        ticks = sum(held[0] for held in self._held)
        holds = tuple(held[1:] for held in self._held)
        for place in range(len(self.notes) - self._newest, len(self.notes)):
            note = self.notes[place]
            if note.end == self.tick - ticks:
                self.notes[place] = note._replace(length=note.length + ticks, spans=note.spans + holds)
        self._held.clear()

    def _spend(self, count: int, start: int, end: int) -> None:
        self._allowance.spend(count, start, end)
        self.spent += count

    # Groups

    def _fit(self, frame: Frame) -> Frame:
        """A frame whose lengths are multiplied by what the groups around it do to them."""
        factor = frame.factor
        for fit in frame.fits:
            factor *= self._scope.lengths.ticks(fit.length, self._scope.meter) / self._inside(fit)
        self._fitted[frame] = replace(frame, factor=factor, fits=())
        return self._fitted[frame]

    def _inside(self, fit: Fit) -> Fraction:
        """The ticks of what is to be fitted, with the groups inside it fitted."""
        if fit not in self._insides:
            lengths = self._scope.lengths
            meter = self._scope.meter
            total = Fraction(0)
            for node, frame in fit.items:
                assert type(node) is Item
                factor = (self._fitted.get(frame) or self._fit(frame)).factor if frame.fits else frame.factor
                total += lengths.ticks(node.word.length, meter) * factor
            self._insides[fit] = total
        return self._insides[fit]

    def _until(self, until: Until) -> None:
        if self._goal == ONCE:
            self.run(until.body)
            return
        if self._goal is None:
            self.waits = True
            self.repeated_tempos += _tempos_in(until)
            return
        self._join_holds()
        first_note = len(self.notes) - self._newest
        first_event = len(self.events)
        began = self.tick
        is_plain = all(type(each.node) is Item for each in until.body)
        times = 1
        while self.tick < self._goal:
            before = self.tick
            spent = self.spent
            self.run(until.body * times)
            if self.tick == before:
                break
            lasts = (self.tick - before) // times
            more = max(0, self._goal - self.tick) // lasts  # times it will be repeated
            if more * (self.spent - spent) > self._allowance.left * times:
                raise TooMany(until.start, until.end)
            alike = int((min(self._goal, self._next_change) - self.tick) // lasts) if is_plain else 1
            times = max(1, min(alike, _MOST_AT_ONCE))
        if self.tick <= self._goal:
            return
        self.tick = max(self._goal, began)
        cut = self.tick
        kept = [note for note in self.notes[first_note:] if note.start < cut]
        self.notes[first_note:] = [
            note if note.end <= cut else note._replace(length=cut - note.start) for note in kept
        ]
        self._shades = {place: shade for place, shade in self._shades.items() if place < len(self.notes)}
        self._newest = 0
        events = [event for event in self.events[first_event:] if event.tick < cut]
        self.events[first_event:] = [
            event if event.tick + event.length <= cut else event._replace(length=cut - event.tick) for event in events
        ]

    # Directions

    def _direction(self, direction: Direction) -> None:
        what = direction.what
        if isinstance(what, Loudness):
            if self._swelling is not None:
                self._swell_to(what.level)
            self._level = what.level
        elif isinstance(what, Swell):
            if self._swelling is not None:
                self._swell_to(self._swelling.level + self._swelling.by)
            self._swelling = _Swelling(self.tick, self._level, what.by, len(self.notes))
        elif isinstance(what, Vary):
            self._vary = what.amount
        elif isinstance(what, ChangeSound):
            self.sounds.append((self.tick, what.sound))
        elif isinstance(what, Pedal):
            if self._pedal is not None and self.tick > self._pedal:
                self.pedals.append((self._pedal, self.tick))
            self._pedal = self.tick if what.down else None
        else:
            self.song_wide.append(SongWide(self.tick, what, direction.start, direction.end))
            self._catch_up()
            if isinstance(what, ChangeMeter):
                self._rescope(replace(self._scope, meter=what.meter))
            elif isinstance(what, ChangeKey):
                self._rescope(replace(self._scope, key=what.key))

    def _swell_to(self, level: float) -> None:
        """End a swell here at a loudness: the notes since its start lie evenly on the way."""
        swell = self._swelling
        assert swell is not None
        level = min(127.0, max(1.0, level))
        for place in range(swell.first, len(self.notes)):
            _, accent, vary = self._shades.get(place, (0.0, False, 0))
            part = (self.notes[place].start - swell.tick) / max(1, self.tick - swell.tick)
            self._shades[place] = swell.level + (level - swell.level) * part, accent, vary
        self._swelling = None
        self._level = level

    def _catch_up(self) -> None:
        """Take on the meter and key that other voices gave the song up to here."""
        scope = self._scope
        while self._next_change <= self.tick:
            change = self._changes[self._next_place][1]
            scope = replace(scope, meter=change) if isinstance(change, Meter) else replace(scope, key=change)
            self._next_place += 1
            left = self._next_place < len(self._changes)
            self._next_change = self._changes[self._next_place][0] if left else _NEVER
        self._rescope(scope)

    def _rescope(self, scope: Scope) -> None:
        if scope != self._scope:
            self._scope = scope
            self._frame = None
            self._fitted = {}
            self._insides = {}
            if len(self._by_scope) == _MOST_SCOPES:
                self._by_scope.clear()
            self._by_frame = self._by_scope.setdefault(scope, {})


def _tempos_in(until: Until) -> list[TempoMark]:
    """The tempos that something repeated changes to."""
    found: list[TempoMark] = []
    for node, _ in until.body:
        if isinstance(node, Until):
            found += _tempos_in(node)
        elif type(node) is Direction and isinstance(node.what, ChangeTempo):
            found.append(node.what.mark)
        elif type(node) is Direction and isinstance(node.what, RampTempo):
            found.append(node.what.target)
    return found

"""The meaning of a program's calls: which of them sound, rest or set the tempo, in which unit, and which hold."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from itertools import islice, pairwise
from statistics import median

from ..formats.columns import kind_of
from ..formats.units import Unit, likely_units
from ..theory import Naming
from .arguments import NO_ROLES, Argument, Roles, duration_of, given, roles_of
from .corrections import NOTHING, Corrections
from .recording import Flow, Heard, LoopRun, PartRun, Pause, Recorded, heard_in
from .vocabulary import NOISE, Verb, is_off, is_on, verb_of, words_in

__all__ = ["PARTS", "USUAL_TEMPO", "Meaning", "Understood", "first_tempo", "in_parts", "meaning_of"]

_LEAST_MS = 20  # a length of so much and more is milliseconds
_TEMPOS = (10, 500)  # beats a minute
_CLOCK = {
    "time.sleep": ("seconds", Fraction(1)),
    "asyncio.sleep": ("seconds", Fraction(1)),
    "Thread.sleep": ("ms", Fraction(1)),
    "TimeUnit.SECONDS.sleep": ("seconds", Fraction(1)),
    "TimeUnit.MILLISECONDS.sleep": ("ms", Fraction(1)),
    "usleep": ("ms", Fraction(1, 1000)),
    "delayMicroseconds": ("ms", Fraction(1, 1000)),
}
_UNIT_WORDS = {
    "ms": "ms", "millis": "ms", "milliseconds": "ms", "msec": "ms",
    "s": "seconds", "sec": "seconds", "secs": "seconds", "second": "seconds", "seconds": "seconds",
    "beat": "beats", "beats": "beats", "count": "beats", "counts": "beats",
}  # fmt: skip
_RESTING = frozenset(("rest", "rests", "pause", "silence"))
_AT_ONCE = frozenset(("let",))  # as in let_ring
_ALMOST = Fraction(98, 100)
_SEVERAL = 3
_MOST_OTHERS = 8
_ENOUGH = 1_000  # calls that the others are judged by
_LONGEST_BREATH = 2  # times a strike's length that the wait after it lasts, where the rest of it is no silence
PARTS = "parts of a whole note"
USUAL_TEMPO = 120
"""Beats a minute, where a program says nothing."""
_UNITS_A_SECOND = {"seconds": Fraction(1), "ms": Fraction(1000)}


@dataclass(frozen=True, slots=True)
class Understood:
    """How calls by one name are understood."""

    call: str
    verb: Verb
    holds: bool = True
    """True if the program goes on only once the note is over."""
    unit: str = "beats"
    """``beats``, ``ms`` or ``seconds``."""
    factor: Fraction = Fraction(1)
    """Of the unit, that a length of 1 lasts."""
    roles: Roles = NO_ROLES
    is_off: bool = False
    """True if it lets a note go."""
    fills: bool = False
    """True if a note lasts as long as the wait after it, and its own length only says how short it is struck."""
    is_guess: bool = False
    """True if its name does not say that it sounds."""

    @property
    def arguments(self) -> str:
        """The arguments in words."""
        if self.verb is not Verb.STRIKE:
            return self.unit if self.verb is Verb.SILENCE else "beats a minute"
        named = [
            (self.roles.pitch, "hertz" if self.roles.hertz else "pitch"),
            (self.roles.octave, "octave"),
            (self.roles.length, self.unit),
            (self.roles.loudness, "loudness"),
        ]
        ordered = sorted(
            (each for each in named if each[0] is not None), key=lambda each: (isinstance(each[0], str), str(each[0]))
        )
        return ", ".join(words for _, words in ordered)

    @property
    def sentence(self) -> str:
        """How it is understood, for people."""
        head = f"{self.call}({self.arguments}): "
        if self.verb is Verb.TEMPO:
            return f"{head}sets the tempo."
        if self.verb is Verb.SILENCE:
            return f"{head}lets time pass."
        if self.is_off:
            return f"{self.call}(…): lets a note go."
        held = "holds the program" if self.holds else "goes on at once"
        guess = "taken for a strike that" if self.is_guess else "a strike that"
        return f"{head}{guess} {held}."


@dataclass(frozen=True, slots=True)
class Meaning:
    """How all calls of a program are understood."""

    calls: dict[str, Understood]
    """By their names; those that are not here have nothing to do with the tune."""
    tempo: Fraction | None = None
    """Beats a minute that the times show, where no call sets it."""
    others: tuple[str, ...] = ()
    """The names of other calls that are given something, and were taken to be no part of the tune."""

    @property
    def sentences(self) -> tuple[str, ...]:
        """A sentence for each verb."""
        return tuple(each.sentence for each in self.calls.values())


def meaning_of(
    recorded: list[Recorded], corrections: Corrections = NOTHING, naming: Naming = Naming.LETTERS
) -> Meaning:
    """Return what the calls of a program mean, decided for the whole program."""
    groups: dict[str, list[Heard]] = {}
    for heard in heard_in(recorded):
        groups.setdefault(heard.name, []).append(heard)
    calls: dict[str, Understood] = {}
    for name, several in groups.items():
        found = _understood(name, several, corrections, naming)
        if found is not None:
            calls[name] = found
    if not any(each.verb is Verb.STRIKE and not each.is_off for each in calls.values()):
        calls |= _guessed(groups, corrections, naming)
    sequences = list(_sequences(recorded))
    calls, tempo = _with_units(calls, groups, sequences, corrections)
    counted = first_tempo(calls, sequences) or tempo or Fraction(USUAL_TEMPO)
    others = [
        name
        for name, several in groups.items()
        if name not in calls and name not in NOISE and any(each.arguments or each.keywords for each in several)
    ]
    held = _with_holds(calls, sequences, corrections, counted, _has_timers(recorded))
    return Meaning(held, tempo, tuple(others[:_MOST_OTHERS]))


def _understood(name: str, several: Sequence[Heard], corrections: Corrections, naming: Naming) -> Understood | None:
    known = corrections.of(name)
    if known.is_nothing:
        return None
    verb = known.verb or verb_of(name)
    if is_off(name) and known.verb is None:
        roles = roles_of(several, False, naming)
        return Understood(name, Verb.STRIKE, roles=roles, is_off=True)
    if verb is Verb.STRIKE:
        roles = roles_of(several, not is_on(name), naming)
        return Understood(name, verb, roles=roles) if roles.pitch is not None else None
    if verb is Verb.SILENCE:
        length = _silence_argument(several)
        return Understood(name, verb, roles=Roles(length=length))
    if verb is Verb.TEMPO:
        return Understood(name, verb, roles=Roles(length=_first_number(several)))
    return None


def _silence_argument(several: Sequence[Heard]) -> Argument | None:
    for each in several:
        for key in each.keywords:
            if (kind_of(key) or "").startswith("length"):
                return key
    return _first_number(several)


def _first_number(several: Sequence[Heard]) -> Argument | None:
    for heard in several:
        places: list[Argument] = [*range(len(heard.arguments)), *heard.keywords]
        for argument in places:
            if duration_of(given(heard, argument)) is not None:
                return argument
    return None


def _guessed(groups: dict[str, list[Heard]], corrections: Corrections, naming: Naming) -> dict[str, Understood]:
    """The call that is given pitches most often, where no call's name says that it sounds."""
    found: list[tuple[int, Understood]] = []
    for name, several in groups.items():
        if verb_of(name) is None and name not in NOISE and not corrections.of(name).is_nothing and not is_off(name):
            roles = roles_of(several, True, naming, is_strike=False)
            if roles.pitch is not None and len(several) > 1:
                found.append((len(several), Understood(name, Verb.STRIKE, roles=roles, is_guess=True)))
    if not found:
        return {}
    best = max(found, key=lambda each: each[0])[1]
    return {best.call: best}


def _sequences(recorded: list[Recorded]) -> Iterable[list[Heard]]:
    """The calls of each flow by itself, in order."""
    waiting: list[list[Recorded]] = [recorded]
    while waiting:
        own: list[Heard] = []
        _collect(waiting.pop(), own, waiting)
        yield own


def _collect(items: list[Recorded], own: list[Heard], flows: list[list[Recorded]]) -> None:
    for item in items:
        if isinstance(item, Heard):
            own.append(item)
        elif isinstance(item, LoopRun):
            for turn in item.turns:
                _collect(turn, own, flows)
        elif isinstance(item, PartRun):
            _collect(item.items, own, flows)
        elif isinstance(item, Flow):
            flows.append(item.items)


def in_parts(meaning: Meaning, recorded: list[Recorded]) -> Meaning | None:
    """The meaning where lengths are parts of a whole note, 4 for a quarter; None where they cannot be."""
    strikes = {
        name: each
        for name, each in meaning.calls.items()
        if each.verb is Verb.STRIKE and each.unit == "beats" and each.roles.length is not None
    }
    calls = [heard for heard in islice(heard_in(recorded), _ENOUGH) if heard.name in strikes]
    found = [duration_of(given(heard, strikes[heard.name].roles.length)) for heard in calls]
    lengths = [str(length) for length in found if length]
    if not lengths or not any(column.unit is Unit.PARTS for column in likely_units(lengths)):
        return None
    changed = {name: replace(each, unit=PARTS) for name, each in meaning.calls.items() if each.unit == "beats"}
    return replace(meaning, calls={**meaning.calls, **changed})


def _has_timers(recorded: Sequence[Recorded]) -> bool:
    """Return whether timers let time pass."""
    waiting = list(recorded)
    while waiting:
        item = waiting.pop()
        if isinstance(item, Pause) or (isinstance(item, Flow) and item.delay):
            return True
        if isinstance(item, LoopRun):
            waiting.extend(each for turn in item.turns for each in turn)
        elif isinstance(item, PartRun | Flow):
            waiting.extend(item.items)
    return False


# Units


def _with_units(
    calls: dict[str, Understood],
    groups: dict[str, list[Heard]],
    sequences: Sequence[Sequence[Heard]],
    corrections: Corrections,
) -> tuple[dict[str, Understood], Fraction | None]:
    """The calls with their units; and the tempo, where beats and the clock show it together."""
    found: dict[str, Understood] = {}
    unsure: list[str] = []
    for name, each in calls.items():
        unit, factor = _unit_of(each, groups[name], corrections)
        if unit is None:
            unsure.append(name)
        found[name] = replace(each, unit=unit or "beats", factor=factor)
    clocked = {each.unit for each in found.values() if each.unit != "beats" and each.verb is Verb.SILENCE}
    ratio = _ratio(found, sequences) if unsure and clocked else None
    if ratio is None:
        return found, None
    for name in unsure:
        if found[name].verb is Verb.STRIKE and ratio == 1:
            found[name] = replace(found[name], unit=next(iter(clocked)))
    seconds = ratio / _UNITS_A_SECOND[next(iter(clocked))]
    is_tempo = ratio != 1 and seconds > 0 and _TEMPOS[0] <= 60 / seconds <= _TEMPOS[1]
    return found, (60 / seconds).limit_denominator(1000) if is_tempo else None


def _unit_of(each: Understood, several: Sequence[Heard], corrections: Corrections) -> tuple[str | None, Fraction]:
    """The unit of a call's lengths, and how many of it a length of 1 is; None where it does not show."""
    known = corrections.of(each.call).unit
    if known is not None:
        return known, Fraction(1)
    if each.verb is Verb.TEMPO or each.roles.length is None:
        return "beats", Fraction(1)
    clock = next((_CLOCK[heard.whole_name] for heard in several[:1] if heard.whole_name in _CLOCK), None)
    if clock is not None:
        return clock
    words = [*words_in(each.roles.length)] if isinstance(each.roles.length, str) else []
    for word in (*words, *words_in(each.call)):
        if word in _UNIT_WORDS and word not in ("s", "count"):
            return _UNIT_WORDS[word], Fraction(1)
    lengths = [
        length for heard in several[:_ENOUGH] if (length := duration_of(given(heard, each.roles.length))) is not None
    ]
    if lengths and median(lengths) >= _LEAST_MS:
        return "ms", Fraction(1)
    return None, Fraction(1)


def _ratio(calls: dict[str, Understood], sequences: Sequence[Sequence[Heard]]) -> Fraction | None:
    """How long the waits right after strikes last, for each unit of those strikes, where that is always the same."""
    ratios: Counter[Fraction] = Counter()
    for strike, wait in _pairs(calls, sequences):
        lasts = _length(strike, calls[strike.name])
        waits = _length(wait, calls[wait.name])
        if lasts and waits:
            ratios[(waits / lasts).limit_denominator(10_000)] += 1
    if not ratios:
        return None
    ratio, count = ratios.most_common(1)[0]
    return ratio if count * 4 >= ratios.total() * 3 else None


def _length(heard: Heard, understood: Understood) -> Fraction | None:
    found = duration_of(given(heard, understood.roles.length))
    return found * understood.factor if found is not None else None


def _pairs(calls: dict[str, Understood], sequences: Sequence[Sequence[Heard]]) -> Iterable[tuple[Heard, Heard]]:
    """Strikes with the wait that comes right after each: enough of them to judge by."""
    left = _ENOUGH
    for sequence in sequences:
        known = [
            heard
            for heard in sequence[: 8 * _ENOUGH]
            if heard.name in calls and calls[heard.name].verb is not Verb.TEMPO
        ]
        for strike, wait in pairwise(known):
            if calls[strike.name].verb is Verb.STRIKE and calls[wait.name].verb is Verb.SILENCE:
                yield strike, wait
                left -= 1
                if not left:
                    return


# What holds


def _with_holds(
    calls: dict[str, Understood],
    sequences: Sequence[Sequence[Heard]],
    corrections: Corrections,
    tempo: Fraction,
    has_timers: bool,
) -> dict[str, Understood]:
    """The calls with whether they hold the program: what makes sense of all strikes and waits together."""
    strikes = {name: each for name, each in calls.items() if each.verb is Verb.STRIKE and not each.is_off}
    waits = has_timers or any(each.verb is Verb.SILENCE for each in calls.values())
    counts = {name: _Followed() for name in strikes}
    for strike, wait in _pairs(calls, sequences):
        if strike.name in counts:
            lasts = _length(strike, calls[strike.name])
            waited = _length(wait, calls[wait.name])
            if lasts and waited:
                lasts = _seconds(lasts, calls[strike.name], tempo)
                waited = _seconds(waited, calls[wait.name], tempo)
                counts[strike.name].add(lasts, waited, bool(_RESTING.intersection(words_in(wait.name))))
    heard = Counter(each.name for sequence in sequences for each in sequence)
    found = dict(calls)
    for name, each in strikes.items():
        known = corrections.of(name).holds
        rings = bool(_AT_ONCE.intersection(words_in(name)))
        if known is not None:
            holds = known
        elif rings:
            holds = False
        elif each.roles.length is None:
            holds = not waits or "wait" in words_in(name)
        else:
            holds = not counts[name].shows_at_once(heard[name])
        found[name] = replace(each, holds=holds, fills=not holds and not rings and counts[name].is_even)
    return found


@dataclass(slots=True)
class _Followed:
    """The waits right after the strikes of one name."""

    count: int = 0
    covered: int = 0
    """Waits that last at least as long as the strike, and are not called rests."""
    ratios: set[Fraction] = field(default_factory=set)
    """How many times as long as the strikes the waits are, in hundredths."""
    equal: int = 0
    """Waits that last exactly as long, and are not called rests."""

    def add(self, lasts: Fraction, waited: Fraction, is_rest: bool) -> None:
        """Count a wait after a strike; both in seconds."""
        self.count += 1
        self.covered += not is_rest and waited >= lasts * _ALMOST
        self.ratios.add(Fraction(round(waited / lasts * 50), 50))
        self.equal += not is_rest and lasts * _ALMOST <= waited <= lasts / _ALMOST

    @property
    def is_even(self) -> bool:
        """True if every wait is as many times as long as its strike, and not much longer."""
        return self.count >= _SEVERAL and len(self.ratios) == 1 and 1 <= min(self.ratios) <= _LONGEST_BREATH

    def shows_at_once(self, strikes: int) -> bool:
        """Return whether the waits make sense only if the strikes go on at once."""
        mostly_covered = self.covered * 4 >= self.count * 3 and self.covered * 2 > strikes
        return bool(self.covered) and (mostly_covered or (self.count >= _SEVERAL and self.equal == self.count))


def _seconds(length: Fraction, understood: Understood, tempo: Fraction) -> Fraction:
    """A length in seconds."""
    if understood.unit == "beats":
        return length * 60 / tempo
    return length / _UNITS_A_SECOND[understood.unit]


def first_tempo(calls: dict[str, Understood], sequences: Iterable[Sequence[Heard]]) -> Fraction | None:
    """Return the first tempo that is set, in beats a minute; None where none is."""
    for sequence in sequences:
        for heard in sequence:
            if heard.name in calls and calls[heard.name].verb is Verb.TEMPO:
                found = duration_of(given(heard, calls[heard.name].roles.length))
                if found is not None and _TEMPOS[0] <= found <= _TEMPOS[1]:
                    return found
    return None

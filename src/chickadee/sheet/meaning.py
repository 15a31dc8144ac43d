"""The meaning of words in one frame, meter and key: the pitches they strike, and their ticks."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import Enum
from fractions import Fraction
from typing import NamedTuple

from ..song import TICKS_PER_QUARTER, Meter
from ..theory import Key, Naming, Pitch, cents_between, frequency, nearest_number
from . import rules
from .finding import Finding, Fix, TextEdit
from .flatten import Frame, Mirror
from .length import Lengths, Unit
from .tree import Item, Move
from .word import Kind, Sign, Word, octave_fixes, third_of
from .written import ChordSign, Drum, Hertz, Manner, Named, Number, Step

__all__ = ["EventKind", "Scope", "Settled", "Struck", "nearest_part", "settle", "written_pitches"]

_MOST_BROKEN = 100_000
_STRUM_TICKS = TICKS_PER_QUARTER // 24


class Struck(NamedTuple):
    """A pitch that a word strikes."""

    pitch: Pitch
    number: int
    start: int
    """Offsets of its sign inside the word; -1 where the word is that sign alone."""
    end: int
    accent: bool
    short: bool
    after: int = 0
    """Ticks after the word's own start at which it is struck."""
    ticks: int = 0
    """Ticks it lasts; 0 for as long as the word does."""


class EventKind(Enum):
    """The kinds of events in a voice."""

    STRIKE = "strike"
    REST = "rest"
    HOLD = "hold"
    BAR = "bar"


_KINDS = {
    Kind.STRIKE: EventKind.STRIKE,
    Kind.HOLD: EventKind.HOLD,
    Kind.REST: EventKind.REST,
    Kind.SILENT: EventKind.REST,
}


class Settled(NamedTuple):
    """A word in one frame, meter and key."""

    kind: EventKind
    ticks: int
    struck: tuple[Struck, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True)
class Scope:
    """The frame, meter and key in which words have their meaning."""

    meter: Meter
    key: Key
    lengths: Lengths
    """How the sheet counts lengths."""
    tuning: float
    drums: bool
    """True if the voice is a drum kit's."""
    naming: Naming = Naming.LETTERS
    """How the sheet names pitches."""
    axes: dict[Mirror, Pitch] = field(init=False, compare=False, repr=False, default_factory=dict)
    """The pitch about which each mirror mirrors here, once it is known."""


def settle(word: Word, frame: Frame, scope: Scope) -> Settled:
    """Settle a word. Its findings' offsets count inside the word."""
    findings: list[Finding] = []
    ticks = _ticks(word, frame, scope, findings)
    struck: list[Struck] = []
    seen: set[int] = set()
    for sign in word.signs:
        for each in _struck(word, sign, ticks, frame, scope, findings):
            if each.number in seen and not each.ticks:
                findings.append(_twice(word, sign, each.pitch))
                continue
            if not each.after:  # what a broken chord strikes later may be held already
                seen.add(each.number)
            struck.append(each)
    kind = EventKind.REST if not struck and word.kind is Kind.STRIKE else _KINDS[word.kind]
    return Settled(kind, ticks, tuple(struck), tuple(findings))


def written_pitches(sign: Sign, frame: Frame, scope: Scope) -> list[Pitch]:
    """The pitches of a sign, from the lowest up, after all that is done to them; they may be beyond MIDI's."""
    what = sign.what
    if isinstance(what, Drum) or (scope.drums and isinstance(what, Number)):
        return [scope.key.spell(what.number)]
    if isinstance(what, ChordSign):
        return _chord_pitches(what, frame, scope)
    if isinstance(what, Named):
        pitch = what.name.at(frame.octave if what.octave is None else what.octave)
    elif isinstance(what, Number):
        pitch = scope.key.spell(what.number)
    elif isinstance(what, Step):
        pitch = scope.key.at_step(what.step, frame.octave, what.raised)
    else:
        pitch = scope.key.spell(nearest_number(what.hertz, scope.tuning))
    return [_moved(pitch, frame.moves, scope)]


def nearest_part(beats: Fraction) -> Fraction:
    """The closest number of beats, above zero, that common parts of a beat can write."""
    parts = (Fraction(max(1, round(beats * lower)), lower) for lower in (1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 16))
    return min(parts, key=lambda part: abs(part - beats))


def _struck(word: Word, sign: Sign, ticks: int, frame: Frame, scope: Scope, findings: list[Finding]) -> list[Struck]:
    if isinstance(sign.what, Drum) and not scope.drums:
        message = f"“{word.text[sign.start : sign.end]}” is a drum; this voice’s sound is no drum kit."
        findings.append(rules.DRUM.at(sign.start, sign.end, message))
        return []
    if isinstance(sign.what, Hertz):
        _check_cents(word, sign, scope, findings)
    pitches = written_pitches(sign, frame, scope)
    for pitch in pitches:
        if not 0 <= pitch.number <= 127:
            findings.append(_outside(sign, pitch, frame))
            return []
    lone = len(word.signs) == 1 and "&" not in word.text
    start, end = (-1, -1) if lone else (sign.start, sign.end)
    plain = [Struck(pitch, pitch.number, start, end, sign.accent, sign.short) for pitch in pitches]
    if isinstance(sign.what, ChordSign) and sign.what.manner is not Manner.TOGETHER:
        return _broken(plain, word, sign.what, ticks, frame, scope, findings)
    return plain


def _chord_pitches(what: ChordSign, frame: Frame, scope: Scope) -> list[Pitch]:
    """A chord's pitches: moves by semitones and octaves move its root and bass, moves by steps each pitch."""
    chord = what.chord
    octave = frame.octave if what.octave is None else what.octave
    moves = list(frame.moves)
    while moves and isinstance(moves[0], Move) and not moves[0].steps:
        by = moves.pop(0)
        assert isinstance(by, Move)
        root = chord.root.at(octave)
        if by.semitones:
            root = scope.key.spell(root.number + by.semitones)
            bass = chord.bass and scope.key.spell(60 + chord.bass.pitch_class + by.semitones).name
            chord = type(chord)(root.name, chord.kind, bass)
        octave = root.octave + by.octaves
    pitches = chord.pitches(octave)
    if chord is not what.chord:  # the writer chose neither its root nor its letters
        pitches = tuple(scope.key.spell(each.number) if abs(each.accidental) > 1 else each for each in pitches)
    return [_moved(pitch, tuple(moves), scope) for pitch in pitches]


def _moved(pitch: Pitch, moves: tuple[Move | Mirror, ...], scope: Scope) -> Pitch:
    """A pitch after some moves, with one accidental at most unless it was written with more."""
    most = max(1, abs(pitch.accidental))
    for move in moves:
        if isinstance(move, Mirror):
            pitch = scope.key.mirrored(pitch, _axis(move, scope))
        elif move.steps:
            pitch = scope.key.moved_by_steps(pitch, move.steps)
        elif move.semitones:
            pitch = scope.key.spell(pitch.number + move.semitones)
        else:
            pitch = Pitch(pitch.letter, pitch.accidental, pitch.octave + move.octaves)
    return pitch if abs(pitch.accidental) <= most else scope.key.spell(pitch.number)


def _axis(mirror: Mirror, scope: Scope) -> Pitch:
    if mirror not in scope.axes:
        item = mirror.axis.node
        assert isinstance(item, Item)
        scope.axes[mirror] = written_pitches(item.word.signs[0], mirror.axis.frame, scope)[0]
    return scope.axes[mirror]


def _broken(
    plain: list[Struck], word: Word, what: ChordSign, ticks: int, frame: Frame, scope: Scope, findings: list[Finding]
) -> list[Struck]:
    if what.manner is Manner.STRUM:
        apart = min(_STRUM_TICKS, ticks // (2 * len(plain)))
        return [each._replace(after=place * apart, ticks=ticks - place * apart) for place, each in enumerate(plain)]
    order = {Manner.RISING: plain, Manner.FALLING: plain[::-1]}.get(what.manner, [*plain, *plain[-2:0:-1]])
    if what.part is None:
        each_ticks, left = divmod(ticks, len(order))
        if left:
            message = f"{len(order)} notes do not divide this length exactly; a multiple of {len(order)} parts does."
            findings.append(rules.LENGTH_FIT.at(0, len(word.text), message))
    else:
        exact = what.part * scope.meter.beat_ticks * frame.factor
        each_ticks = max(1, int(exact))
        if exact.denominator != 1:
            message = f"A beat cannot be cut exactly into {what.part}; use a fraction such as 1/3 or 1/4."
            findings.append(rules.LENGTH_FIT.at(0, len(word.text), message))
    if each_ticks == 0:
        return plain
    count = len(order) if what.part is None else min(-(-ticks // each_ticks), _MOST_BROKEN)
    return [
        order[place % len(order)]._replace(
            after=place * each_ticks, ticks=min(each_ticks, ticks - place * each_ticks)
        )
        for place in range(count)
    ]


def _ticks(word: Word, frame: Frame, scope: Scope, findings: list[Finding]) -> int:
    length = word.length
    exact = scope.lengths.ticks(length, scope.meter) * frame.factor
    if exact.denominator == 1:
        return exact.numerator
    if length is None or length.unit is not Unit.BEAT or length.ticks(scope.meter).denominator == 1:
        message = "Fitted into this group, the length is not exact; another length for the group would be."
        findings.append(rules.LENGTH_FIT.at(0, len(word.text), message))
        return max(1, round(exact))
    start = word.length_start + 1
    end = len(word.text)
    written = word.text[start:end]
    nearest = third_of(written) or str(nearest_part(length.count))
    message = f"A beat cannot be cut exactly into {written}; use a fraction such as 1/3 or 1/16."
    fix = Fix(f"Use {nearest}", (TextEdit(start, end, nearest),))
    findings.append(rules.LENGTH_FIT.at(start, end, message, fix))
    return max(1, round(Fraction(nearest) * scope.meter.beat_ticks * frame.factor))


def _check_cents(word: Word, sign: Sign, scope: Scope, findings: list[Finding]) -> None:
    assert isinstance(sign.what, Hertz)
    written = word.text[sign.start : sign.end]
    number = nearest_number(sign.what.hertz, scope.tuning)
    exact = frequency(number, scope.tuning)
    cents = cents_between(exact, sign.what.hertz)
    if abs(cents) > 5 and 0 <= number <= 127:
        side = "above" if cents > 0 else "below"
        pitch = scope.key.spell(number)
        message = f"{written} is {abs(cents):.0f} cents {side} {pitch.pretty}, which sounds instead."
        written = scope.naming.pitch_text(pitch)
        fix = Fix(f"Use {pitch.pretty}", (TextEdit(sign.start, sign.end, written),))
        findings.append(rules.CENTS.at(sign.start, sign.end, message, fix))


def _outside(sign: Sign, pitch: Pitch, frame: Frame) -> Finding:
    message = f"{pitch.pretty} is outside the range of MIDI, C-1 to G9."
    fixes: tuple[Fix, ...] = ()
    if isinstance(sign.what, Named) and not frame.moves:
        fixes = octave_fixes(pitch.name, pitch.octave, sign.start, sign.end, sign.what.naming)
    return rules.PITCH_RANGE.at(sign.start, sign.end, message, *fixes)


def _twice(word: Word, sign: Sign, pitch: Pitch) -> Finding:
    start = sign.start
    end = sign.end
    after = word.text[start - 1] == "&" if start else False
    cut = TextEdit(start - 1, end, "") if after else TextEdit(start, end + 1, "")
    message = f"{pitch.pretty} is already struck here; once is enough."
    return rules.TWICE.at(start, end, message, Fix("Delete it", (cut,)))

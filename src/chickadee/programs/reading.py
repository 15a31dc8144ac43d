"""A program read as the tune that it sounds."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise

from ..files import visible
from ..formats.anything import bounded
from ..formats.imported import Form, Imported, ImportFault, LengthsIn, Unread, song_of
from ..formats.signs import likely_namings
from ..formats.traced import ProgramFault, TracedProgram, TracedStrike
from ..formats.units import commonest
from ..song import BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ..song.song import DEFAULT_GAP
from ..song.tempo import playable
from ..theory import Naming
from .arguments import sign_of
from .corrections import NOTHING, Corrections
from .faults import End, shown
from .languages import LONGEST, NO_PROGRAM, TOO_LONG, Language, language_of, read_program
from .meaning import USUAL_TEMPO, Meaning, in_parts, meaning_of
from .recording import heard_in
from .sheet_shape import shaped_sheet
from .timing import ENOUGH_BEATS, Event, Timed, timed
from .tracing import USUAL_SECONDS, Trace, deep, traced
from .vocabulary import Verb

__all__ = ["Sounded", "imported", "read", "sounded"]

_LONG_WORD = re.compile(r"(\S{40})\S{8,}?([`”]?[.;:]?(?!\S))")
_METER = Meter()
_MOST_BEATS = 100_000
_MOST_UNREAD_SAID = 5
_FINEST_BEATS = 8  # parts of a beat, where seconds may be meant as beats
_USUAL_TEMPOS = (40, 240)


@dataclass(slots=True)
class Sounded:
    """A program's trace, how it is understood, and what it sounds."""

    trace: Trace
    meaning: Meaning
    timed: Timed
    fault: ProgramFault | None
    in_parts: Timed | None = None
    """The same where its lengths are parts of a whole note; None where they cannot be."""

    @property
    def language(self) -> str:
        """The name of its language."""
        return self.trace.program.language


def sounded(
    text: str,
    language: str,
    corrections: Corrections = NOTHING,
    answers: Sequence[str] = (),
    naming: Naming = Naming.LETTERS,
    seconds: float = USUAL_SECONDS,
    exact: bool = False,
) -> Sounded:
    """Trace a program, for no longer than so many seconds, and say what it sounds; never fails, whatever the text.

    Times that were rounded to milliseconds are the beats that were meant, unless all are to be ``exact``.
    """
    with deep():
        trace = traced(read_program(text, language, corrections.dialects), answers, seconds)
        naming = _naming(trace, naming)
        meaning = meaning_of(trace.recorded, corrections, naming)
        endless = trace.fault[0] if trace.end is End.BOUND and trace.fault is not None else None
        found = timed(trace.recorded, meaning, endless, naming, exact)
        other = in_parts(meaning, trace.recorded)
        parts = timed(trace.recorded, other, endless, naming) if other is not None else None
    fault = _fault(trace)
    if endless is not None and found.turns_at:
        fault = _cut(found, fault)
    return Sounded(trace, meaning, found, fault, parts)


def _naming(trace: Trace, naming: Naming) -> Naming:
    """How the program names its pitches."""
    signs = {
        sign_of(value)
        for heard in heard_in(trace.recorded)
        for value in (*heard.arguments, *heard.keywords.values())
        if isinstance(value, str) and 0 < len(value) < 8
    }
    return likely_namings(sorted(signs)[:500], naming)[0] if signs else naming


def _fault(trace: Trace) -> ProgramFault | None:
    if trace.fault is None:
        return None
    span, sentence = trace.fault
    line, column = trace.lines.place(span[0])
    joint = " " if sentence.startswith(("goes round", "asks")) else ": "
    stop = "" if sentence.endswith((".", "?")) else "."
    words = _LONG_WORD.sub(r"\1…\2", visible(f"Line {line}{joint}{sentence}{stop}"))
    return ProgramFault(line, column, words, trace.end is End.FAULT, span)


def _cut(found: Timed, fault: ProgramFault | None) -> ProgramFault | None:
    """Keep the whole turns of a loop without an end that fill eight bars, and say so."""
    until = next((at for at in found.turns_at[1:] if at >= ENOUGH_BEATS), Fraction(ENOUGH_BEATS))
    found.events = [event for event in found.events if event.start < until]
    found.shape = []
    found.end = until
    bars = -(-until * _METER.beat_ticks // _METER.bar_ticks)
    if fault is None:
        return None
    return fault._replace(sentence=f"{fault.sentence.rstrip('.')}; the first {bars} bars are shown.")


def read(
    text: str,
    name: str = "",
    naming: Naming = Naming.LETTERS,
    corrections: Corrections = NOTHING,
    language: str | None = None,
    must_be: bool = False,
    seconds: float = USUAL_SECONDS,
) -> Imported | None:
    """The tune that a program sounds; None for a text that is no program, or that sounds nothing.

    ``name`` is the file's; ``language`` that of the program, where it is known. Raises ImportFault where it
    ``must_be`` a program, or is one that is too long.
    """
    spoken = language or _language(text, name, must_be, corrections)
    if spoken is None:
        return None
    if len(text) > LONGEST:
        if must_be:
            raise ImportFault(TOO_LONG)
        return None
    found = sounded(text, spoken, corrections, naming=naming, seconds=seconds)
    if any(event.pitches for event in found.timed.events):
        return bounded(imported(found))
    if not must_be and not _means_to_sound(found):
        return None
    raise ImportFault(_silent(found))


def _language(text: str, name: str, must_be: bool, corrections: Corrections) -> str | None:
    found: Language | None = language_of(text, name, corrections.dialects)
    if found is None and must_be:
        raise ImportFault(NO_PROGRAM)
    return found.name if found is not None else None


def _means_to_sound(found: Sounded) -> bool:
    """Return whether a silent program is one all the same, and no mere data."""
    return bool(found.trace.facts.uncalled) or (
        found.fault is not None and any(each.verb is Verb.STRIKE for each in found.meaning.calls.values())
    )


def _silent(found: Sounded) -> str:
    """Why a program sounds nothing."""
    if found.fault is not None:
        return f"This program sounds nothing. {found.fault.sentence}"
    uncalled = found.trace.facts.uncalled
    if uncalled:
        return f"This program sounds nothing: `{shown(uncalled[0].name)}` is never called."
    return "This program sounds nothing that Chickadee knows: it has no strike such as play(60, 1)."


def imported(found: Sounded) -> Imported:
    """Return what a program sounds as a tune, with the other ways in which it may be meant.

    Times by the clock alone may be meant as beats; a loop without an end may be meant to be heard once.
    """
    events = [event for event in found.timed.events if event.start < _MOST_BEATS]
    ways = _ways(found, events)
    if len(found.timed.turns_at) > 1 and events:
        once = [event for event in events if event.start < found.timed.turns_at[1]]
        if once and len(once) < len(events):
            said = "It goes round for ever; the first time round was taken."
            ways += [replace(way, left_out=(*way.left_out, said)) for way in _ways(found, once)]
    if found.in_parts is not None:
        said = "The lengths were taken as parts of a whole note: 4 is a quarter."
        other = replace(found, timed=found.in_parts, in_parts=None)
        ways += [replace(way, left_out=(*way.left_out, said)) for way in _ways(other, found.in_parts.events)]
    return replace(ways[0], others=tuple(ways[1:]))


def _ways(found: Sounded, events: Sequence[Event]) -> list[Imported]:
    """The ways in which the times of some events may be meant, the likeliest first."""
    if not found.timed.in_seconds:
        return [_composed(found, events, _tempos(found), Fraction(1), _lengths_in(found.timed))]
    tempo = Tempo(0, _likely_tempo(events))
    scale = Fraction(tempo.quarters_per_minute).limit_denominator(1000) / USUAL_TEMPO
    by_clock = _composed(found, events, [tempo], scale, LengthsIn.SECONDS)
    seconds = Fraction(60, USUAL_TEMPO)
    if any((event.length * seconds).denominator > _FINEST_BEATS for event in events):
        return [by_clock]
    as_beats = _composed(found, events, [Tempo(0, 60)], seconds, LengthsIn.BEATS)
    said = (*as_beats.left_out, "The seconds that it waits were taken as beats.")
    return [by_clock, replace(as_beats, left_out=said)]


def _composed(
    found: Sounded, events: Sequence[Event], tempos: list[Tempo], scale: Fraction, lengths: LengthsIn
) -> Imported:
    """The tune of some events; ``scale`` is the beats that one of theirs lasts."""
    beat = _METER.beat_ticks * scale
    notes = []
    unread = []
    strikes: dict[tuple[int, int], TracedStrike] = {}
    for event in events:
        tick = round(event.start * beat)
        length = max(1, round(event.length * beat))
        strikes[tick, event.span[0]] = _strike(found, event)
        if event.sign:
            unread.append(Unread(0, tick, length, event.span))
        for pitch in event.pitches:
            notes.append(Note(tick, 0, length, pitch, pitch.number, event.loudness, False, (event.span,)))
    end = max((note.end for note in notes), default=0)
    frame = Song(grid=BarGrid.of(_METER), tempo=TempoMap(tempos))
    song = song_of([Voice("Melody", gap=DEFAULT_GAP, end=end)], notes, frame)
    program = TracedProgram(
        found.language,
        found.meaning.sentences,
        found.fault,
        found.trace.facts.uses,
        strikes,
        _hints(found),
        shaped_sheet(found.timed, song) if scale == 1 else None,
    )
    source = found.trace.program.text
    return Imported(song, Form.PROGRAM, _left_out(found), None, source, lengths, tuple(unread), program=program)


def _tempos(found: Sounded) -> list[Tempo]:
    tempos = {0: float(found.meaning.tempo or 120)}
    for at, tempo in found.timed.tempos:
        tempos[round(at * _METER.beat_ticks)] = float(tempo)
    return [Tempo(tick, playable(tempo)) for tick, tempo in sorted(tempos.items())]


def _likely_tempo(events: Sequence[Event]) -> float:
    """Beats a minute, of the time that comes most often between strikes; the events count half seconds."""
    starts = sorted({event.start for event in events})
    apart = [after - before for before, after in pairwise(starts)] or [Fraction(1)]
    tempo = float(USUAL_TEMPO / commonest(apart))
    while tempo > _USUAL_TEMPOS[1]:
        tempo /= 2
    while tempo < _USUAL_TEMPOS[0]:
        tempo *= 2
    return playable(round(tempo, 2))


def _lengths_in(found: Timed) -> LengthsIn:
    if not found.has_times:
        return LengthsIn.NOTHING
    return LengthsIn.SECONDS if found.in_seconds else LengthsIn.BEATS


def _left_out(found: Sounded) -> tuple[str, ...]:
    """Sentences on assumptions, on what could not be read, and on the end of the trace."""
    said = list(found.trace.said)
    unread = [event for event in found.timed.events if event.sign]
    for event in unread[:_MOST_UNREAD_SAID]:
        line = found.trace.lines.of(event.span[0])
        said.append(f"Line {line}: `{shown(event.sign)}` is no pitch that Chickadee knows; it is silent here.")
    guesses = [each.sentence for each in found.meaning.calls.values() if each.is_guess]
    return (*([found.fault.sentence] if found.fault is not None else []), *said, *guesses)


def _hints(found: Sounded) -> tuple[str, ...]:
    """Sentences on likely mistakes that the text shows."""
    never = tuple(
        f"`{shown(each.name)}` (line {found.trace.lines.of(each.span[0])}) is never called."
        for each in found.trace.facts.uncalled[:2]
    )
    sizes = tuple(sentence for sentence in found.trace.said if sentence.startswith("Lists of different"))
    return (*never, *sizes)


def _strike(found: Sounded, event: Event) -> TracedStrike:
    lines = found.trace.lines
    loops = tuple(lines.of(span[0]) for span in event.heard.loops)
    return TracedStrike(lines.of(event.span[0]), event.heard.turns, loops)

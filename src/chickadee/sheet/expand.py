"""Tree to song: all voices are walked until they agree on the meters, keys and tempos of the song."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from operator import attrgetter, itemgetter
from typing import TypeVar

from ..song import TICKS_PER_QUARTER, BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ..song.drums import DRUM_SOUND
from ..song.song import DEFAULT_GAP
from ..song.sounds import DEFAULT_SOUND
from ..song.tempo import DEFAULT_TEMPO, playable
from ..theory import Key, Naming, read_key
from ..theory.frequency import STANDARD_A4
from . import rules
from .bounds import Allowance, Findings, TooMany
from .direction import LOUDNESS, ChangeKey, ChangeMeter, ChangeSwing, ChangeTempo, Mark, RampTempo
from .finding import Finding, Fix, TextEdit
from .flatten import Flattener, Placed, Until
from .length import Lengths
from .meaning import Scope, nearest_part
from .properties import Settings
from .tree import Block, Sheet, uses_in
from .walk import ONCE, Event, SongWide, VoiceWalk
from .written import DEFAULT_OCTAVE

__all__ = ["Expansion", "expand"]

_T = TypeVar("_T")
_ORDER = itemgetter(0, 1, 4)  # a note's start, voice and number
_MOST_SECONDS = 24 * 3600
_MOST_PASSES = 6


@dataclass(frozen=True, slots=True)
class Expansion:
    """A song, and for each of its voices what the text does there."""

    song: Song
    events: tuple[tuple[Event, ...], ...]
    unused: tuple[tuple[Event, ...], ...]
    """The events of each phrase that no voice uses."""
    findings: tuple[Finding, ...]


def expand(sheet: Sheet) -> Expansion:
    """The song that a sheet writes. A tune beyond its bounds gives an empty song and one finding."""
    expander = _Expander(sheet)
    try:
        return expander.expand()
    except TooMany as fault:
        finding = rules.TOO_LARGE.at(fault.start, fault.end, fault.sentence)
        expander.song_wide = []  # directions stand at ticks that a song without notes never reaches
        return Expansion(expander.frame(), (), (), (finding,))


class _Expander:
    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet
        self.settings = sheet.settings
        self.meter = self.settings.meter or Meter()
        self.key = self.settings.key or read_key("C major")
        self.findings = Findings()
        self.pickup = self._pickup_ticks()
        self.flattener = Flattener(sheet)
        self.allowance = Allowance()
        self.song_wide: list[SongWide] = []
        self.changes: list[tuple[int, Meter | Key]] = []
        """The meters and keys among those."""

    def expand(self) -> Expansion:
        flats = [self.flattener.voice(block, self._octave(block)) for block in self.sheet.voices]
        walks = self._agreed(flats)
        unused = self._unused()
        song = self._song(walks)
        if song.seconds > _MOST_SECONDS:
            raise self._too_long(walks)
        self._check_agreement(walks)
        self._check_ramps(song, walks)
        of_walks = (*(walk.findings for walk in walks), *(findings for _, findings in unused))
        for findings in (self.flattener.findings, *of_walks):
            self.findings.extend(findings)
        return Expansion(
            song,
            tuple(tuple(walk.events) for walk in walks),
            tuple(events for events, _ in unused),
            tuple(self.findings),
        )

    def frame(self) -> Song:
        """The song without voices."""
        grid = self._grid()
        tempo = TempoMap(self._tempos(grid), self._swings(), self.pickup)
        title = self.settings.title or ""
        composer = self.settings.composer or ""
        keys = self._changes_of(ChangeKey, self.key)
        tuning = self.settings.tuning or STANDARD_A4
        naming = (self.settings.names or Naming.LETTERS).in_key(self.key)
        marks = tuple((each.tick, each.what.words) for each in self.song_wide if isinstance(each.what, Mark))
        return Song(title, composer, grid=grid, keys=keys, tempo=tempo, tuning=tuning, marks=marks, naming=naming)

    def _grid(self) -> BarGrid:
        return BarGrid(self._changes_of(ChangeMeter, self.meter), self.pickup)

    # Walking

    def _agreed(self, flats: list[list[Placed]]) -> list[VoiceWalk]:
        """Walk until the voices' song-wide directions stay where they are."""
        for _ in range(_MOST_PASSES):
            walks = self._walked(flats)
            song_wide = _merged(walks)
            if [each[:2] for each in song_wide] == [each[:2] for each in self.song_wide]:
                break
            self.song_wide = song_wide
            self.changes = [
                (each.tick, each.what.meter if isinstance(each.what, ChangeMeter) else each.what.key)
                for each in song_wide
                if isinstance(each.what, ChangeMeter | ChangeKey)
            ]
        grid = self._grid()
        for walk, block in zip(walks, self.sheet.voices, strict=True):
            walk.finish(block.settings.stress, grid)
        return walks

    def _walked(self, flats: list[list[Placed]]) -> list[VoiceWalk]:
        self.allowance = Allowance()
        walks = [
            self._walk(index, block, flat, None)
            for index, (block, flat) in enumerate(zip(self.sheet.voices, flats, strict=True))
        ]
        ends = [walk.tick for walk in walks if not walk.waits]
        self.allowance.left += sum(walk.spent for walk in walks if walk.waits)  # those are walked anew
        if ends and any(walk.waits for walk in walks):
            self._check_end(walks, max(ends))
        for index, walk in enumerate(walks):
            if not walk.waits:
                continue
            if not ends:
                until = next(each.node for each in flats[index] if isinstance(each.node, Until))
                message = "No other voice sets the end here, so this is played once."
                self.findings.append(rules.TO_THE_END.at(until.start, until.end, message))
            goal = max(ends) if ends else ONCE
            walks[index] = self._walk(index, self.sheet.voices[index], flats[index], goal)
        return walks

    def _check_end(self, walks: list[VoiceWalk], end: int) -> None:
        """Raise TooMany where a song that ends at a tick is too long, before anything is repeated up to there."""
        before = self.song_wide
        self.song_wide = _merged(walks)
        frame = self.frame()
        self.song_wide = before
        repeated = [mark for walk in walks for mark in walk.repeated_tempos]
        if repeated:  # they may quicken the song: no more than if all of it had the quickest tempo there is
            meters = [meter for _, meter in frame.grid.changes]
            marked = [playable(mark.quarters_per_minute(meter)) for mark in repeated for meter in meters]
            written = [max(tempo.quarters_per_minute, tempo.target) for tempo in frame.tempo.tempos]
            seconds = 60 * end / TICKS_PER_QUARTER / max(*marked, *written)
        else:
            seconds = float(frame.tempo.seconds(end))
        if seconds > _MOST_SECONDS:
            raise self._too_long(walks)

    def _too_long(self, walks: list[VoiceWalk]) -> TooMany:
        longest = self.sheet.voices[max(range(len(walks)), key=lambda index: walks[index].tick)]
        return TooMany(longest.start, longest.end)

    def _walk(self, index: int, block: Block, flat: list[Placed], goal: int | None) -> VoiceWalk:
        tuning = self.settings.tuning or STANDARD_A4
        drums = block.settings.sound == DRUM_SOUND
        naming = (self.settings.names or Naming.LETTERS).in_key(self.key)
        scope = Scope(self.meter, self.key, Lengths(self.meter, self.settings.ticks), tuning, drums, naming)
        level = _first(block.settings.level, LOUDNESS["mf"])
        walk = VoiceWalk(index, scope, self.changes, level, goal, self.allowance)
        walk.run(flat)
        return walk

    def _unused(self) -> list[tuple[tuple[Event, ...], Findings]]:
        """The events and findings of phrases that no voice uses; those inside others of them are walked there."""
        found = []
        phrases = self.sheet.phrases
        uses = (use for block in phrases.values() for use in uses_in(block.body))
        inside = {use.name for use in uses if use.start not in self.sheet.left_out}
        for name in sorted(phrases, key=inside.__contains__):
            if name not in self.flattener.used:
                block = phrases[name]
                flat = self.flattener.voice(block, self._octave(block))
                walk = self._walk(len(self.sheet.voices), block, flat, 0)
                found.append((tuple(walk.events), walk.findings))
        return found

    def _octave(self, block: Block) -> int:
        return _first(block.settings.octave, self.settings.octave, DEFAULT_OCTAVE)

    def _pickup_ticks(self) -> int:
        beats = self.settings.pickup or Fraction(0)
        meter = self.meter
        exact = beats * meter.beat_ticks
        ticks = int(exact) % meter.bar_ticks
        if exact != ticks:
            line = next(each for each in self.sheet.properties if each.name == "pickup")
            if exact.denominator != 1:
                message = f"A beat cannot be cut exactly into {line.value}; use a fraction such as 1/2 or 1/3."
                meant = nearest_part(beats)
            else:
                message = f"A pickup is shorter than a bar, which has {meter.upper} beats here."
                meant = Fraction(ticks, meter.beat_ticks)
            fix = Fix(f"Use {meant}", (TextEdit(line.value_start, line.value_end, str(meant)),))
            self.findings.append(rules.VALUE.at(line.value_start, line.value_end, message, fix))
        return ticks

    # What holds for the whole song

    def _song(self, walks: list[VoiceWalk]) -> Song:
        notes: list[Note] = [note for walk in walks for note in walk.notes]
        notes.sort(key=_ORDER)
        voices = tuple(self._voice(block, walk) for block, walk in zip(self.sheet.voices, walks, strict=True))
        return replace(self.frame(), voices=voices, notes=tuple(notes))

    def _voice(self, block: Block, walk: VoiceWalk) -> Voice:
        mine: Settings = block.settings
        return Voice(
            block.name,
            mine.sound or DEFAULT_SOUND,
            mine.pan or 0.0,
            _first(mine.level, LOUDNESS["mf"]),
            _first(mine.gap, self.settings.gap, DEFAULT_GAP),
            mine.range,
            mine.allow,
            tuple(walk.sounds),
            tuple(walk.pedals),
            walk.tick,
        )

    def _changes_of(self, kind: type, opening: _T) -> tuple[tuple[int, _T], ...]:
        """(tick, value) of the meters or keys, one at a tick, from tick 0 on."""
        found = {0: opening}
        for each in self.song_wide:
            if isinstance(each.what, kind):
                found[each.tick] = each.what.meter if isinstance(each.what, ChangeMeter) else each.what.key  # type: ignore[union-attr,assignment]
        return tuple(sorted(found.items()))

    def _swings(self) -> list[tuple[int, float]]:
        found = {0: self.settings.swing} if self.settings.swing else {}
        found |= {each.tick: each.what.part for each in self.song_wide if isinstance(each.what, ChangeSwing)}
        return [(tick, part) for tick, part in sorted(found.items()) if part is not None]

    def _tempos(self, grid: BarGrid) -> list[Tempo]:
        mark = self.settings.tempo
        opening = mark.quarters_per_minute(self.meter) if mark else DEFAULT_TEMPO * 4 / self.meter.lower
        tempos = [Tempo(0, playable(opening))]
        for each in self.song_wide:
            meter = grid.meter_at(each.tick)
            if isinstance(each.what, ChangeTempo):
                new = Tempo(each.tick, playable(each.what.mark.quarters_per_minute(meter)))
            elif isinstance(each.what, RampTempo):
                start = tempos[-1].at(each.tick)
                ramp = max(1, round(each.what.over.ticks(meter)))
                new = Tempo(each.tick, start, ramp, playable(each.what.target.quarters_per_minute(meter)))
            else:
                continue
            if tempos[-1].tick == each.tick:
                tempos.pop()
            tempos.append(new)
        return tempos

    def _check_agreement(self, walks: list[VoiceWalk]) -> None:
        """Find the directions for the whole song that differ from an earlier voice's at the same place."""
        first: dict[tuple[int, str], SongWide] = {}
        grid = self._grid()
        for walk in walks:
            mine: dict[tuple[int, str], SongWide] = {(each.tick, _subject(each)): each for each in walk.song_wide}
            for place, each in mine.items():
                other = first.setdefault(place, each)
                if other.what != each.what:
                    bar = grid.number_at(each.tick)
                    message = (
                        f"Another voice gives the song a different {place[1]} here, in bar {bar}; they must agree."
                    )
                    self.findings.append(rules.CONFLICT.at(each.start, each.end, message))

    def _check_ramps(self, song: Song, walks: list[VoiceWalk]) -> None:
        """Find the changes of tempo whose word says slower where they are faster, or the other way round."""
        ramps = {tempo.tick: tempo for tempo in song.tempo.tempos if tempo.ramp}
        places: dict[tuple[int, object], set[tuple[int, int]]] = {}
        for walk in walks if ramps else ():
            for each in walk.song_wide:
                places.setdefault((each.tick, each.what), set()).add((each.start, each.end))
        for tick, what, start, end in self.song_wide:
            tempo = ramps.get(tick)
            if tempo is None or not isinstance(what, RampTempo) or tempo.target == tempo.quarters_per_minute:
                continue
            if what.slower != (tempo.target < tempo.quarters_per_minute):
                word, other = ("slow", "quicken") if what.slower else ("quicken", "slow")
                beat = song.grid.meter_at(tick).lower / 4
                message = f"The tempo is {tempo.quarters_per_minute * beat:g} here, so “{word}” goes the other way."
                text = f"[{other} {what.rest}]"
                fix = Fix(f"Write {other}", tuple(TextEdit(*span, text) for span in sorted(places[tick, what])))
                self.findings.append(rules.RAMP.at(start, end, message, fix))


def _subject(each: SongWide) -> str:
    if isinstance(each.what, Mark):
        return f"mark {each.what.words}"  # a place has any number of them
    kinds = {ChangeMeter: "meter", ChangeKey: "key", ChangeSwing: "swing", RampTempo: "change of tempo"}
    return kinds.get(type(each.what), "tempo")


def _merged(walks: list[VoiceWalk]) -> list[SongWide]:
    """All voices' song-wide directions in order of tick; of those at one tick the first voice's stands."""
    found: dict[tuple[int, str], SongWide] = {}
    for walk in walks:
        mine = {(each.tick, _subject(each)): each for each in walk.song_wide}
        for place, each in mine.items():
            found.setdefault(place, each)
    return sorted(found.values(), key=attrgetter("tick"))


def _first(*values: _T | None) -> _T:
    """The first value that is set."""
    return next(value for value in values if value is not None)

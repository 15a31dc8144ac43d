"""A program's tune as a sheet of the program's own shape: its repeats as ``x3``, its parts as phrases."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

from ..sheet import read as read_sheet
from ..sheet.names import free_name
from ..song import Song
from ..theory import Pitch
from .timing import Event, Loop, Part, Shaped, Timed

__all__ = ["shaped_sheet"]

_WIDEST = 96  # characters of a line
_MOST_EVENTS = 3_000
_WHOLES = frozenset(("main", "setup", "loop", "run", "start"))
"""Parts that are the whole program, and no phrase."""
_NEAREST = 24  # semitones by which a part may be moved

Sound = tuple[Fraction, Fraction, tuple[int, ...]]
"""The start inside a part, the length, both in beats, and the MIDI numbers of an event."""


def shaped_sheet(timed: Timed, song: Song) -> str | None:
    """Return a sheet of the program's own shape; None where it has none, or would sound otherwise than ``song``."""
    if not timed.shape or len(timed.events) > _MOST_EVENTS or len(timed.tempos) > 1:
        return None
    if timed.tempos and timed.tempos[0][0] != 0:
        return None
    writer = _Writer()
    body = writer.lines(writer.tokens(timed.shape))
    if not writer.has_shape:
        return None
    blocks = [f"tempo: {_number(Fraction(song.tempo_in_beats).limit_denominator(1000))}\nmeter: 4/4"]
    blocks += [f"phrase {name}\n{text}" for name, text in writer.phrases.values()]
    blocks.append(f"voice Melody\n{body}")
    text = "\n\n".join(blocks) + "\n"
    return text if _sounds(text) == [(note.start, note.length, note.number) for note in song.notes] else None


def _sounds(text: str) -> list[tuple[int, int, int]]:
    reading = read_sheet(text)
    return [(note.start, note.length, note.number) for note in reading.song.notes]


class _Writer:
    """Writes what sounds, and the phrases for the program's parts."""

    def __init__(self) -> None:
        self.phrases: dict[str, tuple[str, str]] = {}
        """For each part the phrase's name and its lines."""
        self.has_shape = False
        """True if there are repeats or phrases."""
        self._contents: dict[str, list[Sound]] = {}
        self._taken = {"melody"}

    def tokens(self, items: Sequence[Shaped]) -> list[str]:
        """Return the words for some items."""
        found: list[str] = []
        for item in items:
            if isinstance(item, Event):
                found.append(_sign(item))
            elif isinstance(item, Loop):
                found += self._loop(item)
            else:
                found += self._part(item)
        return found

    def _loop(self, loop: Loop) -> list[str]:
        turns = [turn for turn in loop.turns if any(_events(turn))]
        contents = [_content(turn) for turn in turns]
        if len(turns) > 1 and all(each == contents[0] for each in contents[1:]):
            self.has_shape = True
            inner = self.tokens(turns[0])
            if len(inner) == 1:
                return [f"{inner[0]} x{len(turns)}"]
            return [f"({inner[0]}", *inner[1:-1], f"{inner[-1]}) x{len(turns)}"]
        return [token for turn in turns for token in self.tokens(turn)]

    def _part(self, part: Part) -> list[str]:
        content = _content(part.items)
        if not content:
            return []
        name = part.name.lower()
        if not name or not name[0].isalpha() or name in _WHOLES:
            return self.tokens(part.items)
        if name not in self.phrases:
            tokens = self.tokens(part.items)
            if name in self.phrases:  # it calls itself
                return tokens
            free = free_name(name.replace("_", "-"), "phrase", self._taken)
            self._taken.add(free.lower())
            self.phrases[name] = (free, self.lines(tokens))
            self._contents[name] = content
        moved = _moved(self._contents[name], content)
        if moved is None:
            return self.tokens(part.items)
        self.has_shape = True
        written = self.phrases[name][0]
        if moved == 0:
            return [written]
        return [f"{written} {'up' if moved > 0 else 'down'} {abs(moved)}"]

    def lines(self, tokens: Sequence[str]) -> str:
        """Return words as lines."""
        rows = [""]
        for token in tokens:
            if len(rows[-1]) + len(token) > _WIDEST and rows[-1]:
                rows.append("")
            rows[-1] += f" {token}" if rows[-1] else token
        return "\n".join(f"  {row}" for row in rows)


def _events(items: Sequence[Shaped]) -> Iterator[Event]:
    for item in items:
        if isinstance(item, Event):
            yield item
        elif isinstance(item, Loop):
            for turn in item.turns:
                yield from _events(turn)
        else:
            yield from _events(item.items)


def _content(items: Sequence[Shaped]) -> list[Sound]:
    """The sounds of some items, with times from the first of them."""
    events = list(_events(items))
    if not events:
        return []
    first = events[0].start
    return [(event.start - first, event.length, tuple(pitch.number for pitch in _pitches(event))) for event in events]


def _pitches(event: Event) -> list[Pitch]:
    """All that is struck together, from the lowest."""
    found = {pitch.number: pitch for each in (event, *event.beside) for pitch in each.pitches}
    return [found[number] for number in sorted(found)]


def _moved(one: Sequence[Sound], other: Sequence[Sound]) -> int | None:
    """By how many semitones one content is another, moved; None where it is not."""
    if len(one) != len(other):
        return None
    shift: int | None = None
    for (start, length, numbers), (start2, length2, numbers2) in zip(one, other, strict=True):
        if start != start2 or length != length2 or len(numbers) != len(numbers2):
            return None
        for number, number2 in zip(numbers, numbers2, strict=True):
            shift = number2 - number if shift is None else shift
            if number2 - number != shift or abs(shift) > _NEAREST:
                return None
    return shift or 0


def _sign(event: Event) -> str:
    sign = "&".join(pitch.text for pitch in _pitches(event)) or "rest"
    return sign if event.length == 1 else f"{sign}={_number(event.length)}"


def _number(number: Fraction) -> str:
    return str(number.numerator) if number.denominator == 1 else f"{number.numerator}/{number.denominator}"

"""Musical edits as edits of the text: a note's pitch, length or loudness, taken out, split or joined.

Each touches only the signs concerned and keeps the writer's way: numbers stay numbers, letters without octave
stay so while they may, marks, spaces and comments stay where they are. Where several notes share a source span, the
edit changes all of them; :func:`sharing` says beforehand how many places that is.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from fractions import Fraction

from ..faults import InputFault
from ..song import Note, Song
from ..theory import Naming
from .finding import TextEdit, apply_edits
from .grammar import LineKind, kind_of, syllable_spans
from .length import Unit
from .lyrics import Strikes
from .proof import elsewhere, has_besides, proven, sound, sounds, struck
from .properties import PROPERTIES
from .reading import Reading
from .sites import CannotEdit, Site
from .spot import Spot, holds_after, rest_beside, site_of, spot_of, stretch_of
from .tree import BarLine, Block, Direction, Item, Property, Use, items_in, uses_in
from .word import Word
from .written import ACCENT, ChordSign, Drum, Named, Number, Step

__all__ = [
    "CannotEdit",
    "delete",
    "insert_after",
    "join",
    "length_text",
    "move_in_time",
    "move_pitch",
    "set_length",
    "set_lengths",
    "set_loudness",
    "set_pitch",
    "set_property",
    "set_syllable",
    "sharing",
    "split",
    "use_of",
    "write_out",
]


def sharing(reading: Reading, note: int) -> int:
    """Count the places in which the source span of a note, by its index, sounds."""
    span = reading.song.notes[note].spans[0]
    return sum(other.spans[0] == span for other in reading.song.notes)


def use_of(reading: Reading, note: int) -> int | None:
    """Where the phrase is named whose use sounds as a note; None where it is in no phrase, or a group repeats it."""
    chosen = reading.song.notes[note]
    block = reading.block_at(chosen.spans[0][0])
    if block is None or reading.sheet.phrases.get(block.name) is not block:
        return None
    uses = [use for use in uses_in(reading.sheet.voices[chosen.voice].body) if use.name == block.name]
    in_voice = (other for other in reading.song.notes if other.voice == chosen.voice)
    same = [other for other in in_voice if other.spans[0] == chosen.spans[0]]
    return uses[same.index(chosen)].start if len(uses) == len(same) else None


def set_pitch(reading: Reading, note: int, written: str) -> list[TextEdit]:
    """Write a note's pitch anew, as a name or a number. Raises CannotEdit."""
    spot = spot_of(reading, note)
    if not isinstance(spot.sign.what, Named | Number | Step | Drum):
        raise CannotEdit("This note belongs to a chord symbol; write the chord out to change one of its notes.")
    start = spot.item.start + spot.sign.start
    return [TextEdit(start, start + spot.sign.end - spot.sign.start, written)]


def move_pitch(reading: Reading, notes: Iterable[int], semitones: int) -> list[TextEdit]:
    """Move notes by semitones, spelled for the key where they stand. Raises CannotEdit.

    A note written inside a phrase that is itself moved, or mirrored, is written so that it sounds right where it was
    chosen.
    """
    old = reading.song.notes
    chosen = list(notes)
    if not all(0 <= old[index].number + semitones <= 127 for index in chosen):
        raise CannotEdit("That is outside the range of MIDI, C-1 to G9.")
    spans = {old[index].spans[0] for index in chosen}
    wanted = sounds(note for note in old if note.spans[0] not in spans)
    wanted |= Counter(sound(old[index], semitones) for index in chosen)

    def right(song: Song) -> bool:
        return not wanted - sounds(song.notes)

    try:
        return proven(reading, _moved(reading, chosen, semitones), right)
    except CannotEdit:
        if any(old[index].spans[0] != old[chosen[0]].spans[0] for index in chosen):
            raise
        return proven(reading, _moved(reading, chosen, -semitones), right)  # in a mirror it is the other way


def set_length(reading: Reading, notes: Sequence[int], beats: Fraction) -> list[TextEdit]:
    """Give notes a length in beats of the meter in force; holds after them are taken out. Raises CannotEdit."""
    return set_lengths(reading, dict.fromkeys(notes, beats))


def set_lengths(reading: Reading, lengths: Mapping[int, Fraction]) -> list[TextEdit]:
    """The same with a length for each note."""
    if any(beats <= 0 for beats in lengths.values()):
        raise CannotEdit("A length must be above zero.")
    edits: dict[int, TextEdit] = {}
    for index, beats in lengths.items():
        spot = spot_of(reading, index)
        holds = holds_after(spot)
        for hold, edit in zip(holds, _all_taken_out(reading.text, holds), strict=True):
            edits.setdefault(hold.start, edit)
        start = spot.item.start + spot.item.word.length_start
        tick = reading.song.notes[index].start
        ticks = beats * _beat(reading, reading.song.notes[index]) / stretch_of(reading, spot, index)
        length = _length(reading, spot.item.word, tick, ticks)
        edits.setdefault(start, TextEdit(start, spot.item.end, length))
    chosen = [(reading.song.notes[index], beats) for index, beats in lengths.items()]
    wanted = Counter((note.voice, note.number, int(beats * _beat(reading, note))) for note, beats in chosen)

    def right(song: Song) -> bool:
        there = Counter((note.voice, note.number, note.length) for note in song.notes)
        return struck(song.notes) == struck(reading.song.notes) and not wanted - there

    return proven(reading, list(edits.values()), right)


def set_loudness(reading: Reading, levels: Mapping[int, int]) -> list[TextEdit]:
    """Give notes, by their indices, a loudness each, and the ones after them theirs back. Raises CannotEdit.

    Notes that follow each other and change alike are put between one pair of directions.
    """
    given: dict[int, tuple[int, int, int]] = {}
    written: set[int] = set()  # where the notes stand that are to change: all that is struck together
    for index, level in levels.items():
        if not 1 <= level <= 127:
            raise CannotEdit("A loudness is from 1 to 127.")
        spot = spot_of(reading, index)
        accent = ACCENT if spot.sign.accent else 0
        if level <= accent:
            raise CannotEdit("An accent makes this note louder than that; delete the > first.")
        end = max([spot.item.end, *(hold.end for hold in holds_after(spot))])
        written |= {spot.item.start, *(spot.item.start + sign.start for sign in spot.item.word.signs)}
        given.setdefault(spot.item.start, (end, level - accent, reading.song.notes[index].loudness - accent))
    runs: list[tuple[int, int, int, int]] = []
    for start, (end, level, before) in sorted(given.items()):
        if runs and runs[-1][2:] == (level, before) and not reading.text[runs[-1][1] : start].strip(" \t|"):
            runs[-1] = (runs[-1][0], end, level, before)
        else:
            runs.append((start, end, level, before))
    edits = []
    for start, end, level, before in runs:
        edits += [TextEdit(start, start, f"[{level}] "), TextEdit(end, end, f" [{before}]")]
    old = reading.song.notes

    def right(song: Song) -> bool:
        new = song.notes
        changed = {
            before.spans[0][0] for before, after in zip(old, new, strict=False) if before.loudness != after.loudness
        }
        as_asked = len(new) == len(old) and all(new[index].loudness == level for index, level in levels.items())
        return as_asked and changed <= written

    return proven(reading, edits, right)


def delete(reading: Reading, notes: Sequence[int], close_up: bool = False) -> list[TextEdit]:
    """Take notes out, leaving a rest where nothing else sounds, or closing up. Raises CannotEdit."""
    by_item: dict[int, list[Spot]] = {}
    for index in notes:
        spot = spot_of(reading, index)
        by_item.setdefault(spot.item.start, []).append(spot)
    edits = list[TextEdit]()
    gone_items = list[Item]()
    for spots in by_item.values():
        item = spots[0].item
        gone = {spot.sign.start for spot in spots}
        left = [sign for sign in item.word.signs if sign.start not in gone]
        if left:
            marks = reading.text[item.start : item.start + item.word.signs[0].start]
            body = "&".join(reading.text[item.start + sign.start : item.start + sign.end] for sign in left)
            edits.append(TextEdit(item.start, item.start + item.word.length_start, marks + body))
        elif close_up:
            gone_items += [item, *holds_after(spots[0])]
        else:
            edits.append(TextEdit(item.start, item.start + item.word.length_start, "rest"))
    edits += _all_taken_out(reading.text, gone_items)
    old = reading.song.notes
    spans = {old[index].spans[0] for index in notes}
    stay = [note for note in old if note.spans[0] not in spans]

    def right(song: Song) -> bool:
        if close_up:
            return not struck(stay) - struck(song.notes)
        there = sounds(song.notes)
        return not sounds(stay) - there and not there - sounds(old)

    return proven(reading, edits, right)


def insert_after(reading: Reading, note: int, written: str) -> list[TextEdit]:
    """Write a sign after a note and its holds. Raises CannotEdit."""
    spot = spot_of(reading, note)
    end = max([spot.item.end, *(hold.end for hold in holds_after(spot))])
    return [TextEdit(end, end, f" {written}")]


def set_property(reading: Reading, name: str, value: str, voice: int | None = None) -> list[TextEdit]:
    """Give the song, or one of its voices, a property: its line is changed, or added where there is none.

    Raises CannotEdit with the property's own sentence where it does not take the value.
    """
    try:
        PROPERTIES[name].read(value)
    except InputFault as fault:
        raise CannotEdit(str(fault)) from None
    block = None if voice is None else reading.sheet.voices[voice]
    properties = reading.sheet.properties if block is None else block.properties
    for each in properties:
        if each.name == name:
            return [TextEdit(each.value_start, each.value_end, value)]
    headless = block is not None and block.body and block.start == block.body[0].start
    if headless and len(reading.sheet.voices) == 1:
        # at the sheet's top are those of its one voice
        block = None
        properties = reading.sheet.properties
    elif block is not None and headless:
        at = reading.text.rfind("\n", 0, block.start) + 1  # notes before any block have no header yet
        return [TextEdit(at, at, f"voice {block.name}\n  {name}: {value}\n")]
    if block is not None:
        at = max([block.end, *(each.value_end for each in block.properties)])
        return [TextEdit(at, at, f"\n  {name}: {value}")]
    if properties:
        at = properties[-1].value_end
        return [TextEdit(at, at, f"\n{name}: {value}")]
    gap = "\n" if reading.sheet.voices and reading.sheet.voices[0].start else ""
    return [TextEdit(0, 0, f"{name}: {value}\n{gap}")]


def set_syllable(reading: Reading, note: int, syllable: str) -> list[TextEdit]:
    """Lay a syllable under a note, or none for nothing; one that ends in ``-`` goes on in the next.

    It goes into the ``words:`` under the note's line, which is written where there is none. Raises CannotEdit.
    """
    if not re.fullmatch(r"[^\s-]*-?", syllable) or "//" in syllable:
        raise CannotEdit("A syllable is written without spaces; a - at its end joins it to the next.")
    text = reading.text
    item = spot_of(reading, note).item
    sung = reading.song.notes[note]
    start = text.rfind("\n", 0, item.start) + 1
    end = text.find("\n", item.end) % (len(text) + 1)
    block = reading.block_at(item.start)
    assert block is not None
    strikes = Strikes(reading.sheet.phrases, reading.sheet.left_out)
    signs: list[Item | Use] = [*items_in(block.body), *uses_in(block.body)]
    place = sum(strikes.of(each) for each in signs if start <= each.start < item.start)
    verses = _words_below(text, end, block)
    if not verses:
        indent = text[start : start + len(text[start:end]) - len(text[start:end].lstrip())]
        written = TextEdit(end, end, f"\n{indent}words: {'_ ' * place}{syllable or '_'}")
        return _sung_so(reading, note, syllable, written)
    mine = [each.start for each in reading.song.notes if each.spans[0] == sung.spans[0] and each.voice == sung.voice]
    below = verses[sorted(set(mine)).index(sung.start) % len(verses)]
    there = syllable_spans(text, below.value_start, below.value_end)
    if place < len(there):
        at, end = there[place]
        joins = text[end - 1] == "-" and not syllable.endswith("-") and place + 1 < len(there)
        return _sung_so(reading, note, syllable, TextEdit(at, end, (syllable or "_") + (" " if joins else "")))
    gap = " _" * (place - len(there))
    written = TextEdit(below.value_end, below.value_end, f"{gap} {syllable or '_'}")
    return _sung_so(reading, note, syllable, written)


def _words_below(text: str, end: int, block: Block) -> list[Property]:
    """The ``words:`` lines under the line that ends at an offset."""
    found: list[Property] = []
    for each in block.words:
        if each.start > end and text[end : each.start].isspace():
            found.append(each)
            end = text.find("\n", each.value_end) % (len(text) + 1)
    return found


def _sung_so(reading: Reading, note: int, syllable: str, edit: TextEdit) -> list[TextEdit]:
    """An edit of words, once it is seen to give a note its syllable."""
    return proven(reading, [edit], lambda song: song.notes[note].syllable == syllable)


def split(reading: Reading, note: int, beats: Fraction) -> list[TextEdit]:
    """Split a note in two, the first of so many beats; both are struck. Raises CannotEdit."""
    spot = spot_of(reading, note)
    chosen = reading.song.notes[note]
    beat = _beat(reading, chosen)
    whole = Fraction(chosen.length, beat)
    if not 0 < beats < whole:
        raise CannotEdit("A note can only be split inside it.")
    head = reading.text[spot.item.start : spot.item.start + spot.item.word.length_start]
    stretch = stretch_of(reading, spot, note)
    first, second = (
        _length(reading, spot.item.word, chosen.start, part * beat / stretch) for part in (beats, whole - beats)
    )
    holds = _all_taken_out(reading.text, holds_after(spot))
    edits = [TextEdit(spot.item.start, spot.item.end, f"{head}{first} {head}{second}"), *holds]
    ticks = int(beats * beat)
    early = chosen._replace(length=ticks)
    late = chosen._replace(start=chosen.start + ticks, length=chosen.length - ticks)
    stay = elsewhere(reading, spot.item)
    return proven(reading, edits, lambda song: has_besides(song, stay, early, late))


def join(reading: Reading, first: int, second: int) -> list[TextEdit]:
    """Make one note of two that follow each other in one body: the first sounds on. Raises CannotEdit."""
    one = spot_of(reading, first)
    other = spot_of(reading, second)
    after = [node for node in one.body[one.index + 1 :] if type(node) is not BarLine and type(node) is not Direction]
    holds = holds_after(one)
    if one.body is not other.body or after[len(holds) : len(holds) + 1] != [other.item]:
        raise CannotEdit("Only notes that follow each other in one line can be joined.")
    edits = [TextEdit(other.item.start, other.item.start + other.item.word.length_start, "-")]
    early = reading.song.notes[first]
    late = reading.song.notes[second]
    whole = early._replace(length=early.length + late.length)
    stay = elsewhere(reading, one.item, other.item)
    return proven(reading, edits, lambda song: has_besides(song, stay, whole))


def move_in_time(reading: Reading, note: int, beats: Fraction) -> list[TextEdit]:
    """Move a note, with what is struck with it, later or (below zero) earlier, into the rest beside it.

    All else stays in its spot. Raises CannotEdit where there is not enough rest on that side.
    """
    spot = spot_of(reading, note)
    item = spot.item
    holds = holds_after(spot)
    end = max([item.end, *(hold.end for hold in holds)])
    later = rest_beside(reading, spot, after=True)
    earlier = rest_beside(reading, spot, after=False)
    ahead, room = (later if beats > 0 else earlier) or (None, Fraction(0))
    amount = abs(beats)
    after = [node for node in spot.body[spot.index + 1 :] if not isinstance(node, BarLine | Direction)]
    at_end = beats > 0 and after == holds
    if not amount or (room < amount and not at_end):
        raise CannotEdit("There is not enough rest beside this note to move it into.")
    chosen = reading.song.notes[note]
    beat = _beat(reading, chosen)
    rest = f"rest{length_text(reading, chosen.start, amount * beat)}"
    edits = [TextEdit(item.start, item.start, f"{rest} ")] if beats > 0 else [TextEdit(end, end, f" {rest}")]
    if ahead is not None and room == amount:
        edits.append(_taken_out(reading.text, ahead.start, ahead.end))
    elif ahead is not None and room > amount:
        length = _length(reading, ahead.word, chosen.start, (room - amount) * beat)
        edits.append(TextEdit(ahead.start + ahead.word.length_start, ahead.end, length))
    moved = chosen._replace(start=chosen.start + int(beats * beat))
    stay = elsewhere(reading, item)
    return proven(reading, edits, lambda song: has_besides(song, stay, moved))


def write_out(reading: Reading, offset: int) -> list[TextEdit]:
    """Write one use of a phrase out: its name at an offset gives way to its music, the other uses stay.

    What is read in the phrase's octave is given it. Raises CannotEdit where no phrase is used.
    """
    uses = [use for block in (*reading.sheet.voices, *reading.sheet.phrases.values()) for use in uses_in(block.body)]
    use = next((use for use in uses if use.start <= offset <= use.end and use.name in reading.sheet.phrases), None)
    if use is None:
        raise CannotEdit("No phrase is used here.")
    phrase = reading.sheet.phrases[use.name]
    if not phrase.body:
        return [TextEdit(use.start, use.start + len(use.name), "()")]
    start = phrase.body[0].start
    end = phrase.body[-1].end
    edits = []
    if phrase.settings.octave is not None:
        for site in reading.sites:
            if site.block is phrase and site.follows_octave:
                edits.append(TextEdit(site.start - start, site.end - start, _with_octave(site)))
    lines = apply_edits(reading.text[start:end], edits).split("\n")
    music = [line for line in lines if kind_of(line, 0, len(line)) is not LineKind.PROPERTY]
    written = [TextEdit(use.start, use.start + len(use.name), "({})".format("\n".join(music)))]
    before = [sound(note) for note in reading.song.notes]
    return proven(reading, written, lambda song: [sound(note) for note in song.notes] == before)


def _with_octave(site: Site) -> str:
    """A sign that is read in an octave, written so that it says which: a step by its name."""
    if isinstance(site.sign.what, ChordSign):
        return re.sub(r"(?<=\{)[^\s}]+", rf"\g<0> {site.octave}", site.text)
    marks = site.text[: len(site.text) - len(site.text.lstrip(">'"))]
    what = site.sign.what
    naming = what.naming if isinstance(what, Named) else Naming.LETTERS
    return marks + naming.pitch_text(site.pitches()[0])


def _moved(reading: Reading, notes: Iterable[int], semitones: int) -> list[TextEdit]:
    """Notes written some semitones away from where they are written."""
    edits: dict[int, TextEdit] = {}
    for index in notes:
        spot = spot_of(reading, index)
        start = spot.item.start + spot.sign.start
        if start not in edits:
            written = _written_for(reading, reading.song.notes[index], semitones)
            edits[start] = set_pitch(reading, index, written)[0]
    return list(edits.values())


# How things are written


def length_text(reading: Reading, tick: int, ticks: Fraction | int) -> str:
    """How a length in ticks is written after a sign that stands at a tick."""
    return reading.lengths.text(ticks, reading.song.grid.meter_at(tick))


def _written_for(reading: Reading, note: Note, semitones: int) -> str:
    """How to write a note so that it sounds some semitones away, in its writer's way."""
    site = site_of(reading, note)
    what = site.sign.what
    if isinstance(what, Number):
        return str(max(0, min(127, what.number + semitones)))
    if isinstance(what, Drum):
        raise CannotEdit("Drums have no pitch to move; write another drum.")
    moved = site.key.spell(site.pitches(reading.song.tuning)[0].number + semitones)
    keeps = isinstance(what, Named) and what.octave is None and moved.octave == site.octave
    naming = reading.song.naming
    return naming.text(moved.name) if keeps else naming.pitch_text(moved)


def _length(reading: Reading, word: Word, tick: int, ticks: Fraction) -> str:
    """A length in the writer's way: as a decimal where the note had one and it comes out even."""
    meter = reading.song.grid.meter_at(tick)
    count = reading.lengths.count(ticks, meter)
    decimal = word.length is not None and word.length.unit is Unit.BEAT and "." in word.text[word.length_start :]
    if decimal and ticks != meter.beat_ticks and (count * 1000).denominator == 1:
        return f"={float(count):g}"
    return reading.lengths.text(ticks, meter)


def _beat(reading: Reading, note: Note) -> int:
    """The ticks of the beat where a note begins."""
    return reading.song.grid.meter_at(note.start).beat_ticks


def _all_taken_out(text: str, items: Sequence[Item]) -> list[TextEdit]:
    """Take several signs out; the space between two of them goes with the first."""
    edits: list[TextEdit] = []
    for item in sorted(set(items)):
        edit = _taken_out(text, item.start, item.end)
        start = max(edit.start, edits[-1].end) if edits else edit.start
        edits.append(TextEdit(start, edit.end, ""))
    return edits


def _taken_out(text: str, start: int, end: int) -> TextEdit:
    """Take a sign out, with the space after it, or before it where it ends a line."""
    if text[end : end + 1] == " ":
        return TextEdit(start, end + 1, "")
    return TextEdit(start - 1, end, "") if start and text[start - 1] == " " else TextEdit(start, end, "")

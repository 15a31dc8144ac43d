"""Other ways of reshaping a tune: another mode, mirrored, backwards, stretched, folded, swung, chords broken."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

from ..sheet import CannotEdit, Reading, TextEdit
from ..sheet.edits import length_text
from ..sheet.length import ONE_BEAT, Unit
from ..sheet.proof import verified
from ..sheet.sites import Site
from ..sheet.spot import holds_after, spot_of
from ..sheet.tree import Block, Group, Item, groups_in, items_in
from ..sheet.word import Kind, Sign
from ..sheet.written import ChordSign, Manner, Named, Number
from ..song import Meter
from ..theory import Pitch, Scale
from .part import SONG, Part, blocks_of, scope_of
from .rewriting import rewritten
from .shift import ToScale
from .transposing import moved

__all__ = [
    "backwards",
    "broken",
    "folded",
    "gathered",
    "in_scale",
    "replaced",
    "straightened",
    "stretched",
    "swung",
    "upside_down",
]

_Pair = tuple[Fraction, Fraction]
_HALVES = (Fraction(1, 2), Fraction(1, 2))
_SWUNG = (Fraction(2, 3), Fraction(1, 3))


def in_scale(reading: Reading, scale: Scale) -> list[TextEdit]:
    """The whole song in another scale on the same tonic, step by step: major to minor. Raises CannotEdit."""
    return moved(reading, ToScale(scale), names_key=True)


def upside_down(reading: Reading, part: Part = SONG) -> list[TextEdit]:
    """Mirror in steps about the first note, as the language says it; twice is as before. Raises CannotEdit."""
    return _around(reading, part, "upside-down", "upside-down")


def backwards(reading: Reading, part: Part = SONG) -> list[TextEdit]:
    """From the last note to the first, as the language says it; twice is as before. Raises CannotEdit."""
    return _around(reading, part, "backwards", "backwards")


def stretched(reading: Reading, factor: Fraction, part: Part = SONG) -> list[TextEdit]:
    """Every length ``factor`` times as long, as the language says it; its inverse undoes it. Raises CannotEdit."""
    if factor <= 0 or factor == 1:
        raise CannotEdit("Stretch or squeeze by a number other than one, such as 2 or 3/2.")
    if part.notes is not None:
        return _rewritten_lengths(reading, factor, part)
    if factor > 1:
        return _around(reading, part, f"stretched {factor}", f"squeezed {factor}")
    return _around(reading, part, f"squeezed {1 / factor}", f"stretched {1 / factor}")


def folded(reading: Reading, low: int, high: int, part: Part = SONG) -> list[TextEdit]:
    """Bring notes outside a range, of MIDI numbers, into it by whole octaves. Raises CannotEdit."""
    if high - low < 11:
        raise CannotEdit("Folding needs a range of at least an octave, twelve pitches.")

    def fold(pitch: Pitch) -> Pitch:
        octaves = 0
        if pitch.number < low:
            octaves = -(-(low - pitch.number) // 12)
        elif pitch.number > high:
            octaves = (high - pitch.number) // 12
        return Pitch(pitch.letter, pitch.accidental, pitch.octave + octaves)

    return [
        _rewritten(reading, site, fold(site.pitches()[0]))
        for site in _lone(reading, part)
        if not low <= site.pitches()[0].number <= high
    ]


def replaced(reading: Reading, old: int, new: int, part: Part = SONG) -> list[TextEdit]:
    """Write one pitch, by its MIDI number, instead of another wherever that is written. Raises CannotEdit."""
    sites = [site for site in _lone(reading, part) if site.pitches()[0].number == old]
    edits = []
    for site in sites:
        beside = [other for other in site.item.word.signs if other is not site.sign]
        if any(_names(other, new, site) for other in beside):  # it is struck here already
            after = reading.text[site.end : site.end + 1] == "&"
            edits.append(TextEdit(site.start - (not after), site.end + after, ""))
        else:
            edits.append(_rewritten(reading, site, site.key.spell(new)))
    return edits


def _names(sign: Sign, number: int, site: Site) -> bool:
    """Return whether another sign of a site's word is the pitch with a MIDI number."""
    what = sign.what
    if isinstance(what, Named):
        return what.name.at(site.octave if what.octave is None else what.octave).number == number
    return isinstance(what, Number) and what.number == number


def swung(reading: Reading, part: Part = SONG) -> list[TextEdit]:
    """Write pairs of half beats that begin on a beat as two thirds and a third."""
    return _pairs(reading, part, _HALVES, _SWUNG)


def straightened(reading: Reading, part: Part = SONG) -> list[TextEdit]:
    """The inverse of :func:`swung`."""
    return _pairs(reading, part, _SWUNG, _HALVES)


def broken(reading: Reading, part: Part = SONG) -> list[TextEdit]:
    """Write notes struck together one after the other, as they are written, in the same time. Raises CannotEdit."""
    edits = []
    for item in _chosen_items(reading, part):
        word = item.word
        signs = item.word.signs
        if len(signs) > 1 and not any(isinstance(sign.what, ChordSign) for sign in signs):
            marks = word.text[: signs[0].start]
            body = " ".join(marks + word.text[sign.start : sign.end] for sign in signs)
            length = word.text[word.length_start + 1 :] or _one_beat(reading)
            edits.append(TextEdit(item.start, item.end, f"({body})={length}"))
        elif len(signs) == 1 and isinstance(what := signs[0].what, ChordSign) and what.manner is Manner.TOGETHER:
            end = item.start + word.text.rindex("}")
            edits.append(TextEdit(end, end, " rising"))
    return edits


def gathered(reading: Reading, part: Part = SONG) -> list[TextEdit]:
    """Write broken chords, and groups of notes fitted into a length, as notes struck together."""
    edits = []
    for item in _chosen_items(reading, part):
        for sign in item.word.signs:
            if isinstance(sign.what, ChordSign) and sign.what.manner is not Manner.TOGETHER:
                text = item.word.text[sign.start : sign.end]
                at = text.index(sign.what.manner.value.split()[0])
                edits.append(
                    TextEdit(item.start + sign.start + len(text[:at].rstrip()), item.start + sign.end - 1, "")
                )
    for block in blocks_of(reading, part):
        edits += [_gathered(reading, group) for group in groups_in(block.body) if _is_broken(group)]
    return edits


# How it is done


def _around(reading: Reading, part: Part, words: str, undo: str) -> list[TextEdit]:
    """The music of each voice of a part in a group with some words after it; or out of one that undoes them."""
    edits = []
    for block in _outermost(reading, part):
        if not block.body:
            continue
        first = block.body[0]
        last = block.body[-1]
        text = reading.text
        if (
            first is last
            and isinstance(first, Group)
            and first.length is None
            and text[: first.end].endswith(f") {undo}")
        ):
            edits += [TextEdit(first.start, first.start + 1, ""), TextEdit(first.end - len(undo) - 2, first.end, "")]
        else:
            edits += [TextEdit(first.start, first.start, "("), TextEdit(last.end, last.end, f") {words}")]
    if not edits:
        raise CannotEdit("There is no music here to change.")
    return verified(reading, edits)


def _rewritten_lengths(reading: Reading, factor: Fraction, part: Part) -> list[TextEdit]:
    """Some notes, and the holds after them, with lengths ``factor`` times as long."""
    edits: dict[int, TextEdit] = {}
    for note in sorted(part.notes or ()):
        spot = spot_of(reading, note)
        tick = reading.song.notes[note].start
        for item in (spot.item, *holds_after(spot)):
            ticks = reading.own_ticks(item.word, tick) * factor
            edits[item.start] = TextEdit(
                item.start + item.word.length_start, item.end, length_text(reading, tick, ticks)
            )
    return verified(reading, list(edits.values()))


def _outermost(reading: Reading, part: Part) -> list[Block]:
    """The blocks in which a change to a part is written: what they use is changed with them."""
    if part.notes is not None:
        raise CannotEdit("Choose a voice, a phrase or the whole song for this.")
    sheet = reading.sheet
    if part.phrase is not None:
        return [sheet.phrases[part.phrase]]
    return list(sheet.voices) if part.voice is None else [sheet.voices[part.voice]]


def _lone(reading: Reading, part: Part) -> list[Site]:
    """The signs of one pitch each."""
    return [site for site in scope_of(reading, part).sites if not isinstance(site.sign.what, ChordSign)]


def _rewritten(reading: Reading, site: Site, pitch: Pitch) -> TextEdit:
    return TextEdit(site.start, site.end, rewritten(site, lambda _: pitch, site.key, reading.song.tuning))


def _chosen_items(reading: Reading, part: Part) -> list[Item]:
    return list({site.item.start: site.item for site in scope_of(reading, part).sites}.values())


def _pairs(reading: Reading, part: Part, old: _Pair, new: _Pair) -> list[TextEdit]:
    """Two neighbours of certain lengths, the first on a beat, given other lengths; rests and drums too."""
    chosen = {item.start for item in _chosen_items(reading, part)}
    on_beat = _on_beat(reading)
    grid = reading.song.grid
    edits: list[TextEdit] = []
    done = -1
    for block in blocks_of(reading, part):
        for first, second in pairwise(items_in(block.body)):
            mine = part.notes is None or first.start in chosen or second.start in chosen
            tick = on_beat.get(first.start)
            if not mine or tick is None or first.start <= done:
                continue
            meter = grid.meter_at(tick)
            if (_beats(reading, first, meter), _beats(reading, second, meter)) == old:
                for item, beats in zip((first, second), new, strict=True):
                    length = reading.lengths.text(beats * meter.beat_ticks, meter)
                    edits.append(TextEdit(item.start + item.word.length_start, item.end, length))
                done = second.start
    return edits


def _on_beat(reading: Reading) -> dict[int, int]:
    """The tick at which what is written at an offset sounds first, for all that begins on a beat there."""
    grid = reading.song.grid
    seen: dict[int, int] = {}
    for events in (*reading.events, *reading.unused):
        for event in events:
            seen.setdefault(event.start, event.tick)
    return {start: tick for start, tick in seen.items() if grid.place(tick).beat.denominator == 1}


def _beats(reading: Reading, item: Item, meter: Meter) -> Fraction | None:
    """The length in beats of a meter, where it counts beats or their ticks."""
    length = item.word.length or ONE_BEAT
    if length.unit is not Unit.BEAT or item.word.kind is Kind.SILENT:
        return None
    return reading.lengths.ticks(item.word.length, meter) / meter.beat_ticks


def _is_broken(group: Group) -> bool:
    """Return whether a group is single notes of equal length fitted into a length."""
    items = [node for node in group.body if isinstance(node, Item)]
    return (
        group.length is not None
        and not group.changes
        and len(items) == len(group.body) > 1
        and all(len(item.word.signs) == 1 and item.word.length is None for item in items)
        and len({item.word.text for item in items}) == len(items)
    )


def _gathered(reading: Reading, group: Group) -> TextEdit:
    inside = "&".join(reading.text[node.start : node.end] for node in group.body)
    length = reading.text[group.start : group.end].rpartition(")=")[2]
    return TextEdit(group.start, group.end, inside if length == _one_beat(reading) else f"{inside}={length}")


def _one_beat(reading: Reading) -> str:
    """One beat after ``=``, in ticks where the sheet counts so."""
    return str(reading.sheet.settings.ticks or 1)

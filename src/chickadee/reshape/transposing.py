"""Moving a tune to where it is needed, as edits of its text."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from enum import Enum
from operator import attrgetter

from ..sheet import CannotEdit, Reading, TextEdit, apply_edits, read
from ..sheet.direction import ChangeKey
from ..sheet.edits import set_property
from ..sheet.proof import verified
from ..sheet.rules import NEAR_MISS
from ..sheet.sites import Site
from ..sheet.tree import Direction, Group, Item, Move, Node, OnSteps, UpsideDown, Use, groups_in, uses_in
from ..sheet.written import DEFAULT_OCTAVE, ChordSign, Manner, Step
from ..theory import Interval, Key, KeyNameError, read_key
from .part import SONG, Part, scope_of
from .rewriting import NoSymbol, rewritten
from .shift import Chromatic, Composed, Diatonic, Octaves, Shift, ToScale, WithKey

__all__ = ["Towards", "by_interval", "by_octaves", "by_semitones", "by_steps", "mended", "moved", "to_key"]


class Towards(Enum):
    """Which way to a key."""

    NEAREST = "nearest"
    UP = "up"
    DOWN = "down"


def by_semitones(reading: Reading, semitones: int, part: Part = SONG) -> list[TextEdit]:
    """Move by semitones: the whole song with its key, a part of it inside the key. Raises CannotEdit.

    >>> text = "key: C major\\nC4 64 ^5"
    >>> apply_edits(text, by_semitones(read(text), 2))
    'key: D major\\nD4 66 ^5'
    """
    if part.is_song:
        return moved(reading, WithKey.by_semitones(reading.song.key, semitones), part)
    return moved(reading, Chromatic(semitones), part)


def by_steps(reading: Reading, steps: int, part: Part = SONG) -> list[TextEdit]:
    """Move by steps of the key in force at each note. Raises CannotEdit."""
    return moved(reading, Diatonic(steps), part)


def by_octaves(reading: Reading, octaves: int, part: Part = SONG) -> list[TextEdit]:
    """Move by whole octaves. Raises CannotEdit."""
    return moved(reading, Octaves(octaves), part)


def by_interval(reading: Reading, interval: Interval, part: Part = SONG) -> list[TextEdit]:
    """Move by an interval, letter by letter; the whole song's key goes along. Raises CannotEdit."""
    return moved(reading, WithKey(interval) if part.is_song else Chromatic(interval.semitones), part)


def to_key(reading: Reading, key: Key, towards: Towards = Towards.NEAREST) -> list[TextEdit]:
    """Move the whole song to a key, and into its scale, step by step, where that is another. Raises CannotEdit."""
    old = reading.song.key
    up = (key.tonic.pitch_class - old.tonic.pitch_class) % 12
    nearest = (up + 5) % 12 - 5
    if nearest == 6 and key.tonic.fifths < old.tonic.fifths:
        nearest = -6  # of the two ways round half the octave, up to the sharper key and down again
    semitones = {Towards.UP: up, Towards.DOWN: -(-up % 12), Towards.NEAREST: nearest}[towards]
    start = old.tonic.at(4)
    shift: Shift = WithKey(Interval.between(start, key.tonic.nearest(start.number + semitones)))
    if key.scale != old.scale:
        shift = Composed(shift, ToScale(key.scale))
    return moved(reading, shift, names_key=True)


def mended(text: str) -> str:
    """A sheet with every near miss written as it was understood."""
    hints = (finding for finding in read(text).findings if finding.code == NEAR_MISS.code and finding.fixes)
    edits: list[TextEdit] = []
    for edit in sorted((edit for hint in hints for edit in hint.fixes[0].edits), key=attrgetter("start")):
        if not edits or edit.start >= edits[-1].end:
            edits.append(edit)
    return apply_edits(text, edits)


def moved(reading: Reading, shift: Shift, part: Part = SONG, names_key: bool = False) -> list[TextEdit]:
    """The edits that move every sign of a part once, and with the whole song its keys. Raises CannotEdit.

    A sheet without a key is given one where its signs depend on it, or where ``names_key`` asks for it.
    """
    scope = scope_of(reading, part)
    _refuse_other_steps(reading, shift)
    octaves, by_property = _octaves(reading, shift) if part.is_song else ([], _none)
    edits = octaves + list(_signs(reading, [site for site in scope.sites if not by_property(site)], shift))
    for use in scope.uses:
        if shift.change is None:
            raise CannotEdit(f"The phrase {use.name} is used by other voices too; change the whole song instead.")
        edits.append(_changed(reading.text, use, shift.change))
    if part.is_song:
        edits += _keys(reading, shift)
        if names_key or _depends_on_key(reading, scope.sites):
            edits += _missing_key(reading, shift)
    return verified(reading, edits, _semitones(shift) if part.is_song else None)


def _semitones(shift: Shift) -> int | None:
    """How far every note moves; None where that depends on the note."""
    if isinstance(shift, Octaves):
        return 12 * shift.octaves
    return shift.interval.semitones if isinstance(shift, WithKey) else None


# Signs


def _signs(reading: Reading, sites: Iterable[Site], shift: Shift) -> Iterator[TextEdit]:
    """Each item's signs rewritten; items that make no chord with a symbol are changed as the language can."""
    by_item: dict[int, list[Site]] = {}
    for site in sites:
        by_item.setdefault(site.item.start, []).append(site)
    wrapped = {group.body[0].start: group for group in _wrapped_chords(reading)}
    for start, together in by_item.items():
        if isinstance(shift, Diatonic) and start in wrapped:
            yield _rewrapped(reading, wrapped[start], together, shift)
            continue
        try:
            yield from _together(reading, together, shift)
        except NoSymbol:
            yield from _without_symbol(reading, together, shift)


def _together(reading: Reading, sites: list[Site], shift: Shift) -> list[TextEdit]:
    """The signs of one item rewritten. Where uses read them in different octaves they stay without one."""
    item = sites[0].item
    octaves = {place.octave for site in sites for place in site.places}
    for up in (0, 1, -1) if len(octaves) > 1 and len(sites) == len(item.word.signs) else ():
        inside = Composed(shift, Octaves(-up)) if up else shift
        texts = {tuple(_moved_text(reading, site.within(octave), inside) for site in sites) for octave in octaves}
        if len(texts) == 1:
            edits = [TextEdit(site.start, site.end, text) for site, text in zip(sites, texts.pop(), strict=True)]
            around = ((item.start, "("), (item.end, f"){_said(up, 'octave')}"))
            return [*edits, *(TextEdit(at, at, text) for at, text in around if up)]
    if len(octaves) == 1:
        sites = [site.within(*octaves) for site in sites]
    return [TextEdit(site.start, site.end, _moved_text(reading, site, shift)) for site in sites]


def _moved_text(reading: Reading, site: Site, shift: Shift) -> str:
    key = site.key
    song = reading.song
    naming = song.naming.in_key(shift.moved_key(song.key))
    return rewritten(site, lambda pitch: shift.moved(pitch, key), shift.moved_key(key), song.tuning, naming)


def _without_symbol(reading: Reading, sites: list[Site], shift: Shift) -> list[TextEdit]:
    """A word with a chord that has no symbol afterwards: moved as a group, or its pitches written out."""
    item = sites[0].item
    if shift.change is not None:
        return [TextEdit(item.start, item.end, f"({reading.text[item.start : item.end]}){_said(*shift.change)}")]
    edits = []
    for site in sites:
        what = site.sign.what
        if isinstance(what, ChordSign) and what.manner is not Manner.TOGETHER:
            raise CannotEdit(f"{site.text} makes no chord with a symbol there; please write its notes out first.")
        pitches = [shift.moved(pitch, site.key) for pitch in site.pitches(reading.song.tuning)]
        edits.append(TextEdit(site.start, site.end, "&".join(pitch.text for pitch in pitches)))
    return edits


def _wrapped_chords(reading: Reading) -> Iterator[Group]:
    """Groups of one chord symbol alone that is moved by steps."""
    for block in (*reading.sheet.voices, *reading.sheet.phrases.values()):
        for group in groups_in(block.body):
            last = group.changes[-1] if group.changes else None
            if isinstance(last, Move) and last.steps and len(group.body) == 1 and group.length is None:
                item = group.body[0]
                if isinstance(item, Item) and any(isinstance(sign.what, ChordSign) for sign in item.word.signs):
                    yield group


def _rewrapped(reading: Reading, group: Group, sites: list[Site], shift: Diatonic) -> TextEdit:
    """A group that moves one chord by steps, moved further; without the group where that brings the chord home."""
    edit = _changed(reading.text, group, shift.change)
    own = group.changes[-1]
    if edit.text.endswith(")") and isinstance(own, Move):
        try:
            for site in sites:
                _moved_text(reading, site, Diatonic(own.steps))
        except NoSymbol:
            return TextEdit(edit.start, edit.end, edit.text[1:-1])
    return edit


# What stands around them


def _octaves(reading: Reading, shift: Shift) -> tuple[list[TextEdit], Callable[[Site], bool]]:
    """Octave properties moved, where the shift is one of whole octaves and all of them can be; and which signs move
    with them."""
    if isinstance(shift, Octaves):
        octaves = shift.octaves
    elif isinstance(shift, WithKey) and shift.interval.letters * 12 == shift.interval.semitones * 7:
        octaves = shift.interval.letters // 7
    else:
        octaves = 0
    if not octaves:
        return [], _none
    sheet = reading.sheet
    every = (*sheet.voices, *sheet.phrases.values())
    blocks = [block.properties for block in every if not all(place.drums for place in reading.places[id(block)])]
    written = [each for properties in (sheet.properties, *blocks) for each in properties if each.name == "octave"]
    values = [each.value.removeprefix("-") for each in written]
    if not all(value.isascii() and value.isdigit() for value in values):
        return [], _none
    if not all(-1 <= int(each.value) + octaves <= 9 for each in written):
        return [], _none
    edits = [TextEdit(each.value_start, each.value_end, str(int(each.value) + octaves)) for each in written]
    mixed = any(site.is_bare and len({place.given for place in site.places}) > 1 for site in reading.sites)
    if mixed and -1 <= DEFAULT_OCTAVE + octaves <= 9:  # so that all that is read in several octaves follows
        return edits + set_property(reading, "octave", str(DEFAULT_OCTAVE + octaves)), lambda site: site.is_bare
    return edits, (lambda site: site.follows_octave) if edits else _none


def _none(site: Site) -> bool:
    return False


def _changed(text: str, node: Use | Group, change: tuple[int, str]) -> TextEdit:
    """A use or group moved further: its last change if it is of the kind, or one more."""
    count, unit = change
    end = node.end
    last = node.changes[-1] if node.changes else None
    if isinstance(last, Move) and node.spans[-1][1] == end:
        own = {"": last.semitones, "step": last.steps, "octave": last.octaves}
        if own[unit] or not any(own.values()):
            count += own[unit]
            end = node.start + len(text[node.start : node.spans[-1][0]].rstrip())
    return TextEdit(node.start, node.end, text[node.start : end] + (_said(count, unit) if count else ""))


def _said(count: int, unit: str) -> str:
    """`` up 2 steps``, as the language has it."""
    way = "up" if count > 0 else "down"
    return f" {way} {abs(count)}" + (f" {unit}{'s' * (abs(count) > 1)}" if unit else "")


def _keys(reading: Reading, shift: Shift) -> list[TextEdit]:
    """The key property, and the directions."""
    sheet = reading.sheet
    edits = [
        edit for block in (*sheet.voices, *sheet.phrases.values()) for edit in _directions(reading, block.body, shift)
    ]
    for each in sheet.properties:
        if each.name != "key":
            continue
        try:
            key = read_key(each.value)
        except KeyNameError:
            continue
        edits.append(TextEdit(each.value_start, each.value_end, _key_text(each.value, key, shift.moved_key(key))))
    return edits


def _missing_key(reading: Reading, shift: Shift) -> list[TextEdit]:
    """The key of a sheet that names none, where it is no longer C major."""
    old = reading.song.key
    new = shift.moved_key(reading.song.key)
    if new == old or any(each.name == "key" for each in reading.sheet.properties):
        return []
    return set_property(reading, "key", new.text)


def _directions(reading: Reading, body: tuple[Node, ...], shift: Shift) -> Iterator[TextEdit]:
    for node in body:
        if isinstance(node, Group):
            yield from _directions(reading, node.body, shift)
        elif isinstance(node, Direction) and isinstance(node.what, ChangeKey):
            inside = reading.text[node.start + 1 : node.end - 1]
            written = inside.split(maxsplit=1)[1].rstrip()  # after the word key
            start = node.start + 1 + inside.index(written, len("key"))
            text = _key_text(written, node.what.key, shift.moved_key(node.what.key))
            yield TextEdit(start, start + len(written), text)


def _key_text(written: str, old: Key, new: Key) -> str:
    """A key as its writer would have it: the tonic alone is replaced where that says it all."""
    if new == old:
        return written
    tonic, *_ = written.split(maxsplit=1)
    minor = "m" if tonic.endswith("m") else ""
    name = new.tonic.text if tonic[0].isupper() else new.tonic.text[0].lower() + new.tonic.text[1:]
    text = name + minor + written[len(tonic) :]
    try:
        if read_key(text) == new:
            return text
    except KeyNameError:
        pass
    return name + new.text[len(new.tonic.text) :]


def _depends_on_key(reading: Reading, sites: Iterable[Site]) -> bool:
    """Return whether something in the sheet means another pitch in another key."""
    steps = reading.song.naming.moves or any(isinstance(site.sign.what, Step) for site in sites)
    return steps or _moves_by_steps(reading)


def _moves_by_steps(reading: Reading) -> bool:
    """Return whether music in the sheet is moved or mirrored by steps of the key."""
    sheet = reading.sheet
    bodies = [block.body for block in (*sheet.voices, *sheet.phrases.values())]
    changes = [change for body in bodies for group in groups_in(body) for change in group.changes]
    changes += [change for body in bodies for use in uses_in(body) for change in use.changes]
    return any(
        isinstance(change, UpsideDown | OnSteps) or (isinstance(change, Move) and change.steps) for change in changes
    )


def _refuse_other_steps(reading: Reading, shift: Shift) -> None:
    """Raise CannotEdit where music is moved by steps, and these would be others in the scale that it goes into."""
    key = reading.song.key
    new = shift.moved_key(key)
    if len(new.names) != len(key.names) and _moves_by_steps(reading):
        raise CannotEdit(
            f"{key.pretty} has {len(key.names)} steps and {new.pretty} has {len(new.names)}, and music here is moved "
            "or mirrored by steps; please write that out first."
        )

"""What is drawn on staves of any song: nothing lies over anything else, and places are those of the notation."""

from __future__ import annotations

from itertools import pairwise

from hypothesis import given

from chickadee import read
from chickadee.engraving import Engraver, Part, Sign, Words, box_of, engrave, outline
from chickadee.engraving.outlines import Box, outline_names
from chickadee.engraving.spacing import positions
from chickadee.handout.staff_score import HeadLabels, staff_engraver
from chickadee.handout.staff_shapes import measure_at
from chickadee.notation import VoiceNotation
from songs import songs

MEASURE = measure_at(1.9)
SOLID = {"head", "accidental", "flag", "rest", "dot", "meter", "clef", "signature"}


def overlapping(marks):
    """Pairs of signs, and of words, that lie over one another by more than a hair."""
    signs = [mark for mark in marks if isinstance(mark, Sign) and mark.part in SOLID]
    words = [mark for mark in marks if isinstance(mark, Words)]
    return [pair for kind in (signs, words) for pair in _pairs(kind)]


def _pairs(marks):
    boxes = sorted(((_smaller(box_of(mark, MEASURE)), mark) for mark in marks), key=lambda each: each[0].left)
    found = []
    for place, (box, mark) in enumerate(boxes):
        for other_box, other in boxes[place + 1 :]:
            if other_box.left >= box.right:
                break
            if box.meets(other_box) and not _unison(mark, other):
                found.append((mark, other))
    return found


def _smaller(box):
    """A box without its rim, which outlines touch but for at a point: a sharp's corners are empty."""
    x = (box.right - box.left) * 0.12
    y = (box.bottom - box.top) * 0.12
    return Box(box.left + x, box.top + y, box.right - x, box.bottom - y)


def _unison(one, other):
    """Return whether two heads are one to the eye: the same pitch in two lines."""
    notes = getattr(one, "note", None), getattr(other, "note", None)
    return None not in notes and notes[0].pitch == notes[1].pitch and abs(one.y - other.y) < 0.01


def systems_of(song, labels=HeadLabels.NONE):
    voices = [place for place, notes in enumerate(song.by_voice) if len(notes)]
    if not voices:
        return
    engraver = staff_engraver(song, voices, labels)
    for width in (95.0, 400.0):
        for bars in engraver.systems(width) or ():
            yield engraver, engrave(engraver, bars, width), width


@given(songs())
def test_nothing_lies_over_anything_else(song):
    for _, system, _ in systems_of(song, HeadLabels.BOTH):
        assert not overlapping(system.marks)


@given(songs())
def test_systems_hold_every_bar_once_fill_their_width_and_stay_in_their_height(song):
    seen: dict[float, list[int]] = {}
    for engraver, system, width in systems_of(song):
        seen.setdefault(width, []).extend(system.bars)
        boxes = [box_of(mark, MEASURE) for mark in system.marks if not isinstance(mark, Words)]
        right = max(box.right for box in boxes)
        assert right <= width + 0.5
        if system.bars.stop != engraver.bars.stop:
            assert right >= width - 1
        assert min(box.top for box in boxes) >= -0.3 and max(box.bottom for box in boxes) <= system.height + 0.3
    for bars in seen.values():
        assert bars == list(range(len(bars)))


@given(songs())
def test_heads_are_drawn_at_the_places_of_their_notes(song):
    for engraver, system, _ in systems_of(song):
        tops = list(system.staff_tops)
        heads = {}
        for mark in system.marks:
            if isinstance(mark, Sign) and mark.note is not None:
                heads.setdefault(id(mark.note), []).append(mark)
        for part in engraver.parts:
            mine = [tops.pop(0) for _ in part.notation.clefs]
            for place in system.bars:
                for line in part.notation.bar(place).lines:
                    for head in (head for item in line.items for head in item.heads):
                        y = mine[line.staff] + 4 - head.place / 2
                        assert any(abs(mark.y - y) < 1e-6 for mark in heads[id(head.note)])


def test_space_grows_with_length_but_not_in_proportion():
    notation = VoiceNotation(read("C4=2 D4 E4=1/2 F4=1/2").song, 0)
    engraver = Engraver([Part(notation)], MEASURE, range(1))
    xs = positions(engraver.columns(range(1)))
    half, quarter, eighth = (b - a for a, b in pairwise(xs[1:5]))
    assert half > quarter > eighth and half < 2 * quarter and quarter < 2 * eighth


def test_every_sign_has_an_outline_that_begins_at_its_left_edge():
    for name in outline_names():
        box = outline(name).box
        assert box.right > box.left and box.bottom > box.top
        assert abs(box.left) < 0.02, name

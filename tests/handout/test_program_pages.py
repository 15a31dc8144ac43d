"""Pages of programs: a puzzle names every right order, gaps and cells give nothing away."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from itertools import permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.handout.pages import class_set, pages_of
from chickadee.handout.program_gaps import blanks_in
from chickadee.handout.program_puzzle import dealt
from chickadee.handout.request import Gaps, HandoutFault, Request, read_gaps
from chickadee.handout.shapes import Box, Line, Text
from chickadee.program_sheets import program_sheet
from chickadee.programs.reading import sounded
from chickadee.programs.writing.catalogue import shipped
from chickadee.programs.writing.dialect import Level
from chickadee.programs.writing.plan import Call, Part, Plan, Step, with_repeats
from chickadee.programs.writing.puzzle import IndentedStrip, right_orders, strips_of
from chickadee.sheet import read

TUNE = read(
    "title: Reeds\ntempo: 90\n\nphrase call\n  C4 E4=2\n\nvoice Pipe\n  call (D4 F4=1/2 F4=1/2) x2 call G4 G4 G4\n"
)
SONG = TUNE.song


def sheet_of(level=Level.PARTS, language="steps"):
    return program_sheet(TUNE, [0], shipped()[language], level)


def words_on(pages):
    return [shape.text for page in pages for shape in page.shapes if isinstance(shape, Text)]


def sounds(text, language="steps"):
    found = sounded(text, language, exact=True)
    assert found.fault is None, (text, found.fault)
    return [(event.start, event.length, [pitch.number for pitch in event.pitches]) for event in found.timed.events]


def is_right(order, keys):
    """Return whether strips that are laid out do the instructions in order; a part stands before its calls."""
    done = _done(order, 0, 0, {}, len(keys))
    return done is not None and done[0] == list(keys)


def _done(order, place, depth, parts, most):
    """What strips of a depth do from a place on, and where they end; None where that makes no sense."""
    found = []
    while place < len(order) and order[place].depth >= depth:
        strip, own = order[place]
        if own > depth:
            return None
        place += 1
        if strip.kind == "step":
            found.append(strip.key)
        elif strip.kind == "call":
            if strip.key not in parts:
                return None
            found += parts[strip.key]
        else:
            inside = _done(order, place, depth + 1, parts, most)
            if inside is None or not inside[0]:
                return None
            body, place = inside
            if strip.kind == "part":
                if depth or strip.key in parts:
                    return None
                parts[strip.key] = body
            else:
                found += body * strip.key
        if len(found) > most:
            return None
    return found, place


def brute_orders(laid, keys):
    """Every order of some strips at every depth that does the instructions."""
    found = set()

    def lay(left, done):
        if not left:
            found.update([tuple(done)] if is_right(done, keys) else [])
            return
        opens = bool(done) and done[-1].strip.kind in ("repeat", "part")
        for depth in range(done[-1].depth + opens + 1 if done else 1):
            lay(left[1:], [*done, IndentedStrip(left[0], depth)])

    for order in set(permutations([each.strip for each in laid])):
        lay(list(order), [])
    return found


@settings(max_examples=30)
@given(st.text("ab", min_size=1, max_size=5), st.integers(1, 3), st.integers(0, 2))
def test_the_right_orders_are_all_there_are(motif, turns, extra):
    keys = [ord(each) for each in motif[:3] * turns + motif[-1] * extra]
    laid = strips_of(with_repeats(keys), keys)
    if len(laid) <= 6:
        found, are_all = right_orders(laid, keys)
        assert are_all and len(found) == len(set(found)) and set(found) == brute_orders(laid, keys)


def test_the_right_orders_of_parts_are_all_there_are():
    keys = [1, 2, 3, 1, 2]
    laid = strips_of(Plan((Call(0), Step(2), Call(0)), (Part("p", (Step(0), Step(1))),)), keys)
    assert [each.depth for each in laid] == [0, 1, 1, 0, 0, 0]
    found, are_all = right_orders(laid, keys)
    before_main = {order for order in brute_orders(laid, keys) if order[0].strip.kind == "part"}
    assert are_all and set(found) == before_main == {laid}


@pytest.mark.parametrize("level", [Level.LINE, Level.REPEATS, Level.PARTS])
def test_every_order_that_the_answers_name_sounds_the_tune(level):
    sheet = sheet_of(level)
    beat = SONG.meter.beat_ticks
    tune = [(Fraction(each.start, beat), Fraction(each.length, beat), [each.number]) for each in SONG.notes]
    for order in sheet.orders:
        lines = ["  " * depth + sheet.strips[place] for place, depth in zip(order.places, order.depths, strict=True)]
        assert sounds("\n".join(lines) + "\n") == tune


def test_a_puzzle_with_another_right_order_names_it():
    tune = read("voice V\n  C4 E4 C4 E4 C4\n")
    sheet = program_sheet(tune, [0], shipped()["steps"], Level.REPEATS)
    assert len(sheet.orders) == 2
    answers = words_on(pages_of("puzzle", tune.song, Request(program=sheet, answers=True)))
    assert "Right too, with what lies further in between brackets (1):" in answers
    assert answers[-1].count("(") == answers[-1].count(")") == 1


@pytest.mark.parametrize("seed", [None, 3, 4])
def test_the_strips_lie_in_no_right_order_and_carry_no_indents(seed):
    sheet = sheet_of()
    request = Request(program=sheet, gaps=Gaps(seed=seed), false_steps=2)
    places = dealt(sheet, request)
    assert sorted(place for place in places if place < len(sheet.strips)) == list(range(len(sheet.strips)))
    assert len(places) == len(sheet.strips) + 2
    pages = pages_of("puzzle", SONG, request)
    strips = [shape for shape in pages[0].shapes if isinstance(shape, Text) and shape.text in sheet.strips]
    assert len({round(shape.left, 3) for shape in strips}) <= 2  # two columns, whatever their depth
    dashed = [shape for shape in pages[0].shapes if isinstance(shape, Line) and shape.dashed]
    assert len(dashed) == 4 * len(places)
    answers = words_on(pages_of("puzzle", SONG, replace(request, answers=True)))
    assert any(text.startswith("Left over: ") for text in answers)
    for text in sheet.false_strips:
        assert text not in sheet.strips


def test_false_strips_are_never_steps_of_the_tune_and_lists_make_no_puzzle():
    with pytest.raises(HandoutFault, match="A puzzle is made of steps"):
        pages_of("puzzle", SONG, Request(program=sheet_of(Level.DATA)))


@pytest.mark.parametrize("language", shipped())
@pytest.mark.parametrize("empty", ["pitches", "lengths", "counts", "every-2"])
def test_what_is_left_out_is_nowhere_on_the_page_and_all_in_the_answers(empty, language):
    sheet = sheet_of(Level.REPEATS, language)
    request = Request(program=sheet, gaps=read_gaps(empty))
    blanks = blanks_in(sheet, request.gaps)
    kept, answers = (pages_of("gaps", SONG, each) for each in (request, replace(request, answers=True)))
    boxes = [shape for shape in kept[0].shapes if isinstance(shape, Box) and shape.edge == 0.5]
    assert len(boxes) == len(blanks) and len({round(box.width, 6) for box in boxes}) == 1
    hidden = sorted(sheet.lines[place].pieces[number].text for place, number in blanks)
    filled = sorted(shape.text for page in answers for shape in page.shapes if isinstance(shape, Text) and shape.bold)
    assert not set(hidden) - set(filled)
    if empty == "counts":
        assert not any("×" in text for text in words_on(kept)) and any("×" in text for text in words_on(answers))


def test_a_trace_table_gives_the_first_row_and_the_answers_all():
    sheet = sheet_of(Level.DATA, "python")
    request = Request(program=sheet)
    blank = words_on(pages_of("trace", SONG, request))
    full = words_on(pages_of("trace", SONG, replace(request, answers=True)))
    cells = 5 * len(sheet.trace)
    assert {"Line", "Turn", "Item", "Pitch", "Start"} <= set(blank)
    assert len(full) - len(blank) == cells - 5 + 1  # and the word Answers
    assert [row.start for row in sheet.trace[:3]] == ["0", "1", "3"]


@pytest.mark.parametrize("kind", ["puzzle", "gaps", "trace"])
def test_each_pupil_has_another_sheet(kind):
    request = Request(program=sheet_of(Level.REPEATS))
    sets = class_set(SONG, request, 8, 5, kind)
    seen = {tuple((shape.left, shape.top, getattr(shape, "text", "")) for page in pages for shape in page.shapes
                  if not getattr(shape, "text", "").isalnum() or len(getattr(shape, "text", "")) != 7)
            for pages in sets}  # fmt: skip
    assert len(seen) >= 7

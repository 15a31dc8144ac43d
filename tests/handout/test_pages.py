"""Pages without a window: nothing overlaps or leaves the margins, and nothing is given away."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.songs import songs

from chickadee.handout.bars import bars_of
from chickadee.handout.cards import OCTAVE_MILLIMETRES
from chickadee.handout.codes import code_of, pupil_seed, seed_of
from chickadee.handout.metrics import text_width
from chickadee.handout.pages import OF_PROGRAMS, PAGES, class_set, pages_of
from chickadee.handout.request import EMPTY, Gaps, HandoutFault, Request, read_gaps
from chickadee.handout.shapes import Align, Filled, Line, Paper, Text
from chickadee.handout.staff_score import HeadLabels
from chickadee.handout.staff_tasks import StaffTask
from chickadee.handout.worksheet import gaps_in
from chickadee.program_sheets import program_sheet
from chickadee.programs.writing.catalogue import shipped
from chickadee.programs.writing.dialect import Level
from chickadee.sheet import read
from chickadee.sheet.properties import own_keys
from chickadee.sheet.writing import write_song

TUNE = """title: Gull Point
meter: 3/4
key: G major
voice Whistle
G4 B4 A4 | E4=2 D4 | G4 A4 C5 | B4=3 | A4 C5 B4 | G4=2 E4 | D4=1/2 E4=1/2 G4 F#4 | G4=3 |
words: come a- shore now to the land- ing where the buoys ring low and the lamps
voice Buoys
{G 3}=3 | {C 3}=3 | {D 3}=3 | {G 3}=3 | {G 3}=3 | {C 3}=3 | {D 3}=3 | {G 3}=3 |
"""
SONG = read(TUNE).song
PAPERS = [Paper.of(name, across) for name in ("A4", "Letter") for across in (False, True)]


def sheet_of(reading, level=Level.PARTS):
    """The program of all voices, for pages."""
    return program_sheet(reading, range(len(reading.song.voices)), shipped()["steps"], level)


def extent(text):
    """The left and right edge of what is written, and the top and bottom of its letters."""
    width = min(text.width, text_width(text.text, text.size, text.bold))
    left = {Align.LEFT: text.left, Align.MIDDLE: text.left + (text.width - width) / 2,
            Align.RIGHT: text.left + text.width - width}[text.align]  # fmt: skip
    middle = text.top + text.height / 2
    half = text.size * 0.13
    return left, middle - half, left + width, middle + half


def edges(shape):
    """The left, upper, right and lower edge of a shape."""
    if isinstance(shape, Line):
        return shape.left, min(shape.top, shape.bottom), shape.right, max(shape.top, shape.bottom)
    if isinstance(shape, Filled):
        xs = [number for _, numbers in shape.steps for number in numbers[::2]]
        ys = [number for _, numbers in shape.steps for number in numbers[1::2]]
        return min(xs), min(ys), max(xs), max(ys)
    return shape.left, shape.top, shape.left + shape.width, shape.top + shape.height


def checked(page):
    paper = page.paper
    texts = [shape for shape in page.shapes if isinstance(shape, Text) and shape.text]
    for shape in page.shapes:
        left, top, right, bottom = edges(shape)
        assert paper.margin - 0.01 <= left and right <= paper.width - paper.margin + 0.01
        assert paper.margin - 0.01 <= top and bottom <= paper.height - paper.margin + 0.01
    boxes = sorted(map(extent, texts), key=lambda box: box[1])
    for place, (left, _, right, bottom) in enumerate(boxes):
        for other in boxes[place + 1 :]:
            if other[1] >= bottom:
                break
            assert other[0] >= right - 0.05 or other[2] <= left + 0.05, "words overlap"
    widths = [0.6 * text_width(text.text, text.size, text.bold) for text in texts]  # letters may be drawn narrower
    assert all(text.size >= 8 and wide <= text.width + 0.01 for text, wide in zip(texts, widths, strict=True))


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize("kind", PAGES)
def test_the_page_of_each_kind_is_well_set_on_each_paper(kind, paper):
    program = sheet_of(read(TUNE)) if kind in OF_PROGRAMS else None
    pages = pages_of(kind, SONG, Request(paper, group="Class of the ferry", code="ABC234", program=program))
    assert pages
    for page in pages:
        checked(page)
    numbered = [text.text for page in pages for text in page.shapes if isinstance(text, Text) and " / " in text.text
                and text.text.replace(" / ", "").isdigit()]  # fmt: skip
    assert len(numbered) == (len(pages) if len(pages) > 1 else 0)


@settings(max_examples=25)
@given(songs(), st.sampled_from(sorted(PAGES)), st.sampled_from(PAPERS), st.sampled_from(EMPTY), st.booleans())
def test_nothing_overlaps_or_leaves_the_margins_whatever_the_song(song, kind, paper, empty, answers):
    task = list(StaffTask)[len(song.notes) % len(StaffTask)].value
    labels = list(HeadLabels)[len(song.notes) % len(HeadLabels)].value
    gaps = read_gaps(empty, seed=len(song.notes) or None)
    request = Request(paper, gaps=gaps, answers=answers, false_steps=3, task=task, labels=labels)
    if kind in OF_PROGRAMS:
        reading = read(write_song(song))
        request = replace(request, program=sheet_of(reading, list(Level)[len(song.notes) % 3]))
    try:
        pages = pages_of(kind, song, request)
    except HandoutFault as fault:
        known = ("nothing of the kind", "Drums have no pitches", "two bars or more")
        assert not song.notes or empty == "bars" or any(each in str(fault) for each in known), str(fault)
        return
    for page in pages[:3]:
        checked(page)


def words_on(pages):
    return [shape.text for page in pages for shape in page.shapes if isinstance(shape, Text)]


@pytest.mark.parametrize(("empty", "hidden"), [("numbers", "number"), ("names", "name"), ("beats", "beats")])
def test_what_is_left_empty_is_nowhere_on_the_page_and_all_in_the_answers(empty, hidden):
    request = Request(gaps=read_gaps(empty))
    cells = [cell for bar in bars_of(SONG, 0) for cell in bar.cells]
    values = [getattr(cell, hidden) for cell in cells]
    sheet, answers = (
        words_on(pages_of("worksheet", SONG, each)) for each in (request, replace(request, answers=True))
    )
    bars = {"1", "2", "3"}  # numbers of bars, which are no lengths
    assert not (set(values) - bars) & set(sheet)
    assert sorted(value for value in answers if value in set(values) - bars) == sorted(
        v for v in values if v not in bars
    )


def test_gaps_by_count_hide_name_and_number_together_and_missing_bars_do_not_show_how_many_notes_they_have():
    bars = bars_of(SONG, 0)
    gaps = gaps_in(bars, Gaps("every", 3))
    assert {row for row, _ in gaps} == {"Name", "Number"} and len(gaps) == 2 * (19 // 3)
    assert sorted(index for row, index in gaps if row == "Name") == [2, 5, 8, 11, 14, 17]
    sheet = pages_of("worksheet", SONG, Request(gaps=Gaps("bars")))
    boxes = [shape for page in sheet for shape in page.shapes if getattr(shape, "edge", 0) == 0.6]
    assert len(boxes) == 4 * 3  # every second bar: one box in each row


def test_each_pupil_has_gaps_of_her_own_and_the_code_gives_them_back():
    sets = class_set(SONG, Request(), 30, seed=5)
    seen = [
        tuple(shape for page in pages for shape in page.shapes if getattr(shape, "edge", 0) == 0.6) for pages in sets
    ]
    assert len(set(seen)) > 25
    assert sets == class_set(SONG, Request(), 30, seed=5) and sets != class_set(SONG, Request(), 30, seed=6)
    for pupil in (1, 30):
        code = code_of(5, pupil)
        assert seed_of(code) == pupil_seed(5, pupil) and code in words_on(sets[pupil - 1])
    assert code_of(7, 1) == "DY2NTSH"  # the same on every machine


def test_strips_have_the_size_of_a_real_keyboard_s_keys():
    page = pages_of("keys", SONG, Request())[0]
    cut = [shape for shape in page.shapes if isinstance(shape, Line) and shape.dashed]
    assert cut and all(line.right - line.left == pytest.approx(OCTAVE_MILLIMETRES) for line in cut)


def test_the_key_card_shows_every_set_of_own_keys():
    reading = read("keys: left {C}, 1 snare, space C5\nkeys evening: left {Dm}\nvoice V\n  C4 |\n")
    pages = pages_of("keys", reading.song, Request(key_sets=own_keys(reading.sheet.settings)))
    found = words_on(pages)
    for word in ("Keys of the tune’s own", "The set of keys evening", "left", "C", "snare", "space", "Dm"):
        assert word in found
    many = tuple(("", tuple((letter, "C4") for letter in "abcdefghijklmnopqrstuvwxyz")) for _ in range(12))
    assert len(pages_of("keys", reading.song, Request(key_sets=many))) > 1
    assert "left" not in words_on(pages_of("keys", reading.song, Request()))


FULL = read(
    "meter: 4/4\nvoice Tune\n" + "C#4=1/2 D#4=1/2 F#4=1/2 G#4=1/2 A#4=1/2 C#5=1/2 D#5=1/2 F#5=1/2 | " * 6
    + "\nwords: " + "through thoughts straight strengths breathed scratched schooled stretched " * 6
    + "\nvoice Chords\n" + "{C#m7 3} {F#maj7 3} {B7 3} {Em 3} | " * 6
    + "\nvoice Beat\n  sound: drum kit\n" + "(kick&hat snare&hat)=2 kick&closed snare&crash | ".replace("closed", "hat").replace("crash", "hat") * 6
).song  # fmt: skip


@pytest.mark.parametrize("voice", [0, 1, 2])
@pytest.mark.parametrize("kind", ["tune", "worksheet", "song", "strip"])
def test_what_is_long_gets_room_and_nothing_is_cut_short(kind, voice):
    found = words_on(pages_of(kind, FULL, Request(voice=voice, answers=True, gaps=Gaps("names"))))
    assert not [text for text in found if "…" in text]
    sung = " ".join(found)
    assert sung.count("straight") == (6 if kind in ("tune", "song") and not voice else 0)


def test_the_strip_has_a_box_for_each_note_in_order_with_beats_number_and_name():
    found = words_on(pages_of("strip", read("meter: 4/4\nC4 rest=2 F#4=1/2 G4=1/2 |").song, Request(title="")))
    boxes = [text for text in found if text and text not in ("Name", "Date")]
    assert boxes == ["1", "60", "C4", "2", "–", "½", "66", "F♯4", "½", "67", "G4"]


def test_drums_struck_together_are_no_chord_of_the_song_chart():
    song = read("meter: 2/4\nvoice Tune\nC4 E4 |\nvoice Beat\n  sound: drum kit\n  36&40&43=2 |").song
    assert {"C4 E4", "1"} <= set(words_on(pages_of("song", song, Request()))) and len(
        words_on(pages_of("song", song, Request()))
    ) == 5


def bars_in_first_line(kind, wished, song=SONG):
    """How many numbers of bars stand as high as the first."""
    numbers = [each for each in pages_of(kind, song, Request(bars_in_line=wished))[0].shapes
               if isinstance(each, Text) and each.text.isdigit() and each.size == 8 and (each.bold or each.grey)]  # fmt: skip
    return sum(each.top == numbers[0].top for each in numbers)


@pytest.mark.parametrize("kind", ["tune", "worksheet", "song"])
def test_the_teacher_says_how_many_bars_stand_in_a_line_and_they_are_fewer_where_they_need_room(kind):
    assert [bars_in_first_line(kind, wished) for wished in (1, 2, 3)] == [1, 2, 3]
    assert bars_in_first_line(kind, 16) < 16
    assert bars_in_first_line(kind, 16, FULL) < 4


def test_the_song_chart_has_chords_and_words_and_a_rule_that_is_none_is_refused():
    found = words_on(pages_of("song", SONG, Request()))
    assert found.count("G") == 4 and "come a-shore" in " ".join(found)
    with pytest.raises(HandoutFault):
        read_gaps("every-1")

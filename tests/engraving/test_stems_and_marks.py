"""Stems, beams, ties, marks and signatures: each where the trade's rules have it."""

from __future__ import annotations

import pytest
from hypothesis import given

from chickadee import read
from chickadee.engraving import Blot, PlacedItem, Rule, Sign, box_of, lay_out_bar, line_marks, outline
from chickadee.engraving.prefix import clef_marks, meter_marks, signature_marks
from chickadee.engraving.stems import beam_runs, stem_marks, stem_x
from chickadee.handout.staff_shapes import measure_at
from chickadee.notation import CLEFS, Beam, Stem, VoiceNotation
from chickadee.song import Meter
from chickadee.theory import read_key
from songs import songs

MEASURE = measure_at(1.9)


def placed_lines(song, gap=4.0):
    """The items of each line of each bar, so many staff spaces apart."""
    for voice in range(len(song.voices)):
        for bar in VoiceNotation(song, voice).all_bars():
            lines = {}
            for each in lay_out_bar(bar):
                row = lines.setdefault(each.line, [])
                x = gap * len(row) + each.offset
                row.append(PlacedItem(each.item, each.layout, x, 0.0, each.line, bar.start, each.shared))
            yield from lines.values()


def drawn(text, gap=4.0):
    """All marks of the first bar's first line."""
    song = read(text).song
    placed = next(placed_lines(song, gap))
    return placed, list(line_marks(placed, frozenset(), 0.0, 99.0, {}))


def of_part(marks, part):
    return [mark for mark in marks if getattr(mark, "part", "") == part]


@given(songs())
def test_a_stem_goes_from_its_farthest_head_past_its_nearest_and_is_long_enough(song):
    for placed in placed_lines(song):
        marks, ends = stem_marks(placed)
        stems = {round(rule.left, 6): rule for rule in of_part(marks, "stem")}
        assert set(ends) == {place for place, each in enumerate(placed) if each.item.stem is not None}
        for place, end in ends.items():
            each = placed[place]
            ys = [head.y for head in each.layout.heads]
            up = each.item.stem is Stem.UP
            length = min(ys) - end if up else end - max(ys)
            assert length >= 2.5 - 1e-6
            rule = stems[round(stem_x(each), 6)]
            assert (rule.top, rule.bottom) == (max(ys) if up else min(ys), end)
            assert rule.left == pytest.approx(each.x + (each.layout.width - 0.06 if up else 0.06))
            far = min(ys) > 5.5 if up else max(ys) < -1.5  # beyond two ledger lines: it comes to the middle line
            assert each.item.beams or not far or (end <= 2 + 1e-6 if up else end >= 2 - 1e-6)


@given(songs())
def test_stems_of_a_run_end_on_one_straight_beam_that_leans_little(song):
    for placed in placed_lines(song):
        marks, ends = stem_marks(placed)
        by_identity = {id(each): place for place, each in enumerate(placed)}
        beams = [[numbers for _, numbers in blot.steps if numbers] for blot in of_part(marks, "beam")]
        expected = 0
        for run in beam_runs(placed):
            xs = [stem_x(each) for each in run]
            ys = [ends[by_identity[id(each)]] for each in run]
            slope = (ys[-1] - ys[0]) / (xs[-1] - xs[0])
            assert abs(ys[-1] - ys[0]) <= 1 + 1e-6 and abs(slope) <= 0.4 + 1e-6
            assert all(abs(ys[0] + slope * (x - xs[0]) - y) < 1e-6 for x, y in zip(xs, ys, strict=True))
            inward = 1 if run[0].item.stem is Stem.UP else -1
            mine = [points for points in beams if all(xs[0] - 0.1 <= x <= xs[-1] + 0.1 for x, _ in points)]
            for (left, top), (right, _), (_, low), _ in mine:
                assert left < right and abs(abs(low - (top + slope * (right - left))) - 0.5) < 1e-6
                level = (top - (ys[0] + slope * (left - xs[0]))) * inward / 0.75
                assert level == pytest.approx(round(level), abs=1e-6) and 0 <= round(level) < 4
            kinds = [beam for each in run for beam in each.item.beams]
            expected += sum(kind in (Beam.BEGIN, Beam.FORWARD_HOOK, Beam.BACKWARD_HOOK) for kind in kinds)
        assert len(beams) == expected


def test_hooks_point_into_their_run():
    placed, marks = drawn("C5=3/4 D5=1/4 E5=1/4 F5=3/4 G5=2")
    xs = [stem_x(each) for each in placed]
    hooks = [[x for _, numbers in blot.steps for x in numbers[::2]] for blot in of_part(marks, "beam")]
    short = [points for points in hooks if max(points) - min(points) < 2]
    assert len(short) == 2
    assert min(short[0]) < xs[1] - 0.5 < max(short[0]) <= xs[1] + 0.1
    assert xs[2] - 0.1 <= min(short[1]) and max(short[1]) > xs[2] + 0.5


def test_ties_join_heads_of_one_pitch_and_curve_away_from_the_stem():
    placed, marks = drawn("C4 D4=2 A5 |")
    (tie,) = of_part(marks, "tie")
    box = box_of(tie, MEASURE)
    first, second = placed[1], placed[2]
    assert first.x + 1 < box.left < first.x + 1.6 and second.x - 0.5 < box.right <= second.x
    assert box.top > first.layout.heads[0].y  # the stem goes up
    _, marks = drawn("F5=3/2 A5=3/2 F5=1 |")
    assert all(box_of(tie, MEASURE).bottom < 0.5 for tie in of_part(marks, "tie"))


def test_accents_and_dots_stand_at_their_notes_alone():
    song = read("C4 >D4 'E4 F4").song
    placed = next(placed_lines(song))
    accented = frozenset({song.notes[1].start})
    marks = of_part(list(line_marks(placed, accented, None, 99.0, {})), "articulation")
    assert [(mark.name, round(mark.x / 4)) for mark in marks] == [("accent", 1), ("dot", 2)]
    assert all(mark.y > 4 for mark in marks)  # under the heads, whose stems go up


def test_tuplets_have_their_number_in_the_middle_and_a_bracket_where_no_beam_joins_them():
    placed, marks = drawn("(C5 D5 E5)=1 C5 C5 C5")
    (figure,) = of_part(marks, "figure")
    assert figure.name == "figure-3" and placed[0].x < figure.x < placed[2].x + 1.2
    assert not [mark for mark in of_part(marks, "tuplet") if isinstance(mark, Rule)]
    placed, marks = drawn("(C4 rest E4)=1 C4 C4 C4")
    rules = of_part(marks, "tuplet")
    assert len(rules) == 4 and all(max(rule.top, rule.bottom) <= 0 for rule in rules)
    assert min(rule.left for rule in rules) < placed[0].x and max(rule.right for rule in rules) > placed[2].x
    (figure,) = of_part(marks, "figure")
    inner = sorted(rule.right for rule in rules if rule.top == rule.bottom)
    assert inner[0] < figure.x < inner[1]


def test_seconds_stand_on_both_sides_of_the_stem_and_accidentals_in_columns():
    placed, _ = drawn("C4&D4&E4=4")
    heads = sorted(placed[0].layout.heads, key=lambda head: -head.y)
    assert [head.x > 0 for head in heads] == [False, True, False]
    placed, _ = drawn("C#5&E#5&G#5=2 C4=2")
    signs = of_part(placed[0].layout.marks, "accidental")
    assert len(signs) == 3 and all(sign.box.right < 0 for sign in signs)
    assert len({round(sign.x, 3) for sign in signs}) > 1


@pytest.mark.parametrize(
    ("key", "clef", "places"),
    [
        ("D major", "treble", [8, 5]),
        ("Eb major", "treble", [4, 7, 3]),
        ("D major", "bass", [6, 3]),
        ("F major", "alto", [3]),
        ("C dorian", "treble", [4, 7]),
        ("D major", "percussion", []),
    ],
)
def test_signatures_stand_in_their_places(key, clef, places):
    marks = list(signature_marks(read_key(key), CLEFS[clef], 0, 0))
    assert [round((4 - mark.y) * 2) for mark in marks] == places
    assert [mark.x for mark in marks] == sorted(mark.x for mark in marks)


def test_another_signature_takes_back_what_it_does_not_have():
    marks = list(signature_marks(read_key("F major"), CLEFS["treble"], 0, 0, read_key("D major")))
    assert [mark.name for mark in marks] == ["natural", "natural", "flat"]
    assert not list(signature_marks(read_key("A minor"), CLEFS["treble"], 0, 0))


def test_clefs_and_meters_stand_on_their_lines():
    for clef in CLEFS.values():
        sign, *eight = clef_marks(clef, 1, 3)
        assert isinstance(sign, Sign) and (sign.x, sign.y) == (1, 5)
        assert len(eight) == abs(clef.octaves)
        for mark in eight:
            middle = mark.y - mark.scale
            assert middle < 3 if clef.octaves > 0 else middle > 7
    figures = list(meter_marks(Meter(12, 8), 0, 1))
    assert [(mark.name, mark.y) for mark in figures] == [("figure-1", 3), ("figure-2", 3), ("figure-8", 5)]
    assert figures[2].x == pytest.approx((figures[1].box.right - outline("figure-8").width) / 2, abs=0.05)


def test_rests_hang_and_sit_on_their_lines_and_what_is_not_exact_is_marked():
    placed, marks = drawn("rest=2 C4 D4 | rest=4")
    (rest,) = of_part(marks, "rest")
    box = box_of(rest, MEASURE)
    assert (box.top, box.bottom) == (1.5, 2.0)  # a half rest sits on the middle line
    song = read("C4=4 | rest=4").song
    placed = list(placed_lines(song))[1]
    (rest,) = of_part(list(line_marks(placed, frozenset(), None, 9.0, {placed[0].bar: 7.5})), "rest")
    box = box_of(rest, MEASURE)
    assert (box.top, box.bottom) == (1.0, 1.5) and (box.left + box.right) / 2 == pytest.approx(7.5)
    placed = list(placed_lines(read("meter: 3/4\nC4=3 | rest=3").song))[1]
    marks = list(line_marks(placed, frozenset(), None, 9.0, {placed[0].bar: 7.5}))
    assert [mark.part for mark in marks] == ["rest"]  # without the dot of a dotted half
    _, marks = drawn("C4=501/1000 D4=3499/1000")
    assert all(isinstance(mark, Blot) for mark in of_part(marks, "inexact")) and of_part(marks, "inexact")
    assert not of_part(drawn("C4 D4 E4 F4")[1], "inexact")

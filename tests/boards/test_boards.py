"""Boards: whatever the song and whatever the board, its cells sound as the song but for what is listed as lost."""

from __future__ import annotations

import re
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.songs import songs

from chickadee.boards.catalogue import shipped, target_called
from chickadee.boards.cells import CellKind
from chickadee.boards.fitting import fitted
from chickadee.boards.lines import lines_of
from chickadee.boards.packing import packed
from chickadee.boards.simulation import simulation
from chickadee.boards.target import TargetFault, read_target
from chickadee.boards.ticks import tick_choices
from chickadee.boards.unpacking import UnpackFault, simulated, simulated_boards, steps_of
from chickadee.display.export_view import as_it_would_sound
from chickadee.sheet import read
from chickadee.song import TICKS_PER_QUARTER

ENTRIES = {
    "names": ("{name}*{ticks}", "-*{ticks}", "={ticks}", "<{cell}", "!{sound}"),
    "digits": ("{code:03}{ticks:03}", "999{ticks:03}", "998{ticks:03}", "{cell:03}000", "{sound:03}000"),
    "words": ("{number} for {ticks}", "wait {ticks}", "on {ticks}", "again from {cell}", "sound {sound}"),
}


@st.composite
def targets(draw):
    """A board of some kind: its entries, what it can hold, jump and choose, its limits."""
    entry, rest, held, jump, sound = ENTRIES[draw(st.sampled_from(sorted(ENTRIES)))]
    low = draw(st.integers(1, 5))
    lines = [
        'title = "A board"', 'head = "tick {tick_ms} ms\\n"', 'line = "row {line}: "', 'join = "\\n"',
        f'minus = {draw(st.integers(0, 12))}', "[[list]]", f'entry = "{entry}"', f'rest = "{rest}"',
        f'between = "{draw(st.sampled_from([" ", ", ", " | "]))}"', f"wrap = {draw(st.integers(0, 9))}",
    ]  # fmt: skip
    lines += [f'held = "{held}"'] if draw(st.booleans()) else []
    lines += [f'jump = "{jump}"'] if draw(st.booleans()) else []
    lines += [f'sound = "{sound}"'] if draw(st.booleans()) else []
    lines += ["[limits]", f"tones = {draw(st.integers(0, 3))}", f'lowest = "C{low}"',
              f'highest = "C{draw(st.integers(low + 1, 8))}"', f"shortest = {draw(st.sampled_from([0, 5, 60]))}",
              f"longest = {draw(st.sampled_from([3, 40, 900]))}", f"cells = {draw(st.sampled_from([0, 5, 30]))}",
              "[sounds]", '"flute" = 901', '"sine" = 902']  # fmt: skip
    return read_target("\n".join(lines), "board")


@given(songs(), targets())
def test_cells_sound_as_the_song_but_for_what_is_listed(song, target):
    fit = fitted(song, target)
    texts = [packed(fit, board) for board in fit.boards]
    if not fit.boards or not any(line for board in fit.boards for line in board.lines):
        return
    heard = simulated_boards(texts, target)
    tick = Fraction(round(fit.tick_seconds * 10_000), 10_000)

    def cells(note):
        return note.start, note.length, note.number

    scale = heard.tempo.tempos[0].quarters_per_minute * 8_064_000 / 60  # ticks of what is heard to a second
    found = sorted((round(note.start / scale / float(tick)) * fit.tick, round(note.length / scale / float(tick)) * fit.tick,
                    note.number) for note in heard.notes)  # fmt: skip
    lossy = {note for loss in fit.lost for note in loss.notes}
    untouched = sorted(cells(note) for note in song.notes if note not in lossy)
    rest = list(found)
    for each in untouched:
        assert each in rest
        rest.remove(each)
    exact = sorted(cells(note) for note in song.notes)
    assert bool(lossy) == (found != exact)
    for loss in fit.lost:  # each is real
        if loss.code in ("octave", "range", "cut", "drums", "too-short"):
            for note in loss.notes:
                others = [each for each in lossy if each != note and (each.number - note.number) % 12 == 0]
                assert cells(note) not in rest or cells(note) in untouched or others  # one that was moved there


@pytest.mark.parametrize(
    ("template", "written"),
    [
        ("{hertz:08.2f}", "00440.00"), ("{hertz:04}", "0440"), ("{beats:5.2f}", " 1.50"), ("{beats:02}", "1.5"),
        ("{number:5}", "   69"), ("{name:4}", "A4  "), ("{{{number}}}", "{69}"), ("{octave}{number:03}", "4069"),
    ],
)  # fmt: skip
def test_numbers_are_written_as_their_format_says_and_read_back(template, written):
    entry = template if "hertz" in template or "n" in template else "{number} " + template
    target = read_target(f'title = "Own"\n[[list]]\nentry = "{entry}"\nbetween = ", "', "own")
    fit = fitted(read("A4=3/2").song, target)
    text = packed(fit, fit.boards[0])
    assert written in text
    assert [note.number for note in simulated(text, target).notes] == [69]


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ('entry = "{number:05.3d}"', "entry has the format"), ('entry = "{name:05d}"', "is a text"),
        ('entry = "{number!x}"', "!x"), ('entry = "{num\\nber}"', "names {num\\nber}, which is no field"), ('entry = "{nonsense}"', "is no field"), ('entry = "{number"', "not closed"),
        ('entry = "{number}"\n[limits]\nshortest = inf', "a usual number"),
        ('entry = "{number}"\n[limits]\ntones = 9' + "9" * 5000, "not TOML"),
        ("entry = '{number}'\n[limits]\ncells = 9999999999999", "a usual number"),
    ],
)  # fmt: skip
def test_a_target_that_could_not_be_used_is_refused_in_a_sentence(line, said):
    with pytest.raises(TargetFault, match=re.escape(said)):
        read_target(f'title = "Own"\n[[list]]\n{line}', "own")
    for wait in ("inf", "nan", "1e999"):
        with pytest.raises(TargetFault, match="wait is to be a usual number"):
            read_target(f'title = "Own"\nwait = {wait}\n[[list]]\nentry = "{{number}}"', "own")


def test_a_name_of_many_parts_is_refused_at_once():
    for text in ("a." * 9000 + "b = 1", "[" + "a . " * 9000 + "b]", "x = {" + "a." * 9000 + "b = 1}"):
        with pytest.raises(TargetFault):
            read_target(text, "own")


def test_pitches_that_a_target_lists_are_all_that_it_has():
    target = read_target(
        'title = "Five"\npitches = ["C4", "D4", "E4", "G4", "A4"]\n[[list]]\nentry = "{place}:{beats}"', "five"
    )
    fit = fitted(read("C4 F4 G5 A4=2").song, target)
    assert packed(fit, fit.boards[0]).split() == ["0:2,", "3:1,", "4:2"]  # silence belongs to the note before it
    assert [loss.code for loss in fit.lost] == ["range", "octave"]
    assert [note.number for note in simulated(packed(fit, fit.boards[0]), target).notes] == [60, 67, 69]
    own = fitted(read("C4 A4").song, target)
    assert own.lost == ()


def test_a_pitch_as_far_from_one_as_from_another_goes_down():
    target = read_target('title = "Two"\npitches = ["C4", "C6"]\n[[list]]\nentry = "{number}"', "two")
    fit = fitted(read("C5 C6").song, target)
    assert packed(fit, fit.boards[0]).split() == ["60,", "84"]


def test_starts_and_ends_go_to_the_nearest_tick():
    target = read_target(
        'title = "Ticks"\n[[list]]\nentry = "{name}*{ticks}"\nrest = "-*{ticks}"\nbetween = " "', "ticks"
    )
    fit = fitted(read("C4=1/4 rest=1/6 D4=7/12 | E4=5/12 rest=1/12 F4=1/2").song, target, tick=TICKS_PER_QUARTER // 4)
    assert packed(fit, fit.boards[0]).split() == ["C4*1", "-*1", "D4*2", "E4*2", "F4*2"]
    moved = [(loss.bar, loss.beat) for loss in fit.lost if loss.code == "tick"]
    assert moved == [(1, Fraction(17, 12)), (1, 2)]


@pytest.mark.parametrize("name", sorted(shipped()))
def test_what_a_target_sounds_is_counted_in_the_tune_s_own_beats(name):
    song = read(
        "meter: 6/8\ntempo: quarter. = 50\nkey: Eb major\npickup: 1\nEb4 | F4=2 Ab4 Bb4=3/2 Bb4=3/2 | Eb5=6 |"
    ).song
    fit = fitted(song, target_called(name))
    heard = simulation([packed(fit, board) for board in fit.boards], fit)
    expected = song
    if fit.lost:
        expected = as_it_would_sound(fit) or song
    assert heard.meter == song.meter and heard.key == song.key
    assert [(note.start, note.length, note.pitch) for note in heard.notes] == [
        (note.start, note.length, song.key.spell(note.number)) for note in expected.notes
    ]


@pytest.mark.parametrize("name", sorted(shipped()))
def test_every_target_that_ships_reads_back_what_it_wrote(name):
    song = read(
        'title: A /* "tune" */\ntempo: 90\nvoice High\n C5 rest F#4=1/2 Bb4=3/2 | {C}=4\nvoice Low\n C3=4 | C3=2 G3=2'
    ).song
    target = target_called(name)
    fit = fitted(song, target)
    heard = simulated_boards([packed(fit, board) for board in fit.boards], target)
    numbers = [(round(float(song.tempo.seconds(note.start)), 2), note.number) for note in song.notes]
    pace = 1 if target.is_in_ticks or target.is_in_seconds else 90 / 120
    assert sorted(numbers) == sorted(
        (round(float(heard.tempo.seconds(note.start)) / pace, 2), note.number) for note in heard.notes
    )


def test_lines_do_not_cross_and_the_top_stays_on_the_first():
    song = read("C4&E4&G4 {F}=2 C5 A3&C4").song
    lines = lines_of(song)
    assert [[note.number for note in line.notes] for line in lines] == [[67, 72, 72, 60], [64, 69, 57], [60, 65]]


def test_the_tick_is_the_longest_that_keeps_every_length_or_the_best_compromise():
    song = read("tempo: 60\nC4=3/2 D4=1/2 E4=1/3 F4=2/3").song
    beat = song.meter.beat_ticks
    assert tick_choices(song, lines_of(song), 10)[0].ticks == beat // 6
    best = tick_choices(song, lines_of(song), 200)[0]
    assert best.ticks * 1000 / beat >= 200 and best.changed > 0 and best.worst > 0


def test_what_is_too_long_is_held_over_or_struck_again_and_repeats_are_jumped_to():
    lantern = target_called("lantern")
    bollard = target_called("bollard")
    song = read("tempo: 240\nC4=40 D4=1/8 E4=1/8").song
    kinds = [cell.kind.value for cell in fitted(song, lantern).boards[0].lines[0]]
    assert kinds[:6] == ["sound", "note", "held", "held", "held", "note"]
    struck = fitted(read("tempo: 120\nC4=24 D4=1/2").song, bollard)
    assert [loss.code for loss in struck.lost] == ["struck-again"]
    again = fitted(read("(C4 D4 E4 F4) x3 G4").song, lantern)
    cells = again.boards[0].lines[0]
    assert [cell.kind for cell in cells].count(CellKind.JUMP) == 2 and len(cells) == 8
    played = steps_of(packed(again, again.boards[0]), lantern)[0]
    assert [step.number for step in played if step.kind is CellKind.NOTE] == [60, 62, 64, 65] * 3 + [67]


def test_a_tune_that_is_too_long_is_cut_and_one_out_of_range_is_moved_as_a_phrase():
    lantern = target_called("lantern")
    long = fitted(read(" ".join(f"{50 + place * place % 43}" for place in range(80))).song, lantern)
    (cut,) = long.lost
    assert (cut.code, len(cut.notes), long.boards[0].cells) == ("cut", 33, 48)
    assert "48 cells are full" in cut.sentence and "81 would be needed" in cut.sentence
    high = fitted(read("C8 D8 rest C2 D2").song, lantern)
    numbers = [cell.number for cell in high.boards[0].lines[0] if cell.kind is CellKind.NOTE]
    assert numbers == [84, 86, 36, 38]
    assert {loss.code for loss in high.lost} == {"octave"} and len(high.lost) == 2


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("title = ", "not TOML"),
        ('title = "x"', "no list"),
        ('title = 5\n[[list]]\nentry = "{number}"', "Line 1: title is to be a text"),
        ('title = "x"\n[[list]]\nentry = "{pitch}"', "Line 3: entry names {pitch}"),
        ('title = "x"\n[[list]]\nentry = "{number"', "brace"),
        ('title = "x"\n[[list]]\nentry = "-"', "no field of a note"),
        ('title = "x"\ncolour = 3\n[[list]]\nentry = "{number}"', "Line 2: colour is not a key"),
        ('title = "x"\n[[list]]\nentry = "{number}"\n[limits]\nlowest = "H2"', "Line 5: lowest is 'H2'"),
        ('title = "x"\n[[list]]\nentry = "{number}"\n[limits]\ntones = -1', "Line 5: tones is to be 0 or more"),
        ('title = "x"\n[[list]]\nentry = "{number}"\n[limits]\nlowest = "C5"\nhighest = "C2"', "above highest"),
        ('title = "x"\n[[list]]\nentry = "{number:>99999}"', "format"),
    ],
)
def test_a_wrong_target_is_one_sentence_with_its_line_and_key(text, said):
    with pytest.raises(TargetFault) as fault:
        read_target(text, "wrong")
    assert said in str(fault.value) and "\n" not in str(fault.value)


@given(st.text(max_size=80))
def test_any_text_is_cells_or_is_refused(text):
    for name in ("lantern", "bollard", "slipway"):
        try:
            simulated(text, target_called(name))
        except UnpackFault as fault:
            assert str(fault).startswith("This is no text for")

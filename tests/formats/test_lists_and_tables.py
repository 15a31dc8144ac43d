"""Lists and tables as pupils keep them: each form means the tune that was put into it."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read as read_sheet
from chickadee.files import FileFault
from chickadee.formats import anything, lists, table
from chickadee.formats.imported import Form, ImportFault
from chickadee.formats.pasting import pasted
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.theory import frequency, read_key
from songs import songs


def tune_of(text: str):
    song = anything.read_text(text).song
    return [(note.number, F(note.length, Q)) for note in song.notes]


def name(number: int) -> str:
    return read_key("C major").spell(number).text


def joined(mark: str):
    return lambda values: mark.join(values)


FORMS = {
    "two lines": lambda t: ",".join(str(n) for n, _ in t) + "\n" + ",".join(str(x) for _, x in t),
    "pairs": lambda t: "[" + ", ".join(f"({n}, {x})" for n, x in t) + "]",
    "pairs of names": lambda t: "tune = [" + ", ".join(f'("{name(n)}", {x})' for n, x in t) + "]  # a tune",
    "parallel lists": lambda t: (
        f"notes = {[n for n, _ in t]}\n# the lengths\nbeats = [{', '.join(str(x) for _, x in t)}]\nfor n in notes:\n  play(n)"
    ),
    "records": lambda t: "[" + ", ".join(f'{{"note": "{name(n)}", "length": {x}}}' for n, x in t) + "]",
    "braces": lambda t: (
        "int notes[] = {"
        + ",".join(str(n) for n, _ in t)
        + "};\nfloat lengths[] = {"
        + ",".join(str(x) for _, x in t)
        + "};"
    ),
    "calls": lambda t: "\n".join(f'play("{name(n)}", {x});' for n, x in t),
    "columns": lambda t: "\n".join(f"{name(n)} {x}" for n, x in t),
    "columns with decimal commas": lambda t: "\n".join(f"{n}; {str(x).replace('.', ',')}" for n, x in t),
    "letter, octave, length": lambda t: "\n".join(f"{name(n)[:-1]} {name(n)[-1]} {x}" for n, x in t),
    "a table": lambda t: "Length,Pitch\n" + "\n".join(f"{x},{name(n)}" for n, x in t),
    "a table with semicolons": lambda t: (
        "MIDI number;Beats\n" + "\n".join(f"{n};{str(x).replace('.', ',')}" for n, x in t)
    ),
    "a table from a spreadsheet": lambda t: "Note\tDuration\n" + "\n".join(f"{name(n)}\t{x}" for n, x in t),
    "names with colons": lambda t: ", ".join(f"{name(n)}:{x}" for n, x in t),
    "lists in a list": lambda t: f"[{[name(n) for n, _ in t]}, [{', '.join(str(x) for _, x in t)}]]",
}


@given(
    st.sampled_from(sorted(FORMS)),
    st.lists(st.tuples(st.integers(36, 96), st.sampled_from([1, 2, 0.5, 4, 1.5])), min_size=3, max_size=12),
)
def test_a_tune_in_any_form_comes_back(form, tune):
    assert tune_of(FORMS[form](tune)) == [(number, F(length)) for number, length in tune]


@given(st.lists(st.integers(40, 90), min_size=2, max_size=9), st.sampled_from([500, 250]))
def test_frequencies_with_milliseconds_are_a_beat_each(numbers, milliseconds):
    text = "\n".join(f"tone({frequency(number):.2f}, {milliseconds});" for number in numbers)
    assert tune_of(text) == [(number, F(1)) for number in numbers]


@given(songs())
def test_any_song_as_a_table_comes_back(song):
    text = table.write(song)
    if not song.notes:
        with pytest.raises(ImportFault):
            table.read(text)
        return
    again = table.read(text).song

    def plain(song):
        """The notes of each voice by number, then start: starts that are all but the same may change places."""
        return sorted((song.voices[note.voice].name.lower(), note.number, note.loudness, note.short, note.syllable,
                       note.start / song.meter.beat_ticks, note.length / song.meter.beat_ticks) for note in song.notes)  # fmt: skip

    for one, other in zip(plain(again), plain(song), strict=True):
        assert one[:5] == other[:5]
        assert one[5:] == pytest.approx(other[5:], abs=1e-4)


@pytest.mark.parametrize(
    ("text", "form"),
    [
        ("title: Mill\nC4 D4", Form.SHEET),
        ("C4 D4 E4=2 |", Form.SHEET),
        ("C4 H4", Form.SHEET),
        ("60, 62, 64", Form.LIST),
        ("note,beats\nC4,1", Form.TABLE),
        ("hello there", Form.SHEET),
        ("", Form.SHEET),
    ],
)
def test_texts_are_known_by_what_they_hold(text, form):
    assert anything.read_text(text).form is form


def test_rests_words_and_what_cannot_be_read():
    assert pasted('["C4", None, "E4"]', alone=False) == "C4 rest E4"
    found = table.read("name,length,word\nC4&E4,2,la\nrest,1,\nxyz,1,")
    assert [(note.number, note.syllable) for note in found.song.notes] == [(60, "la"), (64, "la")]
    assert found.left_out == ("Row 4: “xyz” names no pitch, so it is a rest.",)
    with pytest.raises(ImportFault, match="No list of notes"):
        lists.read("hello there")


@given(st.text(alphabet="C4D5#b[](){},;:=\"' \n\t0129.-xnotes_/", max_size=60))
def test_any_text_is_something(text):
    try:
        found = anything.read_text(text)
    except ImportFault as fault:
        assert str(fault).endswith(".")
        return
    assert found.text is not None or found.form in (Form.LIST, Form.TABLE)
    assert all(0 <= note.spans[0][0] <= note.spans[0][1] <= len(text) for note in found.song.notes)
    if found.form is Form.LIST and (sheet := pasted(text, alone=True)) is not None:
        sounding = [(note.start, note.length, note.number) for note in found.song.notes]
        assert [(note.start, note.length, note.number) for note in read_sheet(sheet).song.notes] == sounding


@pytest.mark.parametrize(
    ("text", "numbers", "unread"),
    [
        ("# a tune\nnotes = ['C4', 'X9', 'E4', None, 'G4']  # hi\nbeats = [1, 2, 1, 1, 0.5]", [60, 64, 67], ["X9"]),
        ("C4,1\nQ9,2\nE4,1", [60, 64], ["Q9"]),
        ("note,beats\nC4,1\n\nH9,2\nE4,1", [60, 64], ["H9,2"]),
        ("60, 62, oops, 64\n1, 1, 1, 1", [60, 62, 64], ["oops"]),
        ("G4 B4 H4 A4", [67, 71, 69], ["H4"]),
    ],
)
def test_a_few_values_that_name_no_pitch_are_silent_and_listed_where_they_stand(text, numbers, unread):
    found = anything.read_text(text)
    assert [note.number for note in found.song.notes] == numbers
    assert [text[each.span[0] : each.span[1]] for each in found.unread] == unread
    written = [text[note.spans[0][0] : note.spans[0][1]] for note in found.song.notes]
    assert written[0][:2] in ("C4", "60", "G4") and all(written)


def test_lengths_too_short_to_write_are_the_shortest_and_no_note_is_lost():
    found = lists.read("notes = [60, 62, 64]\nmilliseconds = [0.5, 400, 400]")
    assert [note.number for note in found.song.notes] == [60, 62, 64]
    assert all(note.length > 0 and note.spans for note in found.song.notes)


def test_rows_in_any_order_end_with_the_last_note():
    song = table.read("start,length,name\n0,1,C4\n6,2,E4\n3,1,D4\n").song
    assert song.end == 8 * Q


def test_times_that_are_surely_damaged_are_refused():
    for row in ("15000,1,E4", "9000000000,1,E4", "4,99999999999,E4"):
        with pytest.raises(FileFault, match=r"twenty-four hours|damaged"):
            anything.read_data(f"start,length,name\n0,1,C4\n{row}\n2,1,D4\n".encode(), "a table")

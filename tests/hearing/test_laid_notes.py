"""Notes that were heard, laid under a tune: where they stand, what is missing, and what taking them writes."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from chickadee.display.heard_notes import AlignedNotes
from chickadee.hearing.alignment import Alignment
from chickadee.hearing.notes import HeardNote
from chickadee.sheet import apply_edits, read
from chickadee.sheet.properties import RecordingUnderTune

TUNES = st.lists(st.tuples(st.sampled_from([1, 2, 3]), st.integers(50, 80)), min_size=1, max_size=16)
HEADS = {"4/4": "", "3/4": "meter: 3/4\n", "with a pickup": "meter: 3/4\npickup: 1\n", "6/8": "meter: 6/8\n"}


def heard_of(tune, tempo, first):
    """The tune as it is played, each note let go a little early."""
    found = []
    here = first
    for beats, number in tune:
        length = beats * 60 / tempo
        found.append(HeardNote(here, 0.92 * length, number, 0.0, 80, 1.0))
        here += length
    return found


@given(TUNES, st.integers(60, 160), st.floats(0, 9), st.sampled_from(sorted(HEADS)))
def test_what_is_heard_stands_on_its_beats_and_is_taken_whole(tune, tempo, first, head):
    reading = read(f"{HEADS[head]}tempo: {tempo}\nkey: D major\nvoice A\n  rest |\n")
    song = reading.song
    laid = AlignedNotes.of(heard_of(tune, tempo, first), song, Alignment(song, first))
    assert [note.number for note in laid.notes] == [number for _, number in tune]
    beat = song.meter.beat_ticks
    start = song.grid.start(1)
    places = []
    here = start
    for beats, _ in tune:
        places.append(here)
        here += beats * beat
    assert [note.start for note in laid.notes] == places
    missing = laid.missing(song)
    assert missing == list(range(len(tune)))
    after = read(apply_edits(reading.text, laid.taken(reading, missing)))
    assert laid.missing(after.song) == []
    assert [(note.start, note.number) for note in after.song.notes] == [
        (note.start, note.number) for note in laid.notes
    ]


@given(TUNES, st.integers(60, 160), st.data())
def test_some_of_it_is_taken_where_it_stands(tune, tempo, data):
    reading = read(f"tempo: {tempo}\nvoice A\n  C2=4 |\n")
    laid = AlignedNotes.of(heard_of(tune, tempo, 0.0), reading.song, Alignment(reading.song, 0.0))
    some = sorted(data.draw(st.sets(st.sampled_from(range(len(tune))), min_size=1)))
    after = read(apply_edits(reading.text, laid.taken(reading, some)))
    assert not [finding for finding in after.findings if finding.code != "bar-length"]
    mine = [(note.start, note.number) for note in after.song.notes if note.voice == 1]
    assert mine == [(laid.notes[place].start, laid.notes[place].number) for place in some]
    assert laid.missing(after.song) == [place for place in range(len(tune)) if place not in some]


def test_what_is_before_bar_one_is_left_out_and_nothing_is_nothing():
    song = read("tempo: 60\nC4").song
    notes = heard_of([(1, 60), (1, 62), (1, 64)], 60, 0.0)
    assert [note.number for note in AlignedNotes.of(notes, song, Alignment(song, 1.0)).notes] == [62, 64]
    assert (
        AlignedNotes.of([], song, Alignment(song, 0.0)).notes == ()
        and AlignedNotes.of(notes, song, Alignment(song, 99.0)).notes == ()
    )
    assert AlignedNotes((), ()).taken(read("C4"), []) == []


@given(st.sampled_from(["gull.wav", "takes/gull 2.flac", "/tmp/a.mp3", "Möwe.ogg"]), st.integers(0, 9_999_999),
       st.lists(st.tuples(st.integers(1, 999), st.integers(0, 99_999)), max_size=3))  # fmt: skip
def test_the_property_that_keeps_a_recording_is_read_as_it_is_written(path, thousandths, anchors):
    kept = RecordingUnderTune(path, thousandths / 1000, tuple((bar, second / 10) for bar, second in anchors))
    reading = read(f"recording: {kept.text}\nC4")
    assert not reading.findings
    found = reading.sheet.settings.recording
    assert (found.path, found.first, found.anchors) == (kept.path, kept.first, kept.anchors)

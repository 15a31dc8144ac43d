"""MIDI files read: every strike of a valid file to the tick, and of a broken one what can be read."""

from __future__ import annotations

import struct
from collections import Counter

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from chickadee.formats import smf
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.song import Note, Song, Voice
from chickadee.theory import Pitch


def track(*events: bytes) -> bytes:
    data = b"".join(events) + b"\x00\xff\x2f\x00"
    return b"MTrk" + struct.pack(">I", len(data)) + data


def file_of(*tracks: bytes, form: int = 1, division: int = 480) -> bytes:
    return b"MThd" + struct.pack(">IHHH", 6, form, len(tracks), division) + b"".join(tracks)


def notes_of(data: bytes):
    song = smf.read(data).song
    return [(note.start / Q, note.length / Q, note.number, note.loudness) for note in song.notes]


def struck(song, lengths):
    return Counter((note.start, note.sounding if lengths else 0, note.number, note.loudness) for note in song.notes)


NOTES = st.lists(
    st.tuples(st.integers(0, 40), st.integers(1, 30), st.integers(0, 127), st.integers(1, 127), st.integers(0, 2)),
    max_size=30,
)


def test_system_exclusive_messages_are_counted_in_both_of_their_forms():
    whole = b"\x00\xf0\x03\x01\x02\xf7"
    escaped = b"\x00\xf7\x02\xf3\x01"
    note = b"\x00\x90\x3c\x50\x83\x60\x80\x3c\x00"
    found = smf.read(file_of(track(whole, escaped, note)))
    assert found.left_out == ("2 system exclusive messages have no place in a sheet.",)
    assert [note.number for note in found.song.notes] == [60]


@given(NOTES, st.sampled_from([480, 96, 7, 1000, 24]), st.sampled_from(["flute", "drum kit"]))
def test_any_song_written_and_read_strikes_the_same(notes, division, sound):
    made = [
        Note(start * Q // division, voice, length * Q // division, Pitch("C", 0, 4), number, loudness, False, ())
        for start, length, number, loudness, voice in notes
    ]
    assume(made)
    voices = tuple(Voice(f"V{n}", sound if n else "flute", end=max(note.end for note in made)) for n in range(3))
    song = Song("Mill", "", voices, tuple(sorted(made, key=lambda note: (note.start, note.voice, note.number))))
    again = smf.read(smf.write(song)).song
    assert struck(again, False) == struck(song, False)
    overlap = any(one.number == other.number and one.voice == other.voice and one.start <= other.start < one.end
                  for place, one in enumerate(song.notes) for other in song.notes[place + 1 :])  # fmt: skip
    if not overlap:
        assert struck(again, True) == struck(song, True)


@pytest.mark.parametrize(
    ("events", "expected"),
    [
        ((b"\x00\x90\x3c\x50", b"\x83\x60\x3c\x00"), [(0, 1, 60, 80)]),  # running status, a strike of 0 lets go
        ((b"\x00\x90\x3c\x50\x83\x60\x90\x3c\x40\x83\x60\x80\x3c\x00\x83\x60\x80\x3c\x00",), [(0, 2, 60, 80), (1, 2, 60, 64)]),
        ((b"\x00\x90\x3c\x50", b"\x87\x40\x90\x40\x50"), [(0, 2, 60, 80), (2, 1 / Q, 64, 80)]),  # never let go
        # struck anew before it was let go, once: on, on, off, and a bar of nothing
        ((b"\x00\x90\x3c\x50\x83\x60\x90\x3c\x40\x83\x60\x80\x3c\x00", b"\x8f\x00\xff\x01\x01a"),
         [(0, 1, 60, 80), (1, 1, 60, 64)]),
        ((b"\x00\xf0\x03\x01\x02\xf7", b"\x00\x90\x3c\x50", b"\x83\x60\x80\x3c\x00"), [(0, 1, 60, 80)]),
        ((b"\x00\x12\x34", b"\x00\x90\x3c\x50", b"\x83\x60\x80\x3c\x00"), [(0, 1, 60, 80)]),  # data no event asked for
    ],
)  # fmt: skip
def test_what_players_write_is_read(events, expected):
    assert notes_of(file_of(track(*events), form=0)) == expected


def test_formats_wrapping_and_counting_by_frames():
    one = track(b"\x00\x90\x3c\x50", b"\x83\x60\x80\x3c\x00")
    two = track(b"\x00\x90\x40\x50", b"\x83\x60\x80\x40\x00")
    assert notes_of(file_of(one, two, form=2)) == [(0, 1, 60, 80), (1, 1, 64, 80)]
    inner = file_of(one)
    assert notes_of(
        b"RIFF" + struct.pack("<I", len(inner) + 12) + b"RMIDdata" + struct.pack("<I", len(inner)) + inner
    ) == [(0, 1, 60, 80)]
    by_frames = file_of(one, division=0xE728)  # 25 frames of 40 parts: a tick is a millisecond
    assert notes_of(by_frames) == [(0, 0.96, 60, 80)]


def test_what_is_broken_costs_no_more_than_itself():
    whole = file_of(track(b"\x00\x90\x3c\x50", b"\x83\x60\x80\x3c\x00", b"\x00\x90\x40\x50", b"\x83\x60\x80\x40\x00"))
    found = smf.read(whole[:-7])
    assert [note.number for note in found.song.notes] == [60, 64]
    assert any("cut off" in sentence for sentence in found.left_out)
    for data in (b"", b"MThd", b"hello", file_of(track(b"\x00\xc0\x05"))):
        with pytest.raises(smf.SmfFault):
            smf.read(data)


def test_what_has_no_place_in_a_sheet_is_counted():
    bends = b"\x00\xe0\x00\x40" * 3 + b"\x00\xb0\x01\x10"
    meters = b"\x00\xff\x58\x04\xff\x01\x18\x08" + b"\x00\xff\x58\x04\x03\x02\x18\x08"  # 255/2, 3/4
    found = smf.read(file_of(track(meters, bends, b"\x00\x90\x3c\x50", b"\x83\x60\x80\x3c\x00")))
    assert found.song.meter.text == "3/4"
    assert found.left_out == (
        "1 meter has no place in a sheet.",
        "3 pitch bends have no place in a sheet.",
        "1 controller change has no place in a sheet.",
    )


@given(st.binary(max_size=80), st.data())
def test_any_bytes_are_read_or_refused_in_a_sentence(noise, data):
    whole = bytearray(smf.write(_tune()))
    for _ in range(data.draw(st.integers(1, 6))):
        at = data.draw(st.integers(0, len(whole) - 1))
        whole[at : at + 1] = data.draw(st.binary(max_size=3))
    for each in (noise, b"MThd" + noise, bytes(whole)):
        try:
            assert smf.read(each).song.notes
        except smf.SmfFault as fault:
            assert str(fault).endswith(".")


def _tune():
    from chickadee import read

    return read(
        "title: Mill\n[tempo 90] C4 E4&G4=2 {Am} [pedal] D4 |\nwords: a b c\nvoice Bells\nsound: glass bell\nC5=4"
    ).song


def test_many_notes_never_let_go_end_where_the_next_begins():
    events = [b"\x83\x60\x90" + bytes((60 + place, 80)) for place in range(12)]
    lengths = [length for _, length, *_ in notes_of(file_of(track(*events, b"\x83\x60\xb0\x01\x00")))]
    assert lengths == [1] * 12
    assert [length for _, length, *_ in notes_of(file_of(track(*events[:3], b"\x83\x60\xb0\x01\x00")))] == [3, 2, 1]


def test_a_word_a_few_ticks_beside_its_note_is_its_word():
    lyric = b"\xff\x05\x02la"
    data = file_of(
        track(
            b"\x00\x90\x3c\x50",
            b"\x05" + lyric,
            b"\x83\x55\x80\x3c\x00",
            b"\x0a\x90\x3e\x50",
            b"\x83\x60\x80\x3e\x00",
        )
    )
    assert [note.syllable for note in smf.read(data).song.notes] == ["la", ""]

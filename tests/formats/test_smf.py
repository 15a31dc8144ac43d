"""MIDI files, read back byte by byte by a small reader of the test's own."""

from __future__ import annotations

import struct
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.formats import smf
from chickadee.song import TICKS_PER_QUARTER as Q


def tracks_of(data: bytes):
    """(division, for each track a list of (tick, bytes of the event))."""
    assert data[:4] == b"MThd"
    size, form, count, division = struct.unpack(">IHHH", data[4:14])
    assert (size, form) == (6, 1)
    at, tracks = 14, []
    while at < len(data):
        assert data[at : at + 4] == b"MTrk"
        (length,) = struct.unpack(">I", data[at + 4 : at + 8])
        tracks.append(events_of(data[at + 8 : at + 8 + length]))
        at += 8 + length
    assert len(tracks) == count
    return division, tracks


def number(data: bytes, at: int):
    value = 0
    while True:
        byte = data[at]
        value, at = value << 7 | byte & 0x7F, at + 1
        if byte < 0x80:
            return value, at


def events_of(data: bytes):
    at, tick, events = 0, 0, []
    while at < len(data):
        delta, at = number(data, at)
        tick += delta
        if data[at] == 0xFF:
            length, body = number(data, at + 2)
            end = body + length
            events.append((tick, data[at : at + 2] + data[body:end]))
        else:
            end = at + (2 if data[at] & 0xF0 == 0xC0 else 3)
            events.append((tick, data[at:end]))
        at = end
    assert events[-1][1] == b"\xff\x2f"
    return events


def notes_of(track):
    """(start, end, number, velocity) of each note of a track; every on must have its off."""
    sounding, found = {}, []
    for tick, event in track:
        if event[0] & 0xF0 == 0x90:
            assert event[1] not in sounding
            sounding[event[1]] = tick, event[2]
        elif event[0] & 0xF0 == 0x80:
            start, velocity = sounding.pop(event[1])
            found.append((start, tick, event[1], velocity))
    assert not sounding
    return sorted(found)


def assert_same(song):
    division, (_, *voices) = tracks_of(smf.write(song))
    for index, track in enumerate(voices):
        expected = sorted(
            (note.start * division, (note.start + note.sounding) * division, note.number, note.loudness)
            for note in song.notes
            if note.voice == index
        )
        assert [(start * Q, end * Q, *rest) for start, end, *rest in notes_of(track)] == expected
        assert track[-1][0] * Q == song.voices[index].end * division


def test_the_file_holds_exactly_the_song():
    song = read(
        "title: Small é\ntempo: 90\nmeter: 6/8\nkey: E♭ major\n"
        "voice Bell\n  sound: glass bell\n  pan: left\n  C4=1/3 'C4=2/3 >C4&E4 | rest=3\nvoice Two\n  pan: right\n60=bar"
    ).song
    assert_same(song)
    division, (conductor, bell, two) = tracks_of(smf.write(song))
    assert division == 480
    assert conductor == [
        (0, b"\xff\x03" + "Small é".encode()),
        (0, b"\xff\x51" + (1_333_333).to_bytes(3, "big")),
        (0, b"\xff\x58" + bytes((6, 3, 36, 8))),
        (0, b"\xff\x59" + struct.pack(">bB", -3, 0)),
        (1440, b"\xff\x2f"),
    ]
    assert bell[:3] == [(0, b"\xff\x03Bell"), (0, b"\xc0\x0e"), (0, b"\xb0\x0a\x00")]
    assert bell[-1][0] == 1200
    assert two[2] == (0, b"\xb1\x0a\x7f")


def test_offs_come_before_ons_of_the_same_tick():
    events = [event for tick, event in tracks_of(smf.write(read("C4 C4").song))[1][1] if tick == 480]
    assert [event[0] for event in events] == [0x80, 0x90]


def test_no_voice_takes_the_drum_channel():
    song = read("".join(f"voice V{index}\nC4\n" for index in range(20))).song
    channels = [track[1][1][0] & 0x0F for track in tracks_of(smf.write(song))[1][1:]]
    assert smf.DRUM_CHANNEL not in channels
    assert len(set(channels)) == 15


@pytest.mark.parametrize(("text", "division"), [("C4", 480), ("C4=1/7", 483), ("C4=0.001", 1000)])
def test_the_division_is_the_smallest_exact_one(text, division):
    assert tracks_of(smf.write(read(text).song))[0] == division


def test_a_song_that_no_division_holds_is_refused():
    with pytest.raises(smf.InexactError):
        smf.write(read("C4=1/1024 D4=1/125 E4=1/9").song)


def test_an_empty_song_is_a_file_without_notes():
    assert tracks_of(smf.write(read("").song)) == (480, [tracks_of(smf.write(read("").song))[1][0]])


LENGTHS = st.sampled_from(["", "=2", "=1/2", "=1/3", "=2/5", "=1/7", "=0.125", "=5/16"])
EVENTS = st.builds("".join, st.tuples(st.sampled_from(["C4", "rest", "-", "'61", ">C4&G3", "G9", "0"]), LENGTHS))


@given(st.lists(st.lists(EVENTS, max_size=12), min_size=1, max_size=3))
def test_any_song_is_held_exactly(voices):
    song = read("\n".join(f"voice V{index}\n{' '.join(events)}" for index, events in enumerate(voices))).song
    assert_same(song)
    assert Fraction(song.end, Q) == Fraction(max(voice.end for voice in song.voices), Q)

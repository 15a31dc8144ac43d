"""MIDI files, read back byte by byte by a small reader of the test's own."""

from __future__ import annotations

import struct
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.formats import smf
from chickadee.formats.arranging import arranged
from chickadee.song import TICKS_PER_QUARTER as Q
from sheets import sheets


def tracks_of(data: bytes):
    """(division, for each track a list of (tick, bytes of the event))."""
    assert data[:4] == b"MThd"
    size, form, count, division = struct.unpack(">IHHH", data[4:14])
    assert (size, form) == (6, 1)
    at = 14
    tracks = []
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
        value = value << 7 | byte & 0x7F
        at = at + 1
        if byte < 0x80:
            return value, at


def events_of(data: bytes):
    at = 0
    tick = 0
    events = []
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
    sounding = {}
    found = []
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

    def placed(tick):
        """Exactly where it is written; where the song swings, on the nearest tick to where it is heard.

        A quarter note that the pickup cuts off is swung by the tempo.
        """
        if song.tempo.swings and tick >= song.tempo.origin % Q:
            return round(float(song.tempo.swung(tick)) * division / Q)
        return Fraction(tick * division, Q)

    for index, track in enumerate(voices):
        expected = sorted(
            (placed(note.start), placed(note.start + note.sounding), note.number, note.loudness)
            for note in song.notes
            if note.voice == index
        )
        assert notes_of(track) == expected
        assert track[-1][0] == placed(song.voices[index].end)


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


@settings(max_examples=60, deadline=None)
@given(sheets())
def test_any_sheet_is_held_exactly_or_refused(text):
    song = read(text).song
    try:
        assert_same(song)
    except smf.InexactError as fault:
        assert "too finely" in str(fault)


ABBA = """tempo: 110
meter: 4/4
key: A minor
swing: 60%
phrase call
  A4 B4=1/2 C5=1/2 E5=2 |
phrase reply
  D5 C5 B4=1/2 A4=1/2 G4 |
voice Tune
  sound: flute
  call reply (reply up 2 steps) [slow to 70 over 4] call
  words: la la
voice Waves
  octave: 3
  [pedal] ({Am rising by 1/2}=4 |) on ^1 ^6 ^4 ^5 [lift]
voice Beat
  sound: drum kit
  (kick hat snare hat |) to the end
"""


def seconds_at(tempos, division, tick):
    """Return the second of a tick, as a reader of the file counts its tempo events."""
    total = 0.0
    before = 0
    micros = 500_000
    for at, event in tempos:
        if at > tick:
            break
        total += (at - before) * micros / division / 1e6
        before = at
        micros = int.from_bytes(event[2:], "big")
    return total + (tick - before) * micros / division / 1e6


def test_notes_are_heard_in_time_through_ramps_and_swing():
    song = read(ABBA).song
    assert [finding for finding in read(ABBA).findings if finding.code != "words"] == []
    division, (conductor, tune, waves, beat) = tracks_of(smf.write(song))
    tempos = [(tick, event) for tick, event in conductor if event[:2] == b"\xff\x51"]
    assert 5 < len(tempos) < 20  # one tempo, and a ramp
    for index, track in enumerate((tune, waves, beat)):
        heard = sorted(seconds_at(tempos, division, start) for start, *_ in notes_of(track))
        meant = sorted(float(song.tempo.seconds(note.start)) for note in song.notes if note.voice == index)
        assert max(abs(one - other) for one, other in zip(heard, meant, strict=True)) < 1e-3
    third = [number for _, _, number, _ in notes_of(tune)][9:14]
    assert third == [77, 76, 74, 72, 71]
    assert [number for _, _, number, _ in notes_of(waves)][:4] == [57, 60, 64, 57]
    assert [number for _, _, number, _ in notes_of(waves)][8:11] == [65, 69, 72]
    assert {event[0] for _, event in beat if event[0] < 0xF0} == {0xC9, 0xB9, 0x99, 0x89}
    assert [(tick // division, event) for tick, event in waves if event[:2] == b"\xb0\x40"[:0] + bytes((0xB1, 64))] == [
        (0, b"\xb1\x40\x7f"), (16, b"\xb1\x40\x00")]  # fmt: skip
    assert_same(song)


@pytest.mark.parametrize(
    ("pickup", "first"), [("1/2", "G4=1/2"), ("3/4", "G4=1/4 A4=1/2"), ("5/2", "G4=1/2 A4=1 B4=1/2 B4=1/2")]
)
def test_a_swung_pickup_begins_at_once_and_its_bar_lines_stay_where_the_meter_says(pickup, first):
    bars = "C4=1/2 D4=1/2 E4=1/2 F4=1/2 G4=2 | " * 4
    song = read(
        f"tempo: 90\nmeter: 4/4\nswing: 64%\npickup: {pickup}\n{first} | {bars}[slow to 60 over 4] {bars}"
    ).song
    data = smf.write(song)
    division, (conductor, tune) = tracks_of(data)
    tempos = events_like(conductor, b"\xff\x51")
    starts = [start for start, *_ in notes_of(tune)]
    assert [seconds_at(tempos, division, start) for start in starts] == pytest.approx(
        song.tempo.seconds(song.arrays.start).tolist(), abs=1e-3
    )
    assert starts[0] == 0
    assert events_like(conductor, b"\xff\x58")[1][0] == Fraction(pickup) * division
    again = read(arranged(smf.read(data)).text).song
    assert again.arrays.start.tolist() == song.arrays.start.tolist()
    assert again.tempo.swings == ((0, 0.64),)


def test_sounds_pedal_and_words_reach_the_file():
    song = read("C4 D4\nwords: la-lé\nvoice V\n[sound glass bell] [pedal] E4 [pedal] F4 [lift] [sound sine] G4").song
    _, (_, words, voice) = tracks_of(smf.write(song))
    assert [event[2:].decode() for _, event in words if event[:2] == b"\xff\x05"] == ["la-", "lé"]
    assert [(tick, event[1]) for tick, event in voice if event[0] == 0xC1] == [(0, 14), (960, 79)]
    assert [(tick, event[2]) for tick, event in voice if event[:2] == b"\xb1\x40"] == [
        (0, 127),
        (480, 0),
        (480, 127),
        (960, 0),
    ]


def events_like(track, start):
    return [(tick, event) for tick, event in track if event.startswith(start)]


def test_one_tempo_in_a_long_tune_is_one_event_and_swing_adds_none():
    song = read(
        "tempo: 120\nswing: 66%\n" + "C4=1/2 D4=1/2 E4 | " * 80 + "[tempo 130] " + "C4=1/2 D4=1/2 E4 | " * 20
    ).song
    division, (conductor, tune) = tracks_of(smf.write(song))
    assert len(events_like(conductor, b"\xff\x51")) == 2
    assert notes_of(tune)[1][0] == division * 66 // 100


def test_a_pickup_is_a_bar_of_its_own_so_that_bar_lines_fall_where_they_do():
    division, (conductor, _) = tracks_of(smf.write(read("meter: 3/4\npickup: 1\nG4 | C4 D4 E4 | F4=3 |").song))
    assert [(tick // division, event[2:4]) for tick, event in events_like(conductor, b"\xff\x58")] == [
        (0, b"\x01\x02"),
        (1, b"\x03\x02"),
    ]
    _, (half, _) = tracks_of(smf.write(read("meter: 4/4\npickup: 3/2\nG4=3/2 | C4=4 |").song))
    assert events_like(half, b"\xff\x58")[0][1][2:4] == b"\x03\x03"


def test_a_syllable_under_a_chord_is_sung_once_and_the_composer_is_named():
    _, (conductor, tune) = tracks_of(smf.write(read("composer: Class 5\n{C} D4\nwords: la lo").song))
    assert [event[2:] for _, event in events_like(tune, b"\xff\x05")] == [b"la", b"lo"]
    assert events_like(conductor, b"\xff\x01") == [(0, b"\xff\x01Class 5")]


def test_a_long_gap_shortens_the_notes_of_the_file_as_it_does_the_sound():
    division, (_, tune) = tracks_of(smf.write(read("tempo: 60\ngap: 0.5\nC4 D4").song))
    assert [(end - start) / division for start, end, *_ in notes_of(tune)] == pytest.approx([0.5, 0.5], abs=0.01)


def test_drums_inside_a_voice_go_to_the_channel_of_percussion():
    _, (_, voice) = tracks_of(smf.write(read("C4 [sound drum kit] 36 38 [sound flute] C4").song))
    assert [(event[0] & 15, event[1]) for _, event in voice if event[0] & 0xF0 == 0x90] == [
        (0, 60),
        (9, 36),
        (9, 38),
        (0, 60),
    ]


def test_voices_beyond_fifteen_share_channels_with_those_that_sound_like_them():
    sounds = ["flute", "glass bell", "plucked string"]
    alike = read("\n".join(f"voice V{n}\nsound: {sounds[n % 3]}\nC4" for n in range(20))).song
    assert smf.crowded(alike) == ""
    _, (_, *tracks) = tracks_of(smf.write(alike))
    channels = [{data[0] & 15 for _, data in track if data[0] < 0xF0} for track in tracks]
    assert [len(each) for each in channels] == [1] * 20 and len(set().union(*channels)) == 15
    programs = {data[0] & 15: data[1] for track in tracks for _, data in track if data[0] & 0xF0 == 0xC0}
    assert all(programs[min(channel)] == programs[min(channels[n % 3])] for n, channel in enumerate(channels))
    different = read("\n".join(f"voice V{n}\npan: left {n}%\nC4" for n in range(17))).song
    assert "V15, V16 share channels" in smf.crowded(different)

"""Songs written as sheets: what is read back is the same song."""

from __future__ import annotations

from collections import Counter
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.sheet import Severity
from chickadee.sheet.writing import Lengths, write_song
from chickadee.song import Meter, Note, Song, Voice
from chickadee.theory import Pitch
from songs import QUARTER, songs


def plain(song):
    """All that a song is, but for where it is written."""
    tempos = [
        (t.tick, pytest.approx(t.quarters_per_minute, 1e-9), t.ramp, pytest.approx(t.target, 1e-9))
        for t in song.tempo.tempos
    ]
    return (
        song.title, song.composer, song.voices, [note._replace(spans=()) for note in song.notes], song.grid, song.keys, tempos,
        [(tick, pytest.approx(part, 1e-9)) for tick, part in song.tempo.swings], song.tempo.origin, song.tuning,
    )  # fmt: skip


@given(songs())
def test_a_song_written_and_read_is_the_same_song(song):
    reading = read(write_song(song))
    for mine, other in zip(plain(reading.song), plain(song), strict=True):
        assert mine == other
    errors = {finding.code for finding in reading.findings if finding.severity is Severity.ERROR}
    assert errors <= {"bar-length", "midi-division", "pickup"}  # which the song itself has


@given(songs(1))
def test_what_is_read_is_written_alike(song):
    text = write_song(song)
    assert write_song(read(text).song) == text


note = st.builds(
    lambda start, length, number, loudness, short: Note(start * QUARTER // 2, 0, length * QUARTER // 2, Pitch("C", 0, 4), number, loudness, short, ()),
    st.integers(0, 12), st.integers(1, 6), st.integers(20, 100), st.integers(1, 127), st.booleans(),
)  # fmt: skip


@given(st.lists(note, max_size=12))
def test_notes_that_overlap_go_into_more_voices_and_none_is_lost(notes):
    end = max((each.end for each in notes), default=0)
    song = Song(
        voices=(Voice("HeldKeys", end=end),), notes=tuple(sorted(notes, key=lambda each: (each.start, each.number)))
    )

    def sounds(song):
        return Counter((each.start, each.length, each.number, each.loudness, each.short) for each in song.notes)

    spelled = Song(
        voices=song.voices, notes=tuple(each._replace(pitch=song.key.spell(each.number)) for each in song.notes)
    )
    assert sounds(read(write_song(spelled)).song) == sounds(song)


@given(
    st.fractions(Fraction(1, 1000), 64, max_denominator=1000),
    st.sampled_from([None, 1, 4, 24]),
    st.sampled_from([Meter(), Meter(6, 8), Meter(2, 2)]),
)
def test_lengths_read_as_they_were_meant_in_any_meter_and_count(beats, parts, meter):
    ticks = beats * meter.beat_ticks
    if ticks.denominator != 1:
        return
    head = f"ticks: {parts}\n" if parts else ""
    written = Lengths(Meter(), parts).text(ticks, meter)
    assert [each.length for each in read(f"{head}[meter {meter.text}] C4{written}").song.notes] == [ticks]


@pytest.mark.parametrize("name", [":reed", ": Reed", "Reed: low", "voice", "reed // low"])
def test_a_voice_of_any_name_is_a_voice(name):
    reading = read(write_song(Song(voices=(Voice(name, end=QUARTER), Voice(name, end=QUARTER)))))
    assert not reading.findings and len(reading.song.voices) == 2

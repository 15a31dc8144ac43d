"""A song performed in real time: what is changed while it plays, round and round, notes beside it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.player import Playing
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.sound import Renderer
from chickadee.sound.performance import SAFE_CEILING, Performance
from chickadee.sound.score import Strike

RATE = 48_000
TUNE = "tempo: 120\nvoice A\n sound: glass bell\n level: p\n C5 E5=1/2 G5=1/2 rest A5=2\nvoice B\n sound: sine\n level: p\n C4=4"


def heard(performance, frames, block=480):
    return np.concatenate([performance.read(block) for _ in range(frames // block)])[:, 0]


def performing(playing, level=70):
    performance = Performance(RATE)
    performance.set_level(level)
    performance.read(1)  # the level is reached
    performance.play(playing.score, playing.part)
    return performance


def onsets(sound, threshold=0.003, quiet=0.01):
    """Frames at which sound begins after some silence."""
    loud = np.flatnonzero(np.abs(sound) > threshold)
    return loud[np.concatenate([[True], np.diff(loud) > quiet * RATE])]


@settings(max_examples=6)
@given(st.lists(st.integers(50, 3000), min_size=1, max_size=30))
def test_what_is_performed_is_what_is_rendered(sizes):
    song = read(TUNE).song
    renderer = Renderer(song, RATE)
    performance = performing(Playing(song))
    delay = round(performance.delay * RATE)
    expected = renderer.read(RATE)
    parts = []
    while sum(map(len, parts)) < RATE + delay:
        parts.append(performance.read(sizes[len(parts) % len(sizes)]))
    found = np.concatenate(parts)[delay : delay + RATE]
    assert np.abs(found - expected).max() < 1e-5


def test_the_seam_of_round_and_round_is_exact():
    song = read("tempo: 120\ngap: 0.1\nvoice A\n sound: sine\n C5 E5 G5 E5").song
    performance = performing(Playing(song, start=Q, end=3 * Q, round=True))
    sound = heard(performance, 6 * RATE)
    starts = onsets(sound)
    assert len(starts) == 12
    assert np.all(np.diff(starts[::2]) == RATE)  # a round of two beats takes a second, to the frame
    assert np.abs(np.diff(sound)).max() < 0.03
    assert performance.song_second(performance.frames) == pytest.approx(0.5 + 0.99, abs=0.02)


def test_a_note_edited_ahead_is_heard_and_what_sounds_goes_on_without_a_step():
    first, second = (Playing(read(f"tempo: 60\nvoice A\n sound: sine\n C4=2 {note}").song) for note in ("E4", "A4"))
    performance = performing(first)
    before = heard(performance, RATE)
    performance.change(second.score, second.part, first.moments_to(second))
    after = heard(performance, 2 * RATE)
    whole = np.concatenate([before, after])
    assert np.abs(np.diff(whole)).max() < 0.02
    untouched = heard(performing(first), RATE + RATE // 2)
    assert np.abs(whole[: len(untouched)] - untouched).max() < 1e-5
    spectrum = np.abs(np.fft.rfft(whole[round(2.2 * RATE) : round(2.7 * RATE)]))
    assert np.argmax(spectrum) * 2 == pytest.approx(440, abs=2)


def test_a_sounding_note_that_is_changed_changes_now_and_one_taken_away_stops():
    long, higher = (
        Playing(read(f"tempo: 60\nvoice A\n sound: organ pipe\n {note}").song) for note in ("A3=4", "A4=4")
    )
    performance = performing(long)
    heard(performance, RATE)
    performance.change(higher.score, higher.part, long.moments_to(higher))
    sound = heard(performance, RATE)
    soon = np.abs(np.fft.rfft(sound[RATE // 10 : RATE // 2]))  # 2.5 Hz a bin
    assert soon[176] > 20 * soon[88]
    nothing = Playing(read("tempo: 60\nvoice A\n rest=4").song)
    performance.change(nothing.score, nothing.part, higher.moments_to(nothing))
    assert np.abs(heard(performance, RATE)[RATE // 20 :]).max() == 0


def test_a_change_of_speed_keeps_the_place_and_the_pitch():
    song = read("tempo: 60\nvoice A\n sound: sine\n A4 B4 C5 D5").song
    usual = Playing(song)
    slow = Playing(song, speed=0.5)
    performance = performing(usual)
    heard(performance, RATE + RATE // 2)
    performance.change(slow.score, slow.part, usual.moments_to(slow))
    frame = performance.frames + performance.delay * RATE
    assert performance.song_second(frame) == pytest.approx(3, abs=0.001)  # beat 1.5 at half speed
    sound = heard(performance, 2 * RATE)
    later = np.abs(np.fft.rfft(sound[round(1.2 * RATE) : round(1.7 * RATE)]))
    assert np.argmax(later) * 2 == pytest.approx(523.25, abs=2)


def test_voices_are_silenced_and_heard_again_while_they_play():
    song = read(TUNE).song
    everything = Playing(song)
    bells = Playing(song, silent=frozenset({1}))
    performance = performing(everything)
    heard(performance, RATE // 4)
    performance.change(bells.score, bells.part, everything.moments_to(bells))
    quiet = heard(performance, 3 * RATE // 4)[RATE // 8 :]
    performance.change(everything.score, everything.part, bells.moments_to(everything))
    again = heard(performance, RATE // 2)[RATE // 8 :]

    def low(sound):
        spectrum = np.abs(np.fft.rfft(sound * np.hanning(len(sound)))) / len(sound)
        return spectrum[round(261.6 * len(sound) / RATE)]

    assert low(again) > 20 * low(quiet)


def test_a_count_in_comes_before_the_music_and_clicks_on_its_beats():
    song = read("meter: 3/4\ntempo: 120\nvoice A\n sound: flute\n rest=9").song
    playing = Playing(song, start=3 * Q, count_in=True, click=True)
    sound = heard(performing(playing), 5 * RATE)
    begins = onsets(sound, 0.002, 0.2) / RATE
    assert len(begins) == 9  # a bar before, and the two bars that are left
    assert np.diff(begins) == pytest.approx(0.5, abs=0.003)


def test_notes_beside_the_song_are_held_until_they_are_let_go():
    performance = Performance(RATE)
    performance.note_on("key", "organ pipe", Strike(69, 440.0, 0.6))
    held = heard(performance, 2 * RATE)
    assert np.abs(held[-RATE // 10 :]).max() > 0.02
    performance.note_on("key", "organ pipe", Strike(69, 440.0, 0.6))  # struck again before it was let go
    performance.note_off("key")
    performance.note_off("key")
    heard(performance, RATE)
    assert np.abs(heard(performance, RATE)).max() == 0
    assert performance.idle
    performance.note_on("a", "sine", Strike(60, 261.6, 0.6), seconds=0.2)
    assert np.abs(heard(performance, RATE)[RATE // 2 :]).max() == 0


def test_stopping_leaves_nothing_sounding():
    performance = performing(Playing(read("tempo: 60\n[pedal] C4&E4&G4=9").song))
    heard(performance, RATE)
    performance.note_on("x", "flute", Strike(60, 261.6, 0.6))
    performance.silence()
    sound = heard(performance, RATE // 2)
    assert np.abs(sound[RATE // 10 :]).max() == 0
    assert performance.idle and not performance.playing
    assert performance.song_second(performance.frames) is None


def test_it_is_never_loud_before_the_level_is_raised():
    crowd = "tempo: 60\n" + "\n".join(f"voice V{n}\n sound: {sound}\n level: 127\n C4&E4&G4&C5=2" for n, sound in enumerate(
        ["square", "saw", "brass horn", "organ pipe", "plucked string"]))  # fmt: skip
    playing = Playing(read(crowd).song)
    quiet = heard(performing(playing, level=50), RATE)
    assert np.abs(quiet).max() <= SAFE_CEILING + 1e-6
    assert np.sqrt((quiet**2).mean()) < 10 ** (-12 / 20)
    loud = performing(playing, level=100)
    raised = heard(loud, RATE)
    assert SAFE_CEILING < np.abs(raised).max() < 0.9
    assert loud.limited


def test_joining_in_the_middle_of_a_held_note():
    song = read("tempo: 60\nvoice A\n sound: organ pipe\n A4=4\nvoice B\n sound: sine\n rest=2 A5=2").song
    sound = heard(performing(Playing(song, start=Q)), RATE // 2)
    assert np.abs(sound[RATE // 10 :]).max() > 0.02
    own = np.abs(np.diff(heard(performing(Playing(song)), RATE))).max()
    assert np.abs(np.diff(sound)).max() < 1.01 * own
    alone = heard(performing(replace(Playing(song, start=Q), count_in=True)), 6 * RATE)
    assert np.abs(alone[round(4.2 * RATE) : round(4.8 * RATE)]).max() == 0  # counted in, only what is struck sounds


def test_a_performance_ends_once_everything_has_faded():
    performance = performing(Playing(read("tempo: 240\nvoice A\n sound: glass bell\n C5").song))
    while not performance.ended:
        performance.read(480)
        assert performance.frames < 10 * RATE
    assert performance.frames > RATE  # the bell rings after the song's last beat
    empty = performing(Playing(read("").song))
    empty.read(480)
    assert empty.ended

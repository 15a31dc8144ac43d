"""Pedal, swing, drums and changes of sound are heard where the song says."""

from __future__ import annotations

import numpy as np
import pytest

from chickadee import read
from chickadee.song.drums import DRUMS
from chickadee.sound import Score, rendered

RATE = 48_000


def samples(text):
    return np.concatenate(list(rendered(read(text).song)))[:, 0]


def onsets(text):
    """When each note is struck, in seconds, by the renderer's own score."""
    return Score.of(read(text).song).start.tolist()


def test_swing_and_ramps_move_the_onsets():
    assert onsets("tempo: 60\nswing: 60%\nC4=1/2 D4=1/2 E4=1/2 F4=1/2") == pytest.approx(
        [0, 0.6, 1, 1.6], abs=1 / RATE
    )
    slow = onsets("tempo: 120\n[slow to 60 over 4] C4 D4 E4 F4 G4 A4")
    gaps = np.diff(slow)
    assert np.all(np.diff(gaps[:4]) > 0)
    assert gaps[4] == pytest.approx(1, abs=1e-4)


def test_the_pedal_lets_notes_ring_until_it_is_lifted():
    text = "tempo: 60\nvoice V\nsound: sine\n{} C4 rest=2 {} rest"
    held = samples(text.format("[pedal]", "[lift]"))
    plain = samples(text.format("", ""))
    middle = slice(round(1.5 * RATE), 2 * RATE)
    late = slice(round(3.2 * RATE), round(3.6 * RATE))
    assert np.abs(held[middle]).max() > 0.07
    assert np.abs(plain[middle]).max() == 0
    assert np.abs(held[late]).max() == 0


def test_a_change_of_sound_is_heard_from_its_place():
    changed = samples("tempo: 60\nvoice V\nsound: sine\nA4 [sound glass bell] A4")
    bell = samples("tempo: 60\nvoice V\nsound: glass bell\nrest A4")
    sine = samples("tempo: 60\nvoice V\nsound: sine\nA4")
    assert np.abs(changed[:RATE] - sine[:RATE]).max() < 1e-9
    later = slice(RATE + RATE // 10, 2 * RATE)  # past the first note's release
    assert np.abs(changed[later] - bell[later]).max() < 1e-9


@pytest.mark.parametrize("drum", DRUMS)
def test_every_drum_is_struck_at_once_and_fades_to_silence(drum):
    hit = samples(f"tempo: 60\nvoice V\nsound: drum kit\n{drum} rest=2")
    assert 0.02 < np.abs(hit[: RATE // 20]).max() < 0.9
    assert np.all(hit[-50:] == 0)
    early = np.sqrt((hit[:4800] ** 2).mean())
    late = np.sqrt((hit[RATE : RATE + 4800] ** 2).mean())
    assert late < early


def test_drums_differ_and_their_low_ones_are_low():
    def centre(drum):
        spectrum = np.abs(np.fft.rfft(samples(f"voice V\nsound: drum kit\n{drum}")[:9600])) ** 2
        return (spectrum * np.arange(len(spectrum))).sum() / spectrum.sum()

    assert centre("kick") < centre("low-tom") < centre("snare") < centre("hat")


def test_accent_stress_and_swell_reach_the_sound():
    loud = [np.abs(samples(f"tempo: 60\nvoice V\nsound: sine\n{note}")).max() for note in ("C4", ">C4", "[f] >C4")]
    assert loud == sorted(loud)
    assert len(set(loud)) == 3

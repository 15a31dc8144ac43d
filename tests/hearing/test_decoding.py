"""Files of telephones and screens: each kind opens with its length, broken and hostile ones are one sentence."""

from __future__ import annotations

import struct
import time
from fractions import Fraction

import av
import numpy as np
import pytest
import soundfile

import chickadee
from chickadee.files import FileFault
from chickadee.hearing.decoding import decoded
from chickadee.hearing.listening import doubts, listen
from chickadee.hearing.overview import power_of
from chickadee.hearing.playable import Playable
from chickadee.hearing.sound_file import open_recording, read_blocks

RATE = 48_000
SECONDS = 3.0
KINDS = {
    "m4a": ("ipod", "aac", RATE), "aac": ("adts", "aac", RATE), "3gp": ("3gp", "aac", RATE),
    "amr": ("amr", "libopencore_amrnb", 8_000), "opus": ("ogg", "libopus", RATE), "webm": ("webm", "libopus", RATE),
    "mp4": ("mp4", "aac", RATE), "mkv": ("matroska", "flac", RATE),
}  # fmt: skip
"""By suffix: container, encoder and samples a second."""


@pytest.fixture(autouse=True)
def own_cache(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))


def melody(rate: int = RATE) -> np.ndarray:
    sound = chickadee.render(chickadee.read("tempo: 60\nsound: organ pipe\nG4 B4 D5"), rate=rate).mean(axis=1)
    return np.asarray(sound[: round(SECONDS * rate)], np.float32)


def encoded(path, suffix: str, samples: np.ndarray, tracks: int = 1, video: bool = False) -> None:
    """Write samples as a general encoder does, in as many tracks, after a picture where that is wished."""
    container, codec, rate = KINDS[suffix]
    with av.open(str(path), "w", format=container) as out:
        if video:
            picture = out.add_stream("mpeg4", rate=10)
            picture.width, picture.height, picture.pix_fmt = 64, 48, "yuv420p"
        streams = [out.add_stream(codec, rate=rate, layout="mono") for _ in range(tracks)]
        if video:
            for number in range(round(10 * SECONDS)):
                frame = av.VideoFrame.from_ndarray(np.full((48, 64, 3), 8 * number % 255, np.uint8), format="rgb24")
                out.mux(picture.encode(frame))
            out.mux(picture.encode(None))
        for number, stream in enumerate(streams):
            part = samples if not number else np.zeros_like(samples)
            for start in range(0, len(part), 960):
                block = (part[start : start + 960] * 32767).astype(np.int16)[None, :]
                frame = av.AudioFrame.from_ndarray(block, format="s16", layout="mono")
                frame.sample_rate = rate
                frame.pts = start
                frame.time_base = Fraction(1, rate)
                out.mux(stream.encode(frame))
            out.mux(stream.encode(None))


@pytest.mark.parametrize("suffix", KINDS)
def test_each_kind_opens_with_its_length_and_its_notes(tmp_path, suffix):
    rate = KINDS[suffix][2]
    path = tmp_path / f"tune.{suffix}"
    encoded(path, suffix, melody(rate))
    recording = open_recording(path)
    assert recording.path == path and recording.seconds == pytest.approx(SECONDS, abs=0.09)
    numbers = [note.number for note in listen(path).notes]
    assert numbers == [67, 71, 74] or (suffix == "amr" and list(dict.fromkeys(numbers)) == [67, 71, 74])
    power = np.concatenate(list(power_of(path)))
    assert len(power) == pytest.approx(SECONDS / 0.005, abs=20) and power[100] > 0
    assert np.abs(Playable(path, RATE).samples(RATE // 2, RATE // 4)).max() > 0.01
    if suffix != "opus":  # which needs no decoder
        (unpacked,) = (tmp_path / "cache" / "chickadee" / "decoded").iterdir()
        made = unpacked.stat().st_ino
        assert decoded(path) == unpacked and unpacked.stat().st_ino == made  # once


def test_a_video_gives_the_first_of_its_tracks_and_says_that_there_are_more(tmp_path):
    path = tmp_path / "lesson.mp4"
    encoded(path, "mp4", melody(), tracks=3, video=True)
    recording = open_recording(path)
    assert recording.more_tracks == 2 and recording.seconds == pytest.approx(SECONDS, abs=0.09)
    assert [note.number for note in listen(path).notes] == [67, 71, 74]


def test_what_is_broken_or_follows_addresses_is_one_sentence(tmp_path):
    path = tmp_path / "a.m4a"
    encoded(path, "m4a", melody())
    whole = path.read_bytes()
    hostile = {
        "cut.m4a": whole[: len(whole) // 2], "empty.mp4": b"", "noise.mkv": bytes(range(256)) * 40,
        "list.m4a": b"#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nhttp://127.0.0.1:9/x.ts\n",
        "concat.mp4": b"ffconcat version 1.0\nfile /etc/passwd\n",
    }  # fmt: skip
    for name, data in hostile.items():
        (tmp_path / name).write_bytes(data)
        with pytest.raises(FileFault) as fault:
            open_recording(tmp_path / name)
        assert fault.value.reason in ("this is no sound file that can be read", "there is no sound in it"), name
    silent = tmp_path / "mute.mp4"
    encoded(silent, "mp4", melody()[:0], tracks=0, video=True)
    with pytest.raises(FileFault, match="no sound in it"):
        open_recording(silent)
    assert not list((tmp_path / "cache" / "chickadee" / "decoded").iterdir())  # nothing half is left


def test_unpacking_is_stopped_at_once(tmp_path):
    path = tmp_path / "a.webm"
    encoded(path, "webm", melody())
    start = time.perf_counter()
    with pytest.raises(FileFault, match="stopped"):
        open_recording(path, lambda: True)
    assert time.perf_counter() - start < 2
    assert open_recording(path).frames > 0


def test_a_recorder_that_was_interrupted_is_read_as_far_as_it_came(tmp_path):
    path = tmp_path / "a.wav"
    soundfile.write(path, melody(), RATE, "PCM_16")
    data = bytearray(path.read_bytes())
    at = data.index(b"data") + 4
    data[at : at + 4] = struct.pack("<I", 0)
    data[4:8] = struct.pack("<I", 0)
    path.write_bytes(data)
    assert open_recording(path).seconds == pytest.approx(SECONDS, abs=0.01)
    assert [note.number for note in listen(path).notes] == [67, 71, 74]


def test_sides_that_cancel_are_read_one_alone(tmp_path):
    path = tmp_path / "a.wav"
    left = melody()
    soundfile.write(path, np.stack((left, -0.9 * left), axis=1), RATE, "FLOAT")
    recording = open_recording(path)
    assert recording.side == 0
    blocks = np.concatenate(list(read_blocks(recording)))
    assert np.abs(blocks).max() > 0.5 * np.abs(left).max()
    assert [note.number for note in listen(path).notes] == [67, 71, 74]
    soundfile.write(path, np.stack((left, 0.2 * left), axis=1), RATE, "FLOAT")
    assert open_recording(path).side is None


def test_a_bump_silences_no_melody_and_silence_says_why(tmp_path):
    path = tmp_path / "a.wav"
    quiet = melody() * 0.03
    bump = np.random.default_rng(3).normal(size=RATE // 20).astype(np.float32)
    loud = quiet.copy()
    loud[100 : 100 + len(bump)] += bump * np.abs(quiet).max() * 10 ** (28 / 20) / np.abs(bump).max()
    soundfile.write(path, loud, RATE, "FLOAT")
    assert [note.number for note in listen(path).notes][-2:] == [71, 74]
    noise = np.random.default_rng(4).normal(size=2 * RATE).astype(np.float32) * 0.05
    for samples, why in ((np.zeros(RATE, np.float32), "It is silent."), (noise, "clear pitch")):
        soundfile.write(path, samples, RATE, "FLOAT")
        heard = listen(path)
        assert not heard.notes and why in doubts(heard)

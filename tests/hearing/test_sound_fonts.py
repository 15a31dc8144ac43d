"""Sound fonts as they are read for teaching: one made here by the standard, and the ones that are installed."""

from __future__ import annotations

import struct

import numpy as np
import pytest

from melodies import RATE, Played
from sampled import EXAMINED, FONTS, TAUGHT, _sound, fonts_are_there, performed, sampled_piece
from sound_font import SoundFont

SAMPLE_RATE = 44_100
PERIOD = 100  # samples: 441 Hz
LOOPED_FROM = 20 * PERIOD
SAMPLES = (20_000 * np.sin(2 * np.pi * np.arange(40 * PERIOD) / PERIOD)).astype("<i2")


def chunk(name, data):
    return name.encode() + struct.pack("<I", len(data)) + data + b"\0" * (len(data) % 2)


def a_list(kind, *chunks):
    return chunk("LIST", kind.encode() + b"".join(chunks))


def table(form, *rows):
    return b"".join(struct.pack(form, *row) for row in rows)


def font(tmp_path, inside, around=(), kind=1):
    """A font of one preset with one instrument: its generators, those of the preset, and the kind of its sample."""
    sample = [*inside, (53, 0)]
    preset = [*around, (41, 0)]
    header = (b"A", 0, len(SAMPLES), LOOPED_FROM, LOOPED_FROM + 10 * PERIOD, SAMPLE_RATE, 69, 0, 0, kind)
    body = a_list("sdta", chunk("smpl", SAMPLES.tobytes())) + a_list(
        "pdta",
        chunk("phdr", table("<20s3H3I", (b"P", 4, 0, 0, 0, 0, 0), (b"EOP", 0, 0, 1, 0, 0, 0))),
        chunk("pbag", table("<2H", (0, 0), (len(preset), 0))),
        chunk("pmod", b"\0" * 10),
        chunk("pgen", table("<Hh", *preset, (0, 0))),
        chunk("inst", table("<20sH", (b"I", 0), (b"EOI", 1))),
        chunk("ibag", table("<2H", (0, 0), (len(sample), 0))),
        chunk("imod", b"\0" * 10),
        chunk("igen", table("<Hh", *sample, (0, 0))),
        chunk("shdr", table("<20s5IBbHH", header, (b"EOS", 0, 0, 0, 0, 0, 0, 0, 0, 0))),
    )
    path = tmp_path / "made.sf2"
    path.write_bytes(b"RIFF" + struct.pack("<I", len(body) + 4) + b"sfbk" + body)
    return SoundFont(path)


def hertz_of(samples, rate):
    spectrum = np.abs(np.fft.rfft(samples * np.hanning(len(samples)), 1 << 18))
    return np.argmax(spectrum) * rate / (1 << 18)


def test_a_zone_says_what_the_tables_say(tmp_path):
    inside = [(43, 40 | 90 << 8), (34, -3986), (38, 0), (37, 120), (48, 100), (52, 50), (54, 1)]
    (zone,) = font(tmp_path, inside, [(52, -20)]).zones(4, 60)
    assert zone.loop == (LOOPED_FROM, LOOPED_FROM + 10 * PERIOD) and zone.rate == SAMPLE_RATE
    assert zone.root == pytest.approx(69 - 0.3) and zone.scale == 1
    assert zone.attack == pytest.approx(0.1, rel=0.01) and zone.release == 1 and zone.sustain == 12
    assert zone.attenuation == pytest.approx(4)
    assert np.allclose(zone.samples, SAMPLES / 32768)
    assert font(tmp_path, inside).zones(4, 91) == [] and font(tmp_path, inside, kind=2).zones(4, 60) == []


@pytest.mark.parametrize("number", [45, 57, 69, 76])
def test_a_looped_sample_sounds_at_the_pitch_of_its_key_for_as_long_as_it_is_held(tmp_path, number):
    (zone,) = font(tmp_path, [(54, 1), (38, -12000)]).zones(4, number)
    rate = 2 * RATE
    note = _sound(zone, number, 1.5, np.zeros(3 * rate))
    assert hertz_of(note[rate // 2 : rate], rate) == pytest.approx(441 * 2 ** ((number - 69) / 12), rel=0.002)
    assert np.abs(note[rate : int(1.49 * rate)]).max() > 0.5 and 1.5 <= len(note) / rate < 1.55
    (short,) = font(tmp_path, []).zones(4, number)
    ended = _sound(short, number, 1.5, np.zeros(3 * rate))
    assert np.abs(ended[rate:]).max() < 1e-6  # it is not looped, and over


def test_what_is_no_sound_font_is_said_to_be_none(tmp_path):
    path = tmp_path / "a.sf2"
    path.write_bytes(b"RIFF\0\0\0\0WAVE")
    with pytest.raises(ValueError, match="no sound font"):
        SoundFont(path)


@pytest.mark.skipif(not fonts_are_there(), reason="the sound fonts are not installed")
class TestInstalled:
    def test_no_sample_that_examines_is_one_that_teaches(self):
        fonts = [SoundFont(path) for path in FONTS]

        def samples(program):
            zones = [zone for number in range(36, 97) for zone in fonts[0].zones(program, number)]
            return {zone.samples.tobytes()[:4000] for zone in zones}

        taught = set.union(*(samples(program) for program in TAUGHT))
        examined = {program for program, _ in EXAMINED.values()} - set(TAUGHT) - {21}
        assert len(examined) > 24
        assert not [program for program in examined if samples(program) & taught]

    @pytest.mark.parametrize(("font", "name"), [(0, "violin"), (1, "trumpet"), (0, "clarinet"), (1, "piano")])
    def test_an_instrument_plays_in_tune(self, font, name):
        samples = performed(font, EXAMINED[name][0], [Played(0.1, 69, 1.0, 0.5)])
        part = samples[RATE // 2 : RATE]
        spectrum = np.abs(np.fft.rfft(part * np.hanning(len(part)), 1 << 17))
        near = slice(*(int(hertz * (1 << 17) / RATE) for hertz in (420, 460)))
        found = (near.start + spectrum[near].argmax()) * RATE / (1 << 17)
        assert abs(1200 * np.log2(found / 440)) < 15

    @pytest.mark.parametrize("lines", [False, True])
    def test_a_piece_is_the_same_each_time_and_its_notes_are_in_it(self, lines):
        one = sampled_piece(3, lines)
        again = sampled_piece(3, lines)
        assert np.array_equal(one.samples, again.samples) and one.notes == again.notes
        assert np.isfinite(one.samples).all() and 0.005 < np.abs(one.samples).max() <= 0.9
        assert all(start < len(one.samples) / RATE for start, _ in one.notes)

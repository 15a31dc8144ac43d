"""MusicXML, both ways: what is written adds up and reads back, and each topic of the standard sounds as it must."""

from __future__ import annotations

from collections import Counter
from fractions import Fraction as F
from xml.etree import ElementTree as ET

import pytest
from hypothesis import given
from hypothesis import strategies as st
from score_check import faults_of

from chickadee import read as read_sheet
from chickadee.formats import musicxml
from chickadee.notation import VoiceNotation
from chickadee.notation.record import record_of
from chickadee.sheet.writing import write_song
from chickadee.song import TICKS_PER_QUARTER as Q
from songs import songs


def everything(song):
    return Counter((note.start, note.length, note.pitch.text, note.number, note.loudness, note.short, note.syllable.replace("_", ""))
                   for note in song.notes)  # fmt: skip


@given(songs())
def test_any_song_written_and_read_is_the_same_to_the_tick(song):
    data = musicxml.write(song)
    if not song.notes:
        with pytest.raises(musicxml.MusicXmlFault):
            musicxml.read(data)
        return
    again = musicxml.read(musicxml.write_compressed(song)).song
    drums = {index for index, voice in enumerate(song.voices) if voice.is_drums}
    expected = Counter()
    for note in song.notes:
        pitch = note.pitch.text if note.voice not in drums else again.key.spell(note.number).text
        expected[note.start, note.length, pitch, note.number, note.loudness, note.short] += 1
    found = Counter()
    for note in again.notes:
        pitch = note.pitch.text if not again.voices[note.voice].is_drums else again.key.spell(note.number).text
        found[note.start, note.length, pitch, note.number, note.loudness, note.short] += 1
    assert found == expected


@given(songs())
def test_every_score_has_whole_bars_tuplets_ties_and_beams(song):
    data = musicxml.write(song)
    assert not faults_of(data)
    for part in ET.fromstring(data).findall("part"):
        divisions = int(part.findtext("measure/attributes/divisions"))
        for (_, start), measure in zip(song.grid.starts(max(song.end, 1)), part.findall("measure"), strict=True):
            length = song.grid.end(song.grid.number_at(start)) - start
            notes = [note for note in measure.findall("note") if note.find("chord") is None]
            first = [note for note in notes if note.findtext("voice") == notes[0].findtext("voice")]
            assert sum(F(int(note.findtext("duration")), divisions) for note in first) == F(length, Q)


@pytest.mark.parametrize(
    "name", ["C dorian", "E phrygian", "F lydian", "G mixolydian", "B locrian", "A minor", "D major"]
)
def test_a_key_comes_back_as_it_was(name):
    assert musicxml.read(musicxml.write(read_sheet(f"key: {name}\nC4 D4 E4 F4").song)).song.key.text == name


def test_a_tuplet_that_a_hold_or_a_bar_line_interrupts_ends():
    for text in (
        "C4=2/3 D4=1/3 - E4=2/3 F4=4/3",
        "C4=10/3 D4=2/3 | - E4=1/3 F4=2/3 G4=2",
        "(C4 rest)=1 C4=1/3 -=3/2 C4=1/6",
    ):
        assert not faults_of(musicxml.write(read_sheet(text).song))


# The topics of the standard, each a few bars


def score(body: str, head: str = "", parts: str = "") -> bytes:
    listed = parts or '<score-part id="P1"><part-name>Whistle</part-name></score-part>'
    return f'<score-partwise version="4.0">{head}<part-list>{listed}</part-list>{body}</score-partwise>'.encode()


def part(*bars: str, attributes: str = "") -> str:
    first = f"<attributes><divisions>4</divisions><time><beats>4</beats><beat-type>4</beat-type></time>{attributes}</attributes>"
    return '<part id="P1">' + "".join(
        f'<measure number="{n}">{first if n == 1 else ""}{bar}</measure>' for n, bar in enumerate(bars, 1)) + "</part>"  # fmt: skip


def n(step: str, duration: int = 4, more: str = "", octave: int = 4, before: str = "") -> str:
    pitch = f"<pitch><step>{step}</step><octave>{octave}</octave></pitch>" if step else "<rest/>"
    return f"<note>{before}{pitch}<duration>{duration}</duration>{more}</note>"


def sounds(data: bytes):
    return [(F(note.start, Q), F(note.length, Q), note.number) for note in musicxml.read(data).song.notes]


def heard(data: bytes) -> str:
    return " ".join(note.pitch.text for note in musicxml.read(data).song.notes)


TIE = '<tie type="{}"/>'
REPEAT = '<barline><repeat direction="{}"/></barline>'
BACK = '<repeat direction="backward"/>'
BACKWARD = REPEAT.format("backward")
SIGN = "<direction><direction-type><{}/></direction-type></direction>"
ENDING = '<barline><ending number="{0}" type="start"/></barline>{1}<barline><ending number="{0}" type="stop"/>{2}</barline>'


@pytest.mark.parametrize(
    ("data", "expected"),
    [
        (score(part(n("C", 16, TIE.format("start")), n("C", 8, TIE.format("stop")) + n("D", 8))), [(0, 6, 60), (6, 2, 62)]),
        (score(part(n("C", 16, TIE.format("start") + "<voice>1</voice>"),
                    n("C", 8, TIE.format("stop") + "<voice>2</voice>") + n("D", 8, "<voice>1</voice>"))), [(0, 6, 60), (6, 2, 62)]),
        (score(part(n("C", 16, TIE.format("start") + "<staff>1</staff>"), n("C", 16, TIE.format("stop") + "<staff>2</staff>"))),
         [(0, 8, 60)]),
        (score(part(n("C", 8) + n("E", 8, before="<chord/>") + n("", 4) + n("D"))), [(0, 2, 60), (0, 2, 64), (3, 1, 62)]),
        (score(part(n("C", 16) + "<backup><duration>16</duration></backup>" + n("E", 8, "<voice>2</voice>", 5) + "<forward><duration>4</duration></forward>"
                    + n("D", 4, "<voice>2</voice>", 5))), [(0, 4, 60), (0, 2, 76), (3, 1, 74)]),
        (score(part(n("C", 16), attributes="<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>")), [(0, 4, 58)]),
        (score(part(n("D", 0, before="<grace/>").replace("<duration>0</duration>", "") + n("C", 16))), [(0, 4, 60)]),
        (score(part(n("C", 6) + n("D", 2) + n("E", 8))), [(0, F(3, 2), 60), (F(3, 2), F(1, 2), 62), (2, 2, 64)]),
        (score(part(n("C", 16) + n("", 0), "<attributes><divisions>3</divisions></attributes>" + n("D", 2) + n("E", 1) + n("F", 9))),
         [(0, 4, 60), (4, F(2, 3), 62), (F(14, 3), F(1, 3), 64), (5, 3, 65)]),
    ],
)  # fmt: skip
def test_notes_sound_as_the_standard_says(data, expected):
    assert sounds(data) == expected


def said(words: str) -> str:
    return f"<direction><direction-type><words>{words}</words></direction-type></direction>"


@pytest.mark.parametrize(
    ("bars", "expected"),
    [
        ([n("C", 16), REPEAT.format("forward") + n("D", 16), n("E", 16) + REPEAT.format("backward"), n("F", 16)], "C4 D4 E4 D4 E4 F4"),
        ([n("C", 16), ENDING.format(1, n("D", 16), '<repeat direction="backward"/>'), ENDING.format(2, n("E", 16), ""), n("F", 16)], "C4 D4 C4 E4 F4"),
        ([n("C", 16), n("D", 16) + '<sound fine="yes"/>', n("E", 16) + '<sound dacapo="yes"/>'], "C4 D4 E4 C4 D4"),
        ([n("C", 16), '<sound segno="a"/>' + n("D", 16), n("E", 16) + '<sound tocoda="b"/>', n("F", 16) + '<sound dalsegno="a"/>',
          '<sound coda="b"/>' + n("G", 16)], "C4 D4 E4 F4 D4 E4 G4"),
        ([n("C", 16), ENDING.format("1, 2", n("D", 16), BACK), ENDING.format(3, n("E", 16), ""), n("F", 16)], "C4 D4 C4 D4 C4 E4 F4"),
        ([n("C", 16), ENDING.format(1, n("D", 16), BACK), ENDING.format(2, n("E", 16), BACK), ENDING.format(3, n("F", 16), "")],
         "C4 D4 C4 E4 C4 F4"),
        ([n("C", 16), ENDING.format(1, n("D", 16), BACK.replace("/>", ' times="3"/>')), ENDING.format(2, n("E", 16), "")], "C4 D4 C4 E4"),
        ([n("C", 16), ENDING.format(1, n("D", 16), BACK), ENDING.format(2, n("E", 16), ""), n("F", 16) + BACKWARD, n("G", 16)],
         "C4 D4 C4 E4 F4 F4 G4"),
        ([n("C", 16), ENDING.format(1, n("D", 16), BACK), ENDING.format(2, n("E", 16), ""), n("F", 16) + said("D.C. al Fine"),
          n("G", 16)], "C4 D4 C4 E4 F4 C4 E4 F4 G4"),
        ([n("C", 16), n("D", 16) + said("Fine"), n("E", 16) + said("D.C. al Fine")], "C4 D4 E4 C4 D4"),
        ([n("C", 16), SIGN.format("segno") + n("D", 16), n("E", 16) + said("To Coda"), n("F", 16) + said("D.S. al Coda"),
          SIGN.format("coda") + n("G", 16)], "C4 D4 E4 F4 D4 E4 G4"),
        ([n("C", 16), SIGN.format("segno") + n("D", 16), n("E", 16) + SIGN.format("coda"), n("F", 16) + said("Dal Segno al Coda"),
          SIGN.format("coda") + n("G", 16)], "C4 D4 E4 F4 D4 E4 G4"),
    ],
)  # fmt: skip
def test_bars_are_played_in_their_order(bars, expected):
    assert heard(score(part(*bars))) == expected


def test_what_is_not_followed_is_listed():
    words = "<lyric><text>la</text></lyric><lyric number='2'><text>lo</text></lyric>"
    found = musicxml.read(score(part(n("C", 16, f"<notations><fermata/></notations>{words}") + said("poco rit."))))
    assert found.song.notes[0].syllable == "la"
    assert set(found.left_out) == {
        "1 fermata has no place in a sheet.", "1 rit. or accel. mark has no place in a sheet.",
        "1 later verse's syllable has no place in a sheet.",
    }  # fmt: skip


def test_a_tie_that_comes_from_no_note_is_listed_and_one_that_a_repeat_jumps_over_is_not():
    stop = n("C", 16, TIE.format("stop"))
    lone = musicxml.read(score(part(n("D", 16), stop)))
    assert lone.left_out == ("1 tie without its other note has no place in a sheet.",)
    start = REPEAT.format("forward") + n("C", 16, TIE.format("start"))
    assert not musicxml.read(score(part(n("C", 16), start, stop + BACKWARD, n("E", 16)))).left_out


def test_tempo_loudness_words_key_meter_pickup_and_drums():
    data = score(
        part(
            '<direction><direction-type><metronome><beat-unit>quarter</beat-unit><beat-unit-dot/><per-minute>60</per-minute></metronome>'
            "</direction-type></direction><direction><direction-type><dynamics><p/></dynamics></direction-type></direction>"
            + n("G", 2, "<lyric><syllabic>begin</syllabic><text>Reeds</text></lyric>"),
            n("C", 12, "<notations><articulations><accent/></articulations></notations>"
              "<lyric><syllabic>end</syllabic><text>bend</text></lyric>"),
            attributes="<key><fifths>-1</fifths><mode>minor</mode></key>",
        ).replace("<beats>4</beats><beat-type>4</beat-type>", "<beats>6</beats><beat-type>8</beat-type>"),
        head="<work><work-title>Reeds</work-title></work>",
    )  # fmt: skip
    song = musicxml.read(data).song
    assert (song.title, song.meter.text, song.grid.pickup, song.key.text) == ("Reeds", "6/8", Q // 2, "D minor")
    assert [(note.loudness, note.syllable) for note in song.notes] == [(49, "Reeds-"), (65, "bend")]
    assert song.tempo.tempos[0].quarters_per_minute == 90
    drums = score('<part id="P1"><measure number="1"><note><unpitched><display-step>E</display-step><display-octave>4</display-octave></unpitched>'
                  '<duration>1</duration><instrument id="I"/></note></measure></part>',
                  parts='<score-part id="P1"><part-name>Drums</part-name><midi-instrument id="I"><midi-unpitched>37</midi-unpitched></midi-instrument></score-part>')  # fmt: skip
    (voice,) = musicxml.read(drums).song.voices
    assert voice.is_drums and sounds(drums) == [(0, 1, 36)]


def test_a_transposing_part_sounds_in_the_song_s_key():
    attributes = "<key><fifths>2</fifths></key><transpose><chromatic>-2</chromatic></transpose>"
    song = musicxml.read(score(part(n("D", 16), attributes=attributes))).song
    assert song.key.text == "C major" and song.notes[0].pitch.text == "C4"


def test_a_bar_whose_length_no_meter_has_goes_on_in_the_meter_before():
    finer = "<attributes><divisions>12</divisions></attributes>"
    bars = n("C", 16), finer + n("C", 91), n("E", 48)
    made = write_song(musicxml.read(score(part(*bars))).song)
    assert not read_sheet(made).findings


def test_a_pitch_without_its_letter_is_left_out():
    assert sounds(score(part(n("C", 8) + n("C", 8).replace("<step>C</step>", "<step></step>")))) == [(0, 2, 60)]


def test_timewise_scores_and_what_has_no_place():
    timewise = score(
        "<measure number='1'><part id='P1'>"
        + n("C", 1)
        + "<harmony><root><root-step>C</root-step></root></harmony>"
        + n("D", 1)
        + "</part></measure>"
    )
    found = musicxml.read(timewise.replace(b"score-partwise", b"score-timewise"))
    assert [note.number for note in found.song.notes] == [60, 62]
    assert found.left_out == ("1 chord symbol has no place in a sheet.",)


@pytest.mark.parametrize(
    "data",
    [
        b"<score-partwise/>",
        b"<score-partwise><part-list/>",
        b"<html/>",
        b"PK\x03\x04 not a zip",
        b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><score-partwise>&b;</score-partwise>',
        musicxml.write_compressed(read_sheet("C4 D4").song)[:-30],
    ],
)  # fmt: skip
def test_what_is_no_score_is_said_in_a_sentence(data):
    with pytest.raises(musicxml.MusicXmlFault) as fault:
        musicxml.read(data)
    assert str(fault.value).endswith(".")


@given(st.data())
def test_any_score_with_slips_is_read_or_refused(data):
    text = bytearray(
        musicxml.write(read_sheet("meter: 3/4\n[tempo 90] C4 'E4&G4=2 | {Am}=1/3 D4=2/3 E4=2 |\nwords: a b").song)
    )
    for _ in range(data.draw(st.integers(1, 4))):
        at = data.draw(st.integers(0, len(text) - 1))
        text[at : at + data.draw(st.integers(0, 12))] = data.draw(
            st.sampled_from([b"", b"0", b"-9", b"<note>", b"1e9", b"</part>", b"x"])
        )
    try:
        assert musicxml.read(bytes(text)).song.notes
    except musicxml.MusicXmlFault as fault:
        assert str(fault).endswith(".")


@given(songs())
def test_a_score_read_again_has_the_same_notation(song):
    """For voices on one staff, as a part of two becomes two voices, and bars that are as long as their meter says."""
    voices = [voice for voice, notes in enumerate(song.by_voice) if len(notes)]
    notations = [VoiceNotation(song, voice) for voice in voices]
    if not voices or any(len(notation.clefs) > 1 or len(notation.bars) < 2 for notation in notations):
        return
    if any(bar.end - bar.start != song.grid.meter_at(bar.start).bar_ticks for bar in notations[0].bars if bar.number):
        return
    again = musicxml.read(musicxml.write(song)).song
    for voice, notation in enumerate(notations):
        other = VoiceNotation(again, voice)
        bars = range(min(len(notation.bars), len(other.bars)))
        assert record_of(notation, bars)["bars"] == record_of(other, bars)["bars"]

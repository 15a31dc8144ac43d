"""The rules of notation, each by an example: what is typed, and how it is written."""

from __future__ import annotations

import pytest

from chickadee import read
from chickadee.notation import Beam, Stem, VoiceNotation

SIGNS = {1: "#", -1: "b", 0: "n", 2: "x", -2: "bb"}
TYPES = {"whole": "1", "half": "2", "quarter": "4", "eighth": "8", "16th": "16", "32nd": "32", "64th": "64"}
BEAMS = {Beam.BEGIN: "(", Beam.CONTINUE: "-", Beam.END: ")", Beam.FORWARD_HOOK: ">", Beam.BACKWARD_HOOK: "<"}


def written(text: str, number: int | None = None, voice: int = 0) -> str:
    """A bar as one line: accidental, pitch, type and dots, tuplet, tie, beams; lines apart by a bar."""
    notation = VoiceNotation(read(text).song, voice)
    bars = [bar for bar in notation.all_bars() if number in (None, bar.number)]
    return " | ".join(" & ".join(" ".join(map(shown, line.items)) for line in bar.lines) for bar in bars)


def shown(item) -> str:
    heads = []
    for head in item.heads:
        sign = ""
        if head.accidental is not None:
            sign = (
                f"({SIGNS[head.accidental.semitones]})"
                if head.accidental.courtesy
                else SIGNS[head.accidental.semitones]
            )
        heads.append(f"{sign}{head.pitch.letter}{head.pitch.octave}")
    tuplet = f"[{item.length.actual}:{item.length.normal}]" if item.tuplet else ""
    tie = "~" if item.heads and item.heads[0].tied else ""
    name = "&".join(heads) or ("R" if item.whole_bar else "r")
    beams = "".join(BEAMS[beam] for beam in item.beams)
    return f"{name}:{TYPES[item.length.type]}{'.' * item.length.dots}{tuplet}{tie}{beams}" + (
        "" if item.exact else "?"
    )


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("C4 D4=2 E4", "C4:4 D4:4~ D4:4 E4:4"),
        ("C4=3 D4", "C4:2. D4:4"),
        ("C4 D4=3", "C4:4 D4:4~ D4:2"),
        ("C4=1/2 D4 E4=1/2 F4=2", "C4:8 D4:4 E4:8 F4:2"),
        ("C4=1/2 D4=3/2 E4=2", "C4:8 D4:4. E4:2"),
        ("C4=3/2 D4=1/2 E4=7/4 F4=1/4", "C4:4. D4:8 E4:4.. F4:16"),
        ("C4=1/4 D4=1/2 E4=1/4 F4=3", "C4:16(> D4:8- E4:16)< F4:4~ F4:2"),
        ("C4=5/2 D4=3/2", "C4:2~ C4:8 D4:4."),
        ("meter: 3/4\nC4=1/2 D4=5/2 | C4=5/2 D4=1/2 | C4 D4=2", "C4:8( D4:8~) D4:2 | C4:2~ C4:8( D4:8) | C4:4 D4:2"),
        ("meter: 6/8\nC4=2 D4=2 E4=2 | C4=3 D4=3 | C4=6", "C4:4 D4:8~ D4:8 E4:4 | C4:4. D4:4. | C4:2."),
        ("meter: 6/8\nC4 D4 E4 F4 rest G4", "C4:8( D4:8- E4:8) F4:8 r:8 G4:8"),
        ("meter: 7/8\nC4 D4 E4 F4 G4 A4 B4", "C4:8( D4:8) E4:8( F4:8) G4:8( A4:8- B4:8)"),
        ("meter: 5/8\nC4 D4 E4 F4 G4", "C4:8( D4:8- E4:8) F4:8( G4:8)"),
        ("meter: 2/2\nC4=1/4 D4=1/4 E4=1/4 F4=1/4 G4", "C4:8( D4:8- E4:8- F4:8) G4:2"),
        ("meter: 5/4\nC4=5 | rest=5", "C4:2.~ C4:2 | R:1"),
        ("meter: 12/8\nC4=6 D4=6 | C4=3 D4=6 E4=3", "C4:2. D4:2. | C4:4. D4:4.~ D4:4. E4:4."),
        ("meter: 4/4\npickup: 1\nC4 | D4=4", "C4:4 | D4:1"),
        ("pickup: 5/2\nC4=5/2 | D4=4", "C4:8~ C4:2 | D4:1"),
        ("meter: 6/8\npickup: 4\nC4 D4 E4 F4 | E4=6", "C4:8 D4:8( E4:8- F4:8) | E4:2."),
        ("meter: 9/8\nC4=9 | D4=4 E4=5", "C4:2.~ C4:4. | D4:4.~ D4:8 E4:4~ E4:4."),
        ("meter: 3/2\nC4=1/2 D4=1/2 E4=2", "C4:4 D4:4 E4:1"),
        ("meter: 1/4\nC4=1/16 D4=15/16", "C4:64((>> D4:16..~-) D4:8)"),
        ("meter: 2/4\nC4=3/4 D4=1/16 E4=3/16 F4", "C4:8.( D4:64-((< E4:32.))) F4:4"),
        ("rest=4 | rest C4=3 | C4=1/2 rest=7/2", "R:1 | r:4 C4:4~ C4:2 | C4:8 r:8 r:4 r:2"),
        ("meter: 3/4\nrest=2 C4 | rest=3", "r:4 r:4 C4:4 | R:2."),
        ("meter: 6/8\nrest=2 C4 D4 rest=2", "r:8 r:8 C4:8 D4:8 r:8 r:8"),
        ("meter: 2/4\n(C4 D4 E4)=1 C4", "C4:8[3:2]( D4:8[3:2]- E4:8[3:2]) C4:4"),
        ("(C4 D4 E4)=2 F4=2", "C4:4[3:2] D4:4[3:2] E4:4[3:2] F4:2"),
        ("meter: 2/4\n(C4 rest E4)=1 F4=1/3 G4=2/3", "C4:8[3:2] r:8[3:2] E4:8[3:2] F4:8[3:2] G4:4[3:2]"),
        ("meter: 3/4\nC4=1/3 D4=5/3 E4", "C4:8[3:2] D4:4[3:2]~ D4:4 E4:4"),
        ("meter: 1/4\n(C4 D4 E4 F4 G4)=1", "C4:16[5:4](( D4:16[5:4]-- E4:16[5:4]-- F4:16[5:4]-- G4:16[5:4]))"),
        ("meter: 1/4\n(C4 D4 E4 F4 G4 A4)=1", "C4:16[6:4](( D4:16[6:4]-- E4:16[6:4]-- F4:16[6:4]-- G4:16[6:4]-- A4:16[6:4]))"),
        ("meter: 2/4\n(C4 D4 E4 F4 G4 A4 B4)=2", "C4:8[7:4]( D4:8[7:4]- E4:8[7:4]- F4:8[7:4]) G4:8[7:4]( A4:8[7:4]- B4:8[7:4])"),
        ("meter: 3/8\n(C4 D4 E4 F4 G4)=3", "C4:8[5:3]( D4:8[5:3]- E4:8[5:3]- F4:8[5:3]- G4:8[5:3])"),
        ("meter: 1/4\nC4=1/7 D4=6/7", "C4:16[7:4] D4:4.[7:4]"),
        ("meter: 1/4\nC4=501/1000 D4=499/1000", "C4:8(? D4:8)?"),
        ("F#4 F#4 F4 F#4", "#F4:4 F4:4 nF4:4 #F4:4"),
        ("F#4 F#5 F4=2 | F4 F#4 F5=2", "#F4:4 #F5:4 nF4:2 | F4:4 #F4:4 (n)F5:2"),
        ("key: G major\nF#4 F4 G4=2 | F4 F#4 G4=2", "F4:4 nF4:4 G4:2 | nF4:4 #F4:4 G4:2"),
        ("G4=3 F#4=2 F#4 F4 F#4", "G4:2. #F4:4~ | F4:4 #F4:4 nF4:4 #F4:4"),
        ("key: Eb major\nE4 Eb4 Bbb4 B4 | F##4=4", "nE4:4 bE4:4 bbB4:4 nB4:4 | xF4:1"),
        ("C4&E4&G4 {F}=3", "C4&E4&G4:4 F4&A4&C5:4~ F4&A4&C5:2"),
    ],
)  # fmt: skip
def test_what_is_typed_is_written_as_a_musician_writes_it(text, expected):
    assert written(text) == expected


def test_lines_that_overlap_share_a_staff_with_stems_apart():
    notation = VoiceNotation(read("C4=4&E5=2 G5=2").song, 0)
    song = read("voice A\n  E5=2 F5=2 | C5=4\n").song
    assert [line.items[0].stem for line in VoiceNotation(song, 0).bar(0).lines] == [Stem.DOWN]
    both = song.__class__(
        voices=song.voices,
        notes=tuple(
            sorted(
                (
                    *song.notes,
                    song.notes[0]._replace(length=song.notes[0].length * 2, pitch=song.notes[2].pitch, number=60),
                ),
                key=lambda n: (n.start, n.number),
            )
        ),
        grid=song.grid,
    )
    upper, lower = VoiceNotation(both, 0).bar(0).lines
    assert {item.stem for item in upper.items} == {Stem.UP}
    assert lower.items[0].length.type == "whole"
    assert notation.clefs[0].name == "treble"


@pytest.mark.parametrize(
    ("text", "clefs"),
    [
        ("C4 E4 G5", ["treble"]),
        ("C2 E2 G3", ["bass"]),
        ("G2&B4 A2&C5 G2&B4", ["treble", "bass"]),
        ("C7 E7 G7", ["treble+8"]),
        ("C2 E4", ["bass"]),
        ("", ["treble"]),
        ("sound: drum kit\nkick hat", ["percussion"]),
    ],
)
def test_the_clef_is_the_one_with_fewest_ledger_lines(text, clefs):
    song = read(text).song
    assert [clef.name for clef in VoiceNotation(song, 0).clefs] == clefs
    assert [clef.name for clef in VoiceNotation(song, 0, "alto").clefs] == (
        ["percussion"] if clefs == ["percussion"] else ["alto"]
    )


def test_bars_are_found_by_their_numbers():
    notation = VoiceNotation(read("pickup: 1\nC4 | D4=4 | E4=4 | F4=4").song, 0)
    assert [bar.number for bar in notation.bars] == [0, 1, 2, 3]
    assert notation.places(None) == range(4) and notation.places((1, 2)) == range(1, 3) == notation.places((1, 2))
    assert notation.places((2, 9)) == range(2, 4)
    assert [notation.bar_at(tick) for tick in (0, notation.bars[1].start, 10**12)] == [0, 1, 3]

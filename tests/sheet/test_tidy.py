"""Tidying lays out and never changes the sound."""

from __future__ import annotations

from hypothesis import example, given
from hypothesis import strategies as st
from test_findings import WORDS

from chickadee import read
from chickadee.sheet.tidy import tidy

UNTIDY = """title:Reeds
  tempo :  92
// about it
C4=0.5   D4=1.5|E4=2 //high
\tF4 (G4=1/1   A4 )=2|  - -|
VOICE   Two


  sound:  sine
C3=bar|D3=half.| (E3 [mf]F3)x2 up 1 octave
words: one  two"""

TIDY = """title: Reeds
tempo: 92
// about it
C4=1/2 D4=3/2 | E4=2  //high
F4 (G4 A4)=2  | - - |

voice Two

  sound: sine
  C3=bar | D3=half. | (E3 [mf] F3) x2 up 1 octave
  words: one  two
"""


def test_a_sheet_is_laid_out():
    assert tidy(UNTIDY) == TIDY


def test_ticks_are_counted_and_never_dropped():
    assert tidy("ticks: 4\nC4=1 D4=0.5\n") == "ticks: 4\nC4=1 D4=1/2\n"
    assert tidy("(C4 D4)=1\n") == "(C4 D4)=1\n"


def sound(text):
    song = read(text).song
    return (song.seconds, song.title, [voice.name for voice in song.voices],
            [(note.start, note.voice, note.length, note.number, note.loudness, note.syllable) for note in song.notes])  # fmt: skip


@given(st.lists(WORDS, max_size=30).map(" ".join))
@example(UNTIDY)
@example("on ^1 ^5 ^3=1 C4")
@example("phrase p\nC4\nvoice V\np on ^1 ^5 ^3=1 C4 p up 5=1 60=1 7=1")
@example("A=1 4 C4 kick=1 4")
@example("C4 |// hi")
@example("{ =2 \t")
@example("{Am =2 // x")
@example("phrase p\nC4=2.0\nvoice V\np x2 // x\n\n\n  (p\np) up 2")
def test_tidying_never_changes_the_sound_and_tidying_again_changes_nothing(text):
    once = tidy(text)
    assert sound(once) == sound(text)
    assert tidy(once) == once
    hints = [[finding.code for finding in read(each).findings].count("third") for each in (text, once)]
    assert hints[0] == hints[1]


def test_tidying_makes_no_header_of_a_line_of_music():
    for text in ("phrase[meter 3/4] out\n  D4=2 F4", "voice(C4 D4)\nE4", "C4\nphrase{Am} D4"):
        tidied = tidy(text)
        assert tidy(tidied) == tidied
        assert [note.number for note in read(tidied).song.notes] == [note.number for note in read(text).song.notes]
        assert list(read(tidied).sheet.phrases) == list(read(text).sheet.phrases)

"""Words under the notes: verses in turn, words of one use of a phrase, and editing them."""

from __future__ import annotations

import pytest

from chickadee import read
from chickadee.sheet import CannotEdit, apply_edits
from chickadee.sheet.edits import set_syllable

TWO_VERSES = """phrase call
  C4 D4
  words: gulls fly
  words: boats land
voice Whistle
  call call E4 call
"""


def sung(text):
    return [note.syllable for note in read(text).song.notes]


@pytest.mark.parametrize(
    ("text", "syllables"),
    [
        (TWO_VERSES, ["gulls", "fly", "boats", "land", "", "gulls", "fly"]),
        ("(C4 D4) x3\nwords: a b\nwords: c _", ["a", "b", "c", "", "a", "b"]),
        ("phrase p\nC4 D4\nvoice V\np E4 p\nwords: one two three four five", ["one", "two", "three", "four", "five"]),
        ("phrase p\nC4 D4\nwords: a b\nvoice V\np E4 p\nwords: _ _ three c d", ["a", "b", "three", "c", "d"]),
        ("phrase p\nC4\nphrase q\np x2 D4\nvoice V\nq\nwords: a b c", ["a", "b", "c"]),
        ("phrase p\nC4 D4\nvoice V\np backwards\nwords: a b", ["b", "a"]),
        ("C4 D4\nwords: a b\nE4\nwords: c", ["a", "b", "c"]),
    ],
)
def test_words_are_sung_in_turn_and_a_use_may_have_its_own(text, syllables):
    assert sung(text) == syllables
    assert read(text).findings == ()


def test_each_verse_says_what_it_has_too_much():
    findings = read("phrase p\nC4 D4\nvoice V\np x2\nwords: a b\nwords: c d e").findings
    assert [finding.message for finding in findings] == [
        "There are 3 syllables and 2 notes above them; - joins syllables, _ skips a note."
    ]


def test_a_syllable_is_written_into_the_verse_that_is_sung_there():
    reading = read(TWO_VERSES)
    after = apply_edits(TWO_VERSES, set_syllable(reading, 2, "ships"))
    assert after == TWO_VERSES.replace("boats", "ships")
    own = read("phrase p\nC4\nvoice V\np D4 p\nwords: a b c")
    assert apply_edits(own.text, set_syllable(own, 1, "x")).endswith("words: a x c")
    with pytest.raises(CannotEdit):
        set_syllable(own, 0, "x")  # the use's own words hide those of the phrase

"""Texts are read in the encodings that a class's computers write."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

import chickadee
from chickadee.encodings import NotText, decoded
from chickadee.files import FileFault
from chickadee.formats.anything import read_data

WORDS = "Höhe;Länge\nC4;1\nD4;½\n“é”;€\n"
ENCODINGS = ("utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "utf-32", "cp1252")


@pytest.mark.parametrize("encoding", ENCODINGS)
def test_a_text_is_the_same_in_every_usual_encoding(encoding):
    assert decoded(WORDS.encode(encoding)) == WORDS
    found = read_data("C4 D4=2 E4".encode(encoding), "a.txt")
    assert [note.number for note in found.song.notes] == [60, 62, 64]


@given(st.text(st.characters(codec="latin-1", exclude_categories=["Cc"]), min_size=1))
def test_latin_letters_are_read_as_they_are(text):
    assert decoded(f"{text}\n".encode()) == f"{text}\n"
    data = f"D4 {text} E4 {text}\n".encode("latin-1")
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        assert decoded(data) == data.decode("cp1252", "replace").replace("\ufffd", "?")


@given(st.integers(0, 10_000))
def test_random_bytes_are_no_text(seed):
    data = random.Random(seed).randbytes(400)
    with pytest.raises((NotText, FileFault)):
        read_data(data, "a.txt")


def test_a_mark_before_a_text_is_not_part_of_it():
    assert chickadee.read("\ufeffC4 D4").findings == chickadee.read("C4 D4").findings
    assert len(chickadee.read("\ufefftitle: A\nC4").song.notes) == 1

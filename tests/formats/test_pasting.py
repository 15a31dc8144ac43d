"""Lists from elsewhere become sheets."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.formats.pasting import pasted


@pytest.mark.parametrize(
    ("text", "sheet"),
    [
        ("60, 62, 64", "60 62 64"),
        ("[60, 62, None, 64]", "60 62 rest 64"),
        ('["C4", "D#4", "R"]', "C4 D#4 rest"),
        ("C4\t1\nD4\t0.5\nR\t2", "C4 D4=1/2 rest=2"),
        ("(60, 1),\n(62, 1/3),", "60 62=1/3"),
        ("440.0 0.5\n0.0 0.25\n523.25 0.333", "tempo: 120\nA4 rest=1/2 C5=2/3"),
        ("60,61,62,63,64,65,66,67,68", "60 61 62 63 64 65 66 67\n68"),
    ],
)
def test_a_list_is_written_as_a_sheet(text, sheet):
    assert pasted(text, alone=True) == sheet
    assert not read(sheet).has_errors


@pytest.mark.parametrize(
    "text", ["", "C4", "C4 D4 E4", "hello, world", "60, 200", "C4 D4 | E4", "title: x\nC4", "60 62\n64 65 66 |"]
)
def test_other_text_is_left_as_it_is(text):
    assert pasted(text, alone=True) is None


@pytest.mark.parametrize("number", ["9" * 5000, "1e999999999", "nan", "1/0", "0.0000000000001", "²", "٣"])
def test_numbers_that_are_none_are_left(number):
    for text in (f"60, {number}\n62, 1", f"{number}, 1\n440.0, 1", f"[{number}, 60]"):
        sheet = pasted(text, alone=True)
        assert sheet is None or number not in sheet


@given(st.text("0123456789CDEb#., \n\t[]()-/Hz", max_size=60))
def test_whatever_is_pasted_is_understood_or_left(text):
    sheet = pasted(text, alone=True)
    assert sheet is None or not [finding for finding in read(sheet).findings if finding.code == "not-understood"]

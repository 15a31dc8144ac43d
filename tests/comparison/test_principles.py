"""The examples of docs/comparing.md are judged as the page says."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from chickadee.comparison import Model, compared
from chickadee.formats import anything
from chickadee.sheet import read

PAGE = (Path(__file__).parents[2] / "docs" / "comparing.md").read_text("utf-8")
MODEL = Model(read("\n".join(re.findall(r"(?m)^    (.+)$", PAGE))).song)
EXAMPLES = re.findall(r"(?m)^\| `(.+?)` \| (.+?) \|$", PAGE)


@pytest.mark.parametrize(("attempt", "judgement"), EXAMPLES)
def test_an_example_is_judged_as_the_page_says(attempt, judgement):
    assert compared(MODEL, anything.read_text(attempt)).sentence == judgement


def test_the_page_has_its_examples():
    assert len(MODEL.bars) == 8 and len(EXAMPLES) >= 20

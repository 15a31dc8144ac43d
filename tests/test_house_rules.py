"""The rules of this house say what is against them, and the figures of statements count what they name."""

from __future__ import annotations

import pytest
from house_rules import complaints
from statements import counted


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("one, other = 1, 2", ["one assignment a line"]),
        ("left, top = 1, 2", []),
        ("one, other = other, one", []),
        ("a if b else c if d else e", ["inside another"]),
        ("a if b else (c + (d if e else f))", []),
        ('def f():\n    """Whether it is so."""', ["verb or a noun"]),
        ('limit = 3\n"""What is held."""', ["verb or a noun"]),
        ('def f():\n    """Return whether it is so."""', []),
        ("class Teller:\n    pass", ["Emitter"]),
        ("note.inks", ["source spans"]),
    ],
)
def test_each_rule_finds_what_is_against_it_and_nothing_else(text, said):
    found = [sentence for _, sentence in complaints(text)]
    assert len(found) == len(said) and all(word in sentence for word, sentence in zip(said, found, strict=True))


def test_statements_are_counted_by_kind():
    text = 'one, other = 1, 2\nx = [\n    1,\n]  # fmt: skip\nf = lambda: 0  # why\n"""Said."""\ng = a if b else c if d else e\n'
    found = counted(text)
    assert (found.lines, found.code) == (7, 6)
    assert (found.unrelated, found.by_hand, found.lambdas, found.nested, found.comments) == (1, 1, 1, 1, 1)

"""A teacher's own targets: what they hold, what is lost, and how they are written."""

from __future__ import annotations

from dataclasses import replace

import pytest

from chickadee import read
from chickadee.boards.catalogue import shipped, target_called
from chickadee.boards.fitting import fitted
from chickadee.boards.packing import packed
from chickadee.boards.target import read_target, written_target


def test_a_list_without_rests_says_that_a_leading_one_is_lost_and_drums_go_where_they_are_wanted():
    song = read("voice Low\n. C4 . D4\nvoice Kit\nsound: drum kit\nkick hat snare hat").song
    plain = 'title = "Mine"\n[[list]]\nentry = "{number}:{beats}"\nbetween = " "\n'
    fit = fitted(song, read_target(plain, "mine"))
    assert [packed(fit, board).split() for board in fit.boards] == [["60:2", "62:1"]]
    assert {loss.code for loss in fit.lost} == {"rest", "drums"}
    fit = fitted(song, read_target(f"drums = true\n{plain}", "mine"))
    assert packed(fit, fit.boards[0]).split() == ["60:2", "62:1", "36:1", "42:1", "38:1", "42:1"]
    assert {loss.code for loss in fit.lost} == {"rest"}


@pytest.mark.parametrize("name", shipped())
def test_a_target_written_reads_as_it_was(name):
    target = target_called(name)
    assert replace(read_target(written_target(target), name), text="") == replace(target, text="")

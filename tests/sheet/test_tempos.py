"""Tempos written where a recording's bars sound."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.sheet import CannotEdit, apply_edits, read
from chickadee.sheet.tempos import set_tempos

TUNE = read("tempo: 100\nmeter: 3/4\nvoice A\n  C4 D4 E4 | F4=3 | G4=2 rest | A4 B4 C5 |\nvoice B\n  rest=12 |\n")


@given(st.dictionaries(st.integers(2, 4), st.floats(20, 300), max_size=3), st.floats(20, 300))
def test_each_bar_has_its_tempo_and_nothing_else_changes_and_it_can_be_done_again(later, own):
    grid = TUNE.song.grid
    tempos = {0: own} | {grid.start(bar): tempo for bar, tempo in later.items()}
    once = read(apply_edits(TUNE.text, set_tempos(TUNE, tempos)))
    halved = {tick: tempo / 2 for tick, tempo in tempos.items()}
    for reading, wanted in ((once, tempos), (read(apply_edits(once.text, set_tempos(once, halved))), halved)):
        assert [note[:3] for note in reading.song.notes] == [note[:3] for note in TUNE.song.notes]
        for tick, tempo in wanted.items():
            assert reading.song.tempo.tempo_at(tick) == pytest.approx(tempo, rel=0.002)


@pytest.mark.parametrize(
    ("text", "bars", "said"),
    [
        ("meter: 3/4\nC4 D4 E4=2 F4 G4", (2,), "Nothing begins where bar 2 does"),
        ("meter: 3/4\n(C4 D4 E4 |) x2 F4=3 |", (2, 3), "write the bars out"),
        ("meter: 3/4\nC4 [tempo 50] D4 E4 | F4=3 |", (2,), "changes of tempo of its own"),
    ],
)
def test_what_cannot_be_is_said(text, bars, said):
    reading = read(text)
    with pytest.raises(CannotEdit, match=said):
        set_tempos(reading, {0: 90} | {reading.song.grid.start(bar): 80 - 5 * bar for bar in bars})

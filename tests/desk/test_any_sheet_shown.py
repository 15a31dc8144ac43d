"""Any sheet can be shown, every note of it found, and every action on it taken back in one step."""

from __future__ import annotations

import re

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from sheets import sheets

CLICK = Qt.MouseButton.LeftButton
ON_NOTES = (
    "note.step-up", "note.step-down", "note.semitone-up", "note.octave-up", "note.longer", "note.shorter", "note.later", "note.earlier", "note.louder", "note.softer",
    "note.split", "note.join", "note.delete", "note.close-up",
)  # fmt: skip
usual = settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)


def show(desk, text):
    desk.document.begin(text)
    desk.notice.clear(offers=True)
    desk.timeline.show_tune_from_start()
    QApplication.processEvents()
    return desk.document.reading.song


@usual
@given(sheets(), st.data())
def test_a_note_is_found_by_its_place_and_by_its_text(qtbot, desk, text, data):
    song = show(desk, text)
    desk.grab()
    mine = [index for index, note in enumerate(song.notes) if note.voice == desk.selection.front]
    if not mine:
        return
    index = data.draw(st.sampled_from(mine))
    desk.selection.choose_note(index)
    assert desk.selection.notes[:1] == [index]
    start, end = song.notes[index].spans[0]
    selected = desk.editor.textCursor()
    assert desk.document.from_qt(selected.selectionStart()) <= start
    assert end <= desk.document.from_qt(selected.selectionEnd())
    rect = desk.timeline.note_rect(index)
    roll = desk.timeline.shown_geometry.roll
    if roll.contains(rect.center()):
        qtbot.mouseClick(desk.timeline.viewport(), CLICK, pos=rect.center())
        found = song.notes[desk.selection.notes[0]]
        assert (found.number, found.start) == (song.notes[index].number, song.notes[index].start) or any(
            (other.voice, other.number) == (found.voice, found.number) and found.start < other.start < found.end
            for other in song.notes
        )


@usual
@given(sheets(), st.data())
def test_every_action_on_a_note_is_taken_back_in_one_step(desk, text, data):
    song = show(desk, text)
    if not song.notes:
        return
    desk.selection.choose_note(data.draw(st.integers(0, len(song.notes) - 1)))
    before = desk.document.reading.text
    desk.actions_by_id[data.draw(st.sampled_from(ON_NOTES))].trigger()
    after = desk.document.reading.text
    assert after != before or desk.notice.text.endswith(".")
    if after != before:
        desk.editor.undo()
        assert desk.document.reading.text == before
        desk.editor.redo()
        assert desk.document.reading.text == after


@usual
@given(sheets())
def test_the_rows_hold_every_note_that_is_struck(desk, text):
    song = show(desk, text)
    struck: dict[int, set[int]] = {}
    for note in song.notes:
        if note.voice == desk.selection.front:
            struck.setdefault(note.start, set()).add(note.number)
    table = dict(line.partition("\t")[::2] for line in desk.timeline.rows_as_table().splitlines())
    written = [set(map(int, re.findall(r"\d+", cell))) for cell in table["Number"].split("\t")]
    assert [numbers for numbers in written if numbers] == list(struck.values())


@pytest.mark.parametrize("name", ["look.evening", "look.projector"])
def test_no_look_makes_a_sheet_of_every_kind_undrawable(desk, name):
    text = "key: Eb minor\nphrase p\n{G7/B}=2 {F#dim 3} [pedal] C4&E4\nvoice V\nrange: C3 to C6\n(p) upside-down H4\nvoice W\nsound: drum kit\nkick 35 rest"
    show(desk, text)
    desk.actions_by_id[name].trigger()
    assert not desk.grab().isNull()
    desk.actions_by_id[name].trigger()
    desk.document.new()

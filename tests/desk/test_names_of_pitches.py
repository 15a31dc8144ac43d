"""Names of pitches in the window: the sheet turned from one tradition to another, and every view with it."""

from __future__ import annotations

from chickadee.display.rows import ROWS
from chickadee.handout.pages import pages_of
from chickadee.handout.request import Request

TUNE = "title: Mill\nkey: F major\nvoice A\n  F4 Bb4 A4 B4 | C5=4 |\n"


def test_the_sheet_is_turned_and_the_views_follow(qtbot, desk):
    desk.document.begin(TUNE)
    desk.actions_by_id["names.h"].trigger()
    assert "F4 B4 A4 H4" in desk.document.text and "names: h" in desk.document.text
    song = desk.document.reading.song
    cells = desk.selection.scene.cells.between(0, song.end)
    assert [ROWS["Name"].text(cell, song) for cell in cells] == ["F4", "B4", "A4", "H4", "C5"]
    assert desk.selection.scene.lane_name(70) == "B4" and desk.keyboard.keys._texts(71)[0].startswith("H")
    desk.actions_by_id["names.syllables"].trigger()
    assert "fa4 sib4 la4 si4" in desk.document.text
    desk.selection.choose_note(1)
    assert "si♭4" in str(desk.transport_bar.readout._readout)
    words = " ".join(
        getattr(shape, "text", "") for shape in pages_of("worksheet", desk.document.reading.song, Request())[0].shapes
    )
    assert "fa4" in words
    for _ in range(2):
        desk.document.text_document.undo()
    assert desk.document.text == TUNE


def test_typing_into_the_name_row_keeps_the_tradition(qtbot, desk):
    desk.document.begin("names: do re mi\nvoice A\n  do4 re4 mi4 fa4 |\n")
    edits = ROWS["Name"].edit(desk.document.reading, [1], "sib3")
    desk.document.apply(edits)
    assert "do4 sib3 mi4" in desk.document.text


def test_a_moving_do_is_shown_everywhere_and_moves_with_the_key(desk):
    desk.document.begin(TUNE)
    desk.actions_by_id["names.moving"].trigger()
    assert "do4 fa4 mi4 fa#4 | sol5=4" in desk.document.text and "names: moving do" in desk.document.text
    song = desk.document.reading.song
    cells = desk.selection.scene.cells.between(0, song.end)
    assert [ROWS["Name"].text(cell, song) for cell in cells] == ["do4", "fa4", "mi4", "fa♯4", "sol5"]
    assert desk.selection.scene.lane_name(65) == "do4" and desk.keyboard.keys._texts(64)[0].startswith("ti")
    desk.selection.choose_note(3)
    assert "fa♯4" in str(desk.transport_bar.readout._readout)
    desk.editing.set_property("key", "G major")
    assert [note.pitch.text for note in desk.document.reading.song.notes] == ["G4", "C4", "B4", "C#4", "D5"]
    desk.document.text_document.undo()
    desk.actions_by_id["names.letters"].trigger()
    assert "F4 Bb4 A4 B4 | C5=4" in desk.document.text

"""Which notes are chosen, without a window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QObject

from chickadee.desk.document import Document
from chickadee.desk.selection import Selection

TUNE = """phrase call
  C4 E4 |

voice Whistle
  call C5=4 | call

voice Buoys
  C3=4 | 60=4 |
"""


@pytest.fixture
def document(qapp):
    document = Document()
    document.text_document.setPlainText(TUNE)
    yield document
    document.deleteLater()


@pytest.fixture
def selection(document):
    owner = QObject()
    selection = Selection(document, owner)
    selection.text_wanted.connect(selection.follow_text)  # as the editor answers
    yield selection
    owner.deleteLater()


def numbers(selection, document):
    return [document.reading.song.notes[index].number for index in selection.notes]


def test_a_caret_chooses_all_that_its_sign_sounds_as(selection, document):
    at = TUNE.index("E4")
    selection.follow_text(at, at)
    assert numbers(selection, document) == [64, 64]
    selection.follow_text(TUNE.index("C4"), TUNE.index("|"))
    assert numbers(selection, document) == [60, 64, 60, 64]
    selection.follow_text(0, 3)
    assert selection.notes == []


def test_the_place_that_was_meant_stands_first(selection, document):
    song = document.reading.song
    second = [index for index, note in enumerate(song.notes) if note.number == 64][1]
    selection.choose_note(second)
    assert selection.notes[0] == second and len(selection.notes) == 2


def test_stepping_stays_in_the_front_voice_and_stops_at_its_ends(selection, document):
    selection.step(1)
    walked = [numbers(selection, document)[0]]
    for _ in range(9):
        selection.step(1)
        walked.append(numbers(selection, document)[0])
    assert walked == [60, 64, 72, 60, 64, 64, 64, 64, 64, 64]
    selection.bring_forward(1)
    assert selection.front == 1 and numbers(selection, document) == [48]
    selection.step(-1)
    assert numbers(selection, document) == [48]
    selection.choose_notes([])
    selection.step(-1)
    assert numbers(selection, document) == [60]


@pytest.mark.parametrize(("what", "count"), [("bar", 2), ("voice", 5), ("pitch", 3), ("source", 2)])
def test_likeness_is_of_the_first_chosen_note(selection, document, what, count):
    selection.choose_note(0)
    selection.choose_more(what)
    assert len(selection.notes) == count
    assert selection.notes[0] == 0 or what == "source"


def test_the_front_voice_survives_a_new_reading_while_it_is_there(selection, document):
    fronts = []
    selection.scene_changed.connect(lambda scene: fronts.append(scene.front))
    selection.bring_forward(1)
    document.text_document.setPlainText(TUNE.replace("C3", "D3"))
    assert selection.front == 1 and selection.notes == []
    document.text_document.setPlainText("C4")
    assert selection.front == 0 and selection.scene.reading is document.reading
    assert fronts == [1, 1, 0]
    document.text_document.setPlainText("")
    selection.step(1)
    selection.choose_more("bar")
    assert selection.notes == []

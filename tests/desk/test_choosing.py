"""Which notes are chosen, without a window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QObject

from chickadee.desk.choosing import Choosing
from chickadee.desk.document import Document

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
def choosing(document):
    owner = QObject()
    choosing = Choosing(document, owner)
    choosing.text_wanted.connect(choosing.follow_text)  # as the editor answers
    choosing.follow_reading()
    yield choosing
    owner.deleteLater()


def numbers(choosing, document):
    return [document.reading.song.notes[index].number for index in choosing.notes]


def test_a_caret_chooses_all_that_its_sign_sounds_as(choosing, document):
    at = TUNE.index("E4")
    choosing.follow_text(at, at)
    assert numbers(choosing, document) == [64, 64]
    choosing.follow_text(TUNE.index("C4"), TUNE.index("|"))
    assert numbers(choosing, document) == [60, 64, 60, 64]
    choosing.follow_text(0, 3)
    assert choosing.notes == []


def test_the_place_that_was_meant_stands_first(choosing, document):
    song = document.reading.song
    second = [index for index, note in enumerate(song.notes) if note.number == 64][1]
    choosing.choose_note(second)
    assert choosing.notes[0] == second and len(choosing.notes) == 2


def test_stepping_stays_in_the_front_voice_and_stops_at_its_ends(choosing, document):
    choosing.step(1)
    walked = [numbers(choosing, document)[0]]
    for _ in range(9):
        choosing.step(1)
        walked.append(numbers(choosing, document)[0])
    assert walked == [60, 64, 72, 60, 64, 64, 64, 64, 64, 64]
    choosing.bring_forward(1)
    assert choosing.front == 1 and numbers(choosing, document) == [48]
    choosing.step(-1)
    assert numbers(choosing, document) == [48]
    choosing.choose_notes([])
    choosing.step(-1)
    assert numbers(choosing, document) == [60]


@pytest.mark.parametrize(("what", "count"), [("bar", 3), ("voice", 5), ("pitch", 3), ("ink", 2)])
def test_likeness_is_of_the_first_chosen_note(choosing, document, what, count):
    choosing.choose_note(0)
    choosing.choose_more(what)
    assert len(choosing.notes) == count
    assert choosing.notes[0] == 0 or what == "ink"


def test_the_front_voice_survives_a_new_reading_while_it_is_there(choosing, document):
    fronts = []
    choosing.front_changed.connect(lambda: fronts.append(choosing.front))
    choosing.bring_forward(1)
    document.text_document.setPlainText(TUNE.replace("C3", "D3"))
    choosing.follow_reading()
    assert choosing.front == 1 and choosing.notes == []
    document.text_document.setPlainText("C4")
    choosing.follow_reading()
    assert choosing.front == 0 and choosing.scene.reading is document.reading
    assert fronts == [1]
    document.text_document.setPlainText("")
    choosing.follow_reading()
    choosing.step(1)
    choosing.choose_more("bar")
    assert choosing.notes == []

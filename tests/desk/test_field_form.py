"""Forms of fields: what is shown is read back, and every change by hand is told once."""

from __future__ import annotations

from dataclasses import dataclass, replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from chickadee.desk.field_form import Field, FieldForm
from chickadee.faults import InputFault


@dataclass(frozen=True)
class Wish:
    name: str = ""
    count: int = 0
    part: float = 0.0
    on: bool = False
    way: str = "up"
    numbers: tuple[int, ...] = ()


def read_numbers(text):
    try:
        return tuple(map(int, text.split()))
    except ValueError:
        raise InputFault(f"{text} is no list of numbers.") from None


ROWS = (
    Field("name", "Name", example="a name"),
    Field("count", "Count", limits=(-5, 5), after=" pieces"),
    Field("part", "Part", limits=(0, 2)),
    Field("on", "Switch", after="it is on"),
    Field("way", "Way", "Which way it goes", choices={"up": "upwards", "down": "downwards"}),
    Field("numbers", "Numbers", show=lambda numbers: " ".join(map(str, numbers)), read=read_numbers),
)
WISHES = st.builds(
    Wish,
    st.text(st.characters(min_codepoint=32, exclude_categories=("Cs", "Cc", "Zl", "Zp")), max_size=20),
    st.integers(-5, 5),
    st.integers(0, 200).map(lambda hundredths: hundredths / 100),
    st.booleans(),
    st.sampled_from(["up", "down"]),
    st.lists(st.integers(0, 999), max_size=5).map(tuple),
)


@pytest.fixture
def form(qtbot):
    form = FieldForm(ROWS, Wish())
    qtbot.addWidget(form)
    return form


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(wish=WISHES)
def test_what_is_shown_is_read_back_and_is_no_change(form, wish):
    told = []
    form.changed.connect(lambda: told.append(form.values))
    form.show_values(wish)
    assert Wish(**form.values) == wish and told == []


def test_every_kind_of_box_tells_of_a_change_by_hand(form):
    told = []
    form.changed.connect(lambda: told.append(Wish(**form.values)))
    QTest.keyClicks(form.boxes["name"], "x")
    QTest.keyClick(form.boxes["count"], Qt.Key.Key_Up)
    QTest.keyClick(form.boxes["part"], Qt.Key.Key_Up)
    QTest.mouseClick(form.boxes["on"], Qt.MouseButton.LeftButton)
    form.boxes["on"].setChecked(True)
    QTest.keyClick(form.boxes["way"], Qt.Key.Key_Down)
    QTest.keyClicks(form.boxes["numbers"], "7")
    assert told[-1] == Wish("x", 1, 1.0, True, "down", (7,))
    assert len(told) == 6


def test_a_text_that_already_means_the_value_stays_as_it_is_typed(form):
    QTest.keyClicks(form.boxes["numbers"], "1  2 ")
    form.show_values(replace(Wish(), numbers=(1, 2)))
    assert form.boxes["numbers"].text() == "1  2 "
    form.show_values(replace(Wish(), numbers=(1, 3)))
    assert form.boxes["numbers"].text() == "1 3"


def test_a_text_that_means_nothing_is_refused_in_a_sentence(form):
    QTest.keyClicks(form.boxes["numbers"], "seven")
    with pytest.raises(InputFault, match="no list of numbers"):
        _ = form.values


def test_boxes_say_what_they_are_for(form):
    assert form.boxes["way"].accessibleName() == form.boxes["way"].toolTip() == "Which way it goes"
    assert form.boxes["count"].accessibleName() == "Count"
    assert [form.boxes["way"].itemText(row) for row in range(2)] == ["upwards", "downwards"]

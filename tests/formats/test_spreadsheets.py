"""Spreadsheets: their values are read as a table is, and what lies in them harms nobody."""

from __future__ import annotations

import io
import zipfile

import pytest
from openpyxl import Workbook

from chickadee.files import FileFault
from chickadee.formats.imported import Form
from chickadee.incoming import read_data
from chickadee.song import TICKS_PER_QUARTER as Q

ROWS = [
    ["Our tune", None, None],
    [None, None, None],
    ["Nr.", "Note", "Länge"],
    [1, "C4", 1],
    [2, "H4", 0.5],
    [3, None, 1.5],
    [4, "D4", 2],
]
WANTED = [(60, 0, Q), (71, Q, Q // 2), (62, 3 * Q, 2 * Q)]


def workbook(*sheets: tuple[str, list[list[object]]]) -> bytes:
    book = Workbook()
    book.remove(book.active)
    for title, rows in sheets:
        sheet = book.create_sheet(title)
        for row in rows:
            sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def document(rows: list[list[object]], tail: str = "") -> bytes:
    """An OpenDocument spreadsheet, as the standard has it."""

    def cell(value: object) -> str:
        if value is None:
            return "<table:table-cell/>"
        if isinstance(value, str):
            return f'<table:table-cell office:value-type="string"><text:p>{value}</text:p></table:table-cell>'
        return f'<table:table-cell office:value-type="float" office:value="{value}"><text:p>shown</text:p></table:table-cell>'

    body = "".join(f"<table:table-row>{''.join(map(cell, row))}</table:table-row>" for row in rows)
    content = (
        '<?xml version="1.0" encoding="UTF-8"?><office:document-content '
        'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
        'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" '
        'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:spreadsheet>'
        f'<table:table table:name="One">{body}{tail}</table:table></office:spreadsheet></office:body></office:document-content>'
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        packed.writestr("content.xml", content)
    return out.getvalue()


EMPTY = '<table:table-row table:number-rows-repeated="1048570"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>'


@pytest.mark.parametrize(
    "data", [workbook(("Cover", []), ("Tune", ROWS)), document(ROWS, EMPTY)], ids=["workbook", "document"]
)
def test_a_tune_in_a_spreadsheet_is_read_by_its_headings(data):
    found = read_data(data, "tune.xlsx")
    assert found.form is Form.TABLE
    assert [(note.number, note.start, note.length) for note in found.song.notes] == WANTED


def test_a_sheet_that_is_not_taken_is_said():
    found = read_data(workbook(("One", [["C4", 1], ["D4", 2]]), ("Two", [["E4", 1], ["F4", 1]])), "tune.xlsx")
    assert [note.number for note in found.song.notes] == [60, 62]
    assert found.left_out == ("The sheet “Two” of this spreadsheet is left out.",)


def far(column: int, row: int) -> bytes:
    book = Workbook()
    book.active.cell(1, 1, "C4")
    book.active.cell(row, column, "D4")
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (workbook(("One", [])), "empty"),
        (far(16_384, 1_048_576), "more than|no notes|No list"),
        (workbook(("One", [["hello", "there"]])), "no notes|No list"),
        (workbook(("One", ROWS))[:-400], "damaged|cannot|no score"),
        (document([["x"] * 60] * 6_000), "too large|more than"),
        (document([["<x>"]]), "well-formed|damaged"),
    ],
)
def test_what_is_no_tune_or_too_much_is_one_sentence(data, said):
    with pytest.raises(FileFault, match=said) as fault:
        read_data(data, "tune.xlsx")
    assert "failed" not in str(fault.value)

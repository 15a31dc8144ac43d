"""Spreadsheets: the values of the first sheet that has any, as a table with tabs."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from typing import NamedTuple
from xml.etree.ElementTree import Element

from ..files import LARGEST_SHEET, printable
from .imported import ImportFault
from .xml_tree import XmlFault, read_tree

__all__ = ["Cells", "SpreadsheetFault", "cells_of", "is_spreadsheet"]

_MOST_ROWS = 30_000
_MOST_COLUMNS = 64
_MOST_CELLS = 300_000
_LONGEST_CELL = 200  # characters
_MOST_SHEETS = 50
_WORKBOOK = "xl/workbook.xml"
_DOCUMENT = b"application/vnd.oasis.opendocument.spreadsheet"
_TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
_TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"

Row = tuple[str, ...]


class SpreadsheetFault(ImportFault):
    """A spreadsheet cannot be read, or holds nothing."""


class Cells(NamedTuple):
    """The cells of a spreadsheet."""

    text: str
    """A line for each row, with tabs between the values."""
    left_out: tuple[str, ...]
    """A sentence for each sheet that is not taken."""


def is_spreadsheet(data: bytes) -> bool:
    """Return whether bytes are a spreadsheet, of Office Open XML or OpenDocument."""
    if data[:2] != b"PK":
        return False
    if _DOCUMENT in data[:200]:
        return True
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            return _WORKBOOK in packed.namelist()
    except (zipfile.BadZipFile, ValueError, OSError):
        return False


def cells_of(data: bytes) -> Cells:
    """The values of a spreadsheet. Raises SpreadsheetFault."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(info.file_size for info in packed.infolist()) > LARGEST_SHEET:
                raise SpreadsheetFault(f"This spreadsheet holds more than {LARGEST_SHEET >> 20} MB.")
            sheets = dict(_of_workbook(data) if _WORKBOOK in packed.namelist() else _of_document(packed))
    except SpreadsheetFault:
        raise
    except XmlFault as fault:
        raise SpreadsheetFault(str(fault)) from None
    except (
        zipfile.BadZipFile,
        zlib.error,
        OSError,
        EOFError,
        ValueError,
        KeyError,
        TypeError,
        AttributeError,
        RuntimeError,
        NotImplementedError,
        IndexError,
        SyntaxError,
    ):
        raise SpreadsheetFault("This spreadsheet is damaged and cannot be read.") from None
    full = [name for name, rows in sheets.items() if any(any(row) for row in rows)]
    if not full:
        raise SpreadsheetFault("This spreadsheet is empty.")
    left_out = tuple(f"The sheet “{printable(name)[:40]}” of this spreadsheet is left out." for name in full[1:])
    return Cells("\n".join("\t".join(row).rstrip("\t") for row in sheets[full[0]]), left_out)


def _of_workbook(data: bytes) -> Iterator[tuple[str, list[Row]]]:
    """The name and rows of each sheet of an Office Open XML workbook."""
    from openpyxl import load_workbook  # only where a workbook comes

    workbook = load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
    for sheet in workbook.worksheets[:_MOST_SHEETS]:
        sheet.reset_dimensions()  # they may lie
        found = sheet.iter_rows(values_only=True, max_col=_MOST_COLUMNS, max_row=_MOST_ROWS + 1)
        yield sheet.title, _bounded(tuple(map(_written, row)) for row in found)


def _of_document(packed: zipfile.ZipFile) -> Iterator[tuple[str, list[Row]]]:
    """The name and rows of each sheet of an OpenDocument spreadsheet."""
    with packed.open("content.xml") as file:
        root = read_tree(file.read(LARGEST_SHEET + 1), "spreadsheet")
    for table in list(root.iter(f"{_TABLE}table"))[:_MOST_SHEETS]:
        yield table.get(f"{_TABLE}name") or "Sheet", _bounded(_document_rows(table))


def _document_rows(table: Element) -> Iterator[Row]:
    for element in table.iter(f"{_TABLE}table-row"):
        cells: list[str] = []
        for cell in element:
            times = int(cell.get(f"{_TABLE}number-columns-repeated") or 1)
            cells += [_document_cell(cell)] * max(1, min(times, _MOST_COLUMNS - len(cells)))
            if len(cells) >= _MOST_COLUMNS:
                break
        row = tuple(cells)
        times = int(element.get(f"{_TABLE}number-rows-repeated") or 1)
        for _ in range(min(times, _MOST_ROWS + 1) if any(row) else 1):
            yield row


def _document_cell(cell: Element) -> str:
    value = cell.get(f"{_OFFICE}value")
    if value is not None:
        return _written(float(value))
    return _written("".join("".join(part.itertext()) for part in cell.iter(f"{_TEXT}p")))


def _bounded(rows: Iterable[Row]) -> list[Row]:
    """The rows, without empty ones at the end. Raises SpreadsheetFault where there are too many."""
    found: list[Row] = []
    cells = 0
    for row in rows:
        cells += sum(map(bool, row))
        found.append(row)
        if len(found) > _MOST_ROWS or cells > _MOST_CELLS:
            raise SpreadsheetFault(f"This spreadsheet has more than {_MOST_ROWS:,} rows or {_MOST_CELLS:,} cells.")
    while found and not any(found[-1]):
        found.pop()
    return found


def _written(value: object) -> str:
    """A cell's value as a text in one line."""
    if value is None or isinstance(value, bool):
        return ""
    if isinstance(value, float):
        return f"{value:.12g}"
    return " ".join(str(value)[:_LONGEST_CELL].split())

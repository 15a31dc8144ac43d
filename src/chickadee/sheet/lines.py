"""Edits of whole lines and of names: comments, moving lines, renaming a phrase."""

from __future__ import annotations

import re
from collections.abc import Iterator

from . import Reading, TextEdit
from .names import is_taken
from .tree import uses_in

__all__ = ["commented", "line_moved", "lines_at", "phrase_at", "phrase_renamed", "rename_fault"]


def lines_at(text: str, start: int, end: int) -> tuple[int, int]:
    """The offsets of the whole lines that a selection touches, without the last line's end."""
    first = text.rfind("\n", 0, start) + 1
    last = text.find("\n", max(start, end - 1) if end > start else end)
    return first, len(text) if last < 0 else last


def commented(text: str, start: int, end: int) -> list[TextEdit]:
    """Make the lines of a selection comments, or take the marks away where all of them are."""
    first, last = lines_at(text, start, end)
    places = []
    at = first
    for line in text[first:last].split("\n"):
        if line.strip():
            places.append(at + len(line) - len(line.lstrip()))
        at += len(line) + 1
    marks = [re.compile(r"// ?").match(text, place) for place in places]
    if places and all(marks):
        return [TextEdit(mark.start(), mark.end(), "") for mark in marks if mark]
    return [TextEdit(place, place, "// ") for place in places]


def line_moved(text: str, start: int, end: int, down: bool) -> tuple[TextEdit | None, int]:
    """Move the lines of a selection down or up by one; the edit, and by how much the lines' offsets change.

    No edit where there is no room.
    """
    first, last = lines_at(text, start, end)
    if (down and last >= len(text)) or (not down and first == 0):
        return None, 0
    if down:
        other_end = text.find("\n", last + 1)
        other_end = len(text) if other_end < 0 else other_end
        other = text[last + 1 : other_end]
        return TextEdit(first, other_end, f"{other}\n{text[first:last]}"), len(other) + 1
    other_start = text.rfind("\n", 0, first - 1) + 1
    other = text[other_start : first - 1]
    return TextEdit(other_start, last, f"{text[first:last]}\n{other}"), -len(other) - 1


def phrase_at(reading: Reading, offset: int) -> str | None:
    """The phrase whose name stands at an offset: where it is written, or where it is used."""
    return next((name for name, start, end in _names(reading) if start <= offset <= end), None)


def rename_fault(reading: Reading, new: str) -> str:
    """Why a phrase cannot have a name, in a sentence; empty where it can."""
    if is_taken(new):
        return f"“{new}” reads as something else; another name will do."
    if new in reading.sheet.phrases:
        return f"There is already a phrase called {new}."
    return ""


def phrase_renamed(reading: Reading, old: str, new: str) -> list[TextEdit]:
    """Rename a phrase where it is written and wherever it is used; comments and properties stay."""
    return [TextEdit(start, end, new) for name, start, end in _names(reading) if name == old]


def _names(reading: Reading) -> Iterator[tuple[str, int, int]]:
    """(name, start, end) of every phrase's name, where it is written and where it is used."""
    sheet = reading.sheet
    yield from ((name, block.start, block.end) for name, block in sheet.phrases.items())
    for block in (*sheet.voices, *sheet.phrases.values()):
        yield from ((use.name, use.start, use.start + len(use.name)) for use in uses_in(block.body))

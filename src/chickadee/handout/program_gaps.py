"""The program with gaps: pitches, lengths or counts are left out, to be written in."""

from __future__ import annotations

from ..chance import Chance
from ..song import Song
from .canvas import Canvas
from .program_lines import Writing, sheet_of
from .program_sheet import ProgramSheet
from .request import Gaps, HandoutFault, Request
from .shapes import Page

__all__ = ["blanks_in", "gap_pages"]

_KINDS = {
    "pitches": "pitch", "numbers": "pitch", "names": "pitch",
    "lengths": "length", "beats": "length", "counts": "count",
}  # fmt: skip
_WORDS = {"pitch": "the pitches", "length": "the lengths", "count": "how often each repeat goes round"}


def gap_pages(song: Song, request: Request) -> list[Page]:
    """The program with its gaps; with the answers where the request wants them. Raises HandoutFault."""
    sheet = sheet_of(request)
    blanks = blanks_in(sheet, request.gaps)
    if not blanks:
        raise HandoutFault("This program has nothing of the kind that is to be left out; choose another kind.")
    canvas = Canvas(request, song.title or "Tune")
    kind = _KINDS.get(request.gaps.kind)
    count = f"{len(blanks)} gap{'s' * (len(blanks) != 1)}"
    said = f"Write {_WORDS[kind] if kind else 'what is missing'}, so that the program sounds the tune: {count}."
    top = canvas.block(5, gap=3)
    canvas.add([canvas.words(canvas.left, top, canvas.width, 5, said, 9)])
    Writing(canvas, sheet).lines(blanks, request.answers)
    return canvas.pages()


def blanks_in(sheet: ProgramSheet, gaps: Gaps) -> frozenset[tuple[int, int]]:
    """Return the pieces that are left out, by line and place. A seed shifts which, where there is a choice."""
    kind = _KINDS.get(gaps.kind)
    values = [
        (place, number)
        for place, line in enumerate(sheet.lines)
        for number, piece in enumerate(line.pieces)
        if piece.kind and kind in (None, piece.kind)
    ]
    chance = Chance(gaps.seed) if gaps.seed is not None else None
    if kind is not None:
        if chance is None or len(values) < 2:
            return frozenset(values)
        return frozenset(each for each in values if chance.below(3)) or frozenset(values)
    found = set()
    for first in range(0, len(values), gaps.every):
        group = values[first : first + gaps.every]
        place = chance.below(gaps.every) if chance else gaps.every - 1
        if place < len(group):
            found.add(group[place])
    return frozenset(found)

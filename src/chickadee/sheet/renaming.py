"""A sheet turned to another tradition of naming pitches; no note changes."""

from __future__ import annotations

import re

from ..theory import Naming
from .edits import set_property
from .finding import TextEdit
from .reading import Reading
from .tree import items_in
from .written import Named

__all__ = ["renamed"]


def renamed(reading: Reading, naming: Naming) -> list[TextEdit]:
    """The edits that write every name of a sheet in a tradition; numbers, steps, chords and properties stay."""
    if naming is reading.song.naming:
        return []
    sheet = reading.sheet
    found: dict[int, TextEdit] = {}
    for block in (*sheet.phrases.values(), *sheet.voices):
        for item in items_in(block.body):
            if item.word.text != reading.text[item.start : item.end]:
                continue  # it was understood as another word
            for sign in item.word.signs:
                if isinstance(sign.what, Named):
                    start, end = item.start + sign.start, item.start + sign.end
                    octave = re.search(r"-?[0-9]*$", reading.text[start:end])
                    written = naming.text(sign.what.name) + (octave[0] if octave else "")
                    found[start] = TextEdit(start, end, written)
    head = set_property(reading, "names", naming.value)
    return [*head, *(found[start] for start in sorted(found))]

"""A sheet turned to another tradition of naming pitches; no note changes."""

from __future__ import annotations

import re
from collections.abc import Iterator

from ..theory import Naming
from .edits import set_property
from .finding import TextEdit
from .reading import Reading
from .tree import Property, items_in
from .written import Named, read_written

__all__ = ["renamed"]

_NAMING_PITCHES = ("keys", "range", "allow")


def renamed(reading: Reading, naming: Naming) -> list[TextEdit]:
    """The edits that write every name of a sheet in a tradition; numbers, steps and chords stay."""
    naming = naming.in_key(reading.song.key)
    if naming == reading.song.naming:
        return []
    sheet = reading.sheet
    found: dict[int, TextEdit] = {}
    for block in (*sheet.phrases.values(), *sheet.voices):
        for item in items_in(block.body):
            if item.word.text != reading.text[item.start : item.end]:
                continue  # it was understood as another word
            for sign in item.word.signs:
                if isinstance(sign.what, Named):
                    start = item.start + sign.start
                    end = item.start + sign.end
                    octave = re.search(r"-?[0-9]*$", reading.text[start:end])
                    written = naming.text(sign.what.name) + (octave[0] if octave else "")
                    found[start] = TextEdit(start, end, written)
    for line in (*sheet.properties, *(line for voice in sheet.voices for line in voice.properties)):
        if line.name.split()[0] in _NAMING_PITCHES:
            found |= {edit.start: edit for edit in _in_property(line, reading.song.naming, naming)}
    head = set_property(reading, "names", naming.value)
    return [*head, *(found[start] for start in sorted(found))]


def _in_property(line: Property, old: Naming, new: Naming) -> Iterator[TextEdit]:
    """Turn the pitches that a property names."""
    keys = line.name.startswith("keys")
    for word in re.finditer(r"[^\s,&]+", line.value):
        if keys and re.search(r"(^|,)\s*$", line.value[: word.start()]):
            continue  # the key itself
        what = read_written(word[0], old) or read_written(word[0])
        if isinstance(what, Named):
            octave = re.search(r"-?[0-9]*$", word[0])
            written = new.text(what.name) + (octave[0] if octave else "")
            yield TextEdit(line.value_start + word.start(), line.value_start + word.end(), written)

"""Signs that last as long as they are written, so that another length can be written in their place."""

from __future__ import annotations

from ..sheet import Reading
from ..sheet.tree import Item, is_written_so
from ..sheet.walk import Event
from ..sheet.word import Kind, word_reader

__all__ = ["is_plain"]


def is_plain(reading: Reading, event: Event) -> bool:
    """Return whether an event lasts as long as its sign says, in no group or use that makes it another length."""
    word = word_reader(reading.song.naming)(reading.text[event.start : event.end])
    apart = is_written_so(reading.text, Item(event.start, event.end, word))
    if word.kind is Kind.SILENT or word.findings or not apart or reading.own_ticks(word, event.tick) != event.length:
        return False
    return not reading.is_fitted(event.start)

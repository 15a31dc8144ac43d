"""Pages that play, written to files."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from ..checks import reading_of
from ..faults import InputFault
from ..files import FileFault, write_text
from ..handout.request import Gaps
from ..sheet import Reading
from ..song import Song
from .page import choices_for, playing_page

__all__ = ["write_page"]


def write_page(
    tune: Reading | Song, path: Path, show: Collection[str] = ("keyboard",), gaps: Gaps | None = None
) -> None:
    """Write a page that plays; ``show`` is what stands on it beside the timeline, ``gaps`` what is filled in.

    Raises FileFault.
    """
    reading = reading_of(tune)
    try:
        text = playing_page(reading, choices_for(reading, show, gaps))
    except InputFault as fault:
        raise FileFault(path, str(fault)) from None
    write_text(path, text)

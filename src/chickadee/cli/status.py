"""What commands share: where a sheet comes from, and how a command ends."""

from __future__ import annotations

import re
import sys
from pathlib import Path

import click

from ..checks import USUAL, checked_reading, profile_for
from ..faults import InputFault
from ..files import decode, read_stream, read_text
from ..sheet import Reading, Severity
from ..song import Song, bars_excerpt
from .refusal import Refused

__all__ = ["Bars", "chosen_bars", "music_status", "opened", "text_of"]


def opened(name: str, by_folder: bool = False) -> Reading:
    """The reading of a file, or of standard input for ``-``; checked as its folder asks, or as usual.

    Raises FileFault, for a folder's profile too.
    """
    return checked_reading(text_of(name), profile_for(Path(name)) if by_folder and name != "-" else USUAL)


def text_of(name: str) -> str:
    """The text of a file, or of standard input for ``-``. Raises FileFault."""
    if name == "-":
        return decode(read_stream(sys.stdin.buffer if sys.stdin else None, name), name)
    return read_text(Path(name), pipes=True)


def music_status(name: str, reading: Reading) -> int:
    """The exit status that tells whether the music has errors; says so on standard error."""
    errors = sum(finding.severity is Severity.ERROR for finding in reading.findings)
    if errors:
        count = "an error" if errors == 1 else f"{errors} errors"
        click.echo(f"{name}: the music has {count}; “chickadee check” shows where.", err=True)
    return 1 if errors else 0


class Bars(click.ParamType[tuple[int, int]]):
    """``3-8``, or one bar by its number."""

    name = "bars"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> tuple[int, int]:
        found = re.fullmatch(r"([0-9]{1,9})(?:-([0-9]{1,9}))?", str(value))
        if found is None:
            self.fail(f"{value} is not a range of bars such as 3-8.", param, ctx)
        first, last = int(found[1]), int(found[2] or found[1])
        if last < first:
            self.fail(f"{value} ends before it begins; bars are given as 3-8, the lower first.", param, ctx)
        return first, last


def chosen_bars(name: str, song: Song, bars: tuple[int, int] | None) -> Song:
    """The song, or some bars of it. Raises Refused where there are no such bars."""
    try:
        return bars_excerpt(song, *bars) if bars else song
    except InputFault as fault:
        raise Refused(f"{name}: {fault}.") from None

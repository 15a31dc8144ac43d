"""Helpers of commands: where a sheet comes from, and how a command ends."""

from __future__ import annotations

import re
import sys
from pathlib import Path

import click

from ..checks import USUAL, checked_reading, profile_for
from ..faults import InputFault
from ..files import FileFault, as_reason, is_folder, is_there, read_stream
from ..formats.arranging import arranged
from ..formats.imported import Form, Imported
from ..handout.request import HandoutFault, read_reach
from ..incoming import read, read_data
from ..sheet import Reading, Severity
from ..song import Song, bars_excerpt
from .refusal import Refused
from .terminal import say_line

__all__ = [
    "Bars",
    "PitchRange",
    "Speed",
    "as_form",
    "chosen_bars",
    "found_in",
    "goal_of",
    "music_status",
    "opened",
    "opened_song",
    "text_of",
    "voice_called",
]


_FORMS = click.Choice([form.value for form in Form])
as_form = click.option("--as", "form", type=_FORMS, help="What FILE is, where its content does not say.")
"""The option that names a file's form."""


def opened_song(name: str, form: str | None = None) -> Reading:
    """The reading of a file of any form whose song is wanted. Raises FileFault, also for a tune that is too large."""
    reading = opened(name, form=form)
    if reading.too_large:
        raise FileFault(name, as_reason(reading.too_large))
    return reading


def opened(name: str, by_folder: bool = False, form: str | None = None) -> Reading:
    """The reading of a file of any form, or of standard input for ``-``; checked as its folder asks, or as usual.

    What is no sheet is written as one, every time as it is. Raises FileFault, for a folder's profile too.
    """
    profile = profile_for(Path(name)) if by_folder and name != "-" else USUAL
    return checked_reading(text_of(name, form), profile)


def text_of(name: str, form: str | None = None) -> str:
    """The sheet in a file of any form, or in standard input for ``-``. Raises FileFault."""
    return arranged(found_in(name, form), snap=None, phrases=False).text


def found_in(name: str, form: str | None = None) -> Imported:
    """Read a file of any form, or standard input for ``-``. Raises FileFault."""
    asked = Form(form) if form else None
    if name == "-":
        return read_data(read_stream(sys.stdin.buffer if sys.stdin else None, name), name, asked)
    return read(Path(name), asked, pipes=True)


def voice_called(file: str, song: Song, name: str | None) -> int | None:
    """Which voice of a song has a name; None where none is asked for. Raises Refused where there is none."""
    if name is None:
        return None
    names = [each.name for each in song.voices]
    chosen = [place for place, each in enumerate(names) if each.lower() == name.lower()]
    if not chosen:
        raise Refused(f"{file}: there is no voice called {name}; the voices are: {', '.join(names)}.")
    return chosen[0]


def goal_of(output: str | None, force: bool) -> Path | None:
    """The file that an output names; None for standard output. Raises FileFault for one there is, unless forced."""
    path = Path(output) if output and output != "-" else None
    if path and is_there(path) and not is_folder(path) and not force:
        raise FileFault(path, "this file already exists; --force replaces it")
    return path


def music_status(name: str, reading: Reading) -> int:
    """The exit status that tells whether the music has errors; says so on standard error."""
    errors = sum(finding.severity is Severity.ERROR for finding in reading.findings)
    if errors:
        count = "an error" if errors == 1 else f"{errors} errors"
        say_line(f"{name}: the music has {count}; “chickadee check” shows where.", err=True)
    return 1 if errors else 0


class Bars(click.ParamType[tuple[int, int]]):
    """``3-8``, or one bar by its number."""

    name = "bars"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> tuple[int, int]:
        found = re.fullmatch(r"([0-9]{1,9})(?:-([0-9]{1,9}))?", str(value))
        if found is None:
            self.fail(f"{value} is not a range of bars such as 3-8.", param, ctx)
        first = int(found[1])
        last = int(found[2] or found[1])
        if last < first:
            self.fail(f"{value} ends before it begins; bars are given as 3-8, the lower first.", param, ctx)
        return first, last


class PitchRange(click.ParamType[tuple[int, int]]):
    """``C3-C6``: the lowest and the highest pitch, as MIDI numbers."""

    name = "range"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> tuple[int, int]:
        try:
            return read_reach(str(value))
        except HandoutFault as fault:
            self.fail(str(fault), param, ctx)


class Speed(click.ParamType[float]):
    """A speed such as ``75%``."""

    name = "speed"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> float:
        found = re.fullmatch(r"([0-9]{1,3}(?:\.[0-9]+)?)%?", str(value))
        if not found or not 25 <= float(found[1]) <= 150:
            self.fail(f"{value} is not a speed from 25% to 150%.", param, ctx)
        return float(found[1]) / 100


def chosen_bars(name: str, song: Song, bars: tuple[int, int] | None) -> Song:
    """The song, or some bars of it. Raises Refused where there are no such bars."""
    try:
        return bars_excerpt(song, *bars) if bars else song
    except InputFault as fault:
        raise Refused(f"{name}: {fault}.") from None

"""``chickadee staff``: a tune on five lines."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

import click

from ..files import FileFault, as_reason
from ..handout.files import paths_of
from ..handout.request import HandoutFault, Request
from ..handout.staff_page import staff_picture
from ..handout.staff_score import HeadLabels
from ..notation import CLEFS, VoiceNotation
from ..notation.record import record_of
from ..song import Song
from .pages import write_pages_of
from .refusal import Refused
from .status import Bars, as_form, chosen_bars, goal_of, music_status, opened_song, voice_called
from .terminal import say_line

__all__ = ["staff"]

_CLEFS = click.Choice([name for name in CLEFS if name != "percussion"])


@click.command()
@click.argument("file")
@click.option("--voice", metavar="NAME", help="This voice alone, instead of all, one under the other.")
@click.option("--with", "beside", metavar="NAME", help="This voice too, on the staff of the other.")
@click.option("--bars", type=Bars(), metavar="3-8", help="These bars alone.")
@click.option("--names", is_flag=True, help="Write the names of the notes under them.")
@click.option("--numbers", is_flag=True, help="Write their MIDI numbers under them.")
@click.option("--clef", type=_CLEFS, help="This clef, instead of the one that the notes need.")
@click.option("-o", "--output", metavar="OUT", help="OUT.svg, .pdf or .png; at first the tune's name.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
@click.option("--json", "as_json", is_flag=True, help="What is written: types, ties, tuplets, beams, accidentals.")
@as_form
def staff(
    file: str,
    voice: str | None,
    beside: str | None,
    bars: tuple[int, int] | None,
    names: bool,
    numbers: bool,
    clef: str | None,
    output: str | None,
    force: bool,
    as_json: bool,
    form: str | None,
) -> int:
    """Write FILE in notation; what has none is written as its nearest, and said on standard error."""
    reading = opened_song(file, form)
    song = reading.song
    chosen = voice_called(file, song, voice)
    voices = [chosen] if chosen is not None else [place for place, notes in enumerate(song.by_voice) if len(notes)]
    second = voice_called(file, song, beside)
    if second is not None:
        voices = [each for each in voices if each != second][:1] or [second]
    chosen_bars(file, song, bars)
    notations = [VoiceNotation(song, each, clef, second) for each in voices]
    records = [record_of(notation, notation.places(bars)) for notation in notations]
    for notation in notations:
        _say_inexact(file, notation, bars)
    if as_json:
        click.echo(json.dumps({"voices": records}, ensure_ascii=False, indent=2))
    if output is not None or not as_json:
        labels = {(True, True): HeadLabels.BOTH, (True, False): HeadLabels.NAMES, (False, True): HeadLabels.NUMBERS}
        request = Request(
            voices=tuple(voices),
            bars=bars,
            beside=second,
            labels=labels.get((names, numbers), HeadLabels.NONE).value,
            clef=clef,
        )
        _draw(file, song, request, output, force)
    return music_status(file, reading)


def _draw(file: str, song: Song, request: Request, output: str | None, force: bool) -> None:
    stem = Path(file).stem if file != "-" else "tune"
    path = goal_of(output or f"{stem}-staff.svg", force=True)
    if path is None:
        raise Refused("staff writes files; please name one that ends in .svg, .pdf or .png.")
    try:
        pages = staff_picture(song, request)
    except HandoutFault as fault:
        raise FileFault(file, as_reason(str(fault))) from None
    for goal in paths_of(path, len(pages)):
        goal_of(str(goal), force)
    write_pages_of(path, pages, song.title or stem)


def _say_inexact(file: str, notation: VoiceNotation, bars: tuple[int, int] | None) -> None:
    """Say in which bars something is written as its nearest."""
    numbers = [notation.bars[place].number for place in notation.places(bars) if not _is_exact(notation, place)]
    if numbers:
        name = notation.song.voices[notation.voice].name
        shown = _numbers(numbers)
        say_line(f"{file}: {name}: what has no notation is written as its nearest in {shown}.", err=True)


def _is_exact(notation: VoiceNotation, place: int) -> bool:
    return all(item.exact for line in notation.bar(place).lines for item in line.items)


def _numbers(numbers: Sequence[int]) -> str:
    shown = ", ".join(map(str, numbers[:8]))
    more = f" and {len(numbers) - 8} more" if len(numbers) > 8 else ""
    return f"bar {shown}" if len(numbers) == 1 else f"bars {shown}{more}"

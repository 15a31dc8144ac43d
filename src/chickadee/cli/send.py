"""``chickadee send``: a tune as a program or a board wants it."""

from __future__ import annotations

import json
import re
from fractions import Fraction
from pathlib import Path

import click

from .. import library
from ..boards.catalogue import target_called, target_names
from ..boards.fitting import Fitted, fitted
from ..boards.hertz import hertz_table
from ..boards.packing import packed
from ..boards.simulation import simulation
from ..files import FileFault, write_text
from ..sheet.writing import write_song
from ..theory import read_pitch_name
from .notes import records_of, summary, table
from .refusal import Refused
from .status import as_form, goal_of, opened_song, voice_called
from .terminal import say_line, say_text

__all__ = ["send"]


class _Tick(click.ParamType[Fraction]):
    """A part of a beat."""

    name = "tick"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> Fraction:
        if not re.fullmatch(r"[1-9][0-9]{0,2}(/[1-9][0-9]{0,2})?", str(value)):
            self.fail(f"{value} is not a tick in beats, such as 1/4.", param, ctx)
        return Fraction(str(value))


class _Pitch(click.ParamType[int]):
    """A pitch with its octave, or a MIDI number."""

    name = "pitch"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> int:
        name, octave = read_pitch_name(str(value)) or (None, None)
        number = int(str(value)) if re.fullmatch("[0-9]{1,3}", str(value)) else -1
        if name is not None and octave is not None:
            number = name.at(octave).number
        if not 0 <= number <= 127:
            self.fail(f"{value} is not a pitch such as C2, nor a MIDI number.", param, ctx)
        return number


@click.command()
@click.argument("file", required=False)
@click.option("--to", "target", metavar="TARGET", help="A target by its name, or its .toml file.")
@click.option("-o", "--output", metavar="OUT", help="The file to write, instead of standard output.")
@click.option("--voice", metavar="NAME", help="This voice alone.")
@click.option("--tick", type=_Tick(), metavar="1/4", help="The board's tick in beats, instead of the best one.")
@click.option("--simulate", is_flag=True, help="The notes that the board would sound, from its cells alone.")
@click.option("--list", "listed", is_flag=True, help="Name the targets there are.")
@click.option("--table", "span", nargs=2, type=_Pitch(), metavar="C2 C7", help="The hertz of each note by octaves.")
@click.option("--json", "as_json", is_flag=True, help="One object: the boards and what is lost.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
@as_form
def send(
    file: str | None,
    target: str | None,
    output: str | None,
    voice: str | None,
    tick: Fraction | None,
    simulate: bool,
    listed: bool,
    span: tuple[int, int] | None,
    as_json: bool,
    force: bool,
    form: str | None,
) -> int:
    """Write FILE as a target wants it; what is lost goes to standard error."""
    if listed:
        return _list(Path(file).parent if file else None)
    if span:
        return _table(*span)
    if not file or not target:
        raise Refused("send needs a FILE and --to TARGET; “chickadee send --list” names the targets.")
    song = opened_song(file, form).song
    folder = Path(file).parent if file != "-" else None
    wanted = target_called(target, folder)
    goal = goal_of(output, force)
    beat = song.meter.beat_ticks
    if tick is not None and (tick * beat).denominator != 1:
        raise Refused(f"{tick} of a beat is too fine a tick.")
    chosen = voice_called(file, song, voice)
    voices = [chosen] if chosen is not None else None
    fit = fitted(song, wanted, voices, int(tick * beat) if tick is not None else None)
    if not fit.boards:
        raise FileFault(file, "there are no notes in it to send")
    if simulate:
        return _simulate(fit, as_json)
    if as_json:
        click.echo(json.dumps(_record(fit), ensure_ascii=False, indent=2))
    else:
        for loss in fit.lost:
            say_line(f"{file}: {loss.sentence}", err=True)
    if goal is not None:
        _write(fit, goal, force)
    elif not as_json:
        say_text("\n\n".join(_texts(fit)))
    return 0


def _list(folder: Path | None) -> int:
    for name in target_names(folder):
        say_line(f"{name:<20}{target_called(name, folder).title}")
    return 0


def _table(low: int, high: int) -> int:
    for row in hertz_table(min(low, high), max(low, high)):
        click.echo("".join(f"{cell:>10}" if place else f"{cell:<3}" for place, cell in enumerate(row)).rstrip())
    return 0


def _texts(fit: Fitted) -> list[str]:
    """The text of each board, named where there are several."""
    texts = [packed(fit, board) for board in fit.boards]
    named = zip(fit.boards, texts, strict=True)
    return [f"{board.name}\n{text}" for board, text in named] if len(texts) > 1 else texts


def _write(fit: Fitted, goal: Path, force: bool) -> None:
    """Each board's text into a file of its own, the first into the one that is named."""
    paths = [goal if not place else goal.with_stem(f"{goal.stem} {place + 1}") for place in range(len(fit.boards))]
    for path in paths[1:]:
        goal_of(str(path), force)
    for path, board in zip(paths, fit.boards, strict=True):
        write_text(path, packed(fit, board))


def _record(fit: Fitted) -> dict[str, object]:
    return {
        "target": fit.target.id,
        "boards": [
            {
                "name": board.name,
                "text": packed(fit, board),
                "cells": board.cells,
                "tick": fit.tick_in_beats,
                "voice": ", ".join(dict.fromkeys(board.voices)),
            }
            for board in fit.boards
        ],
        "lost": [
            {"code": loss.code, "bar": loss.bar, "beat": str(loss.beat), "sentence": loss.sentence}
            for loss in fit.lost
        ],
    }


def _simulate(fit: Fitted, as_json: bool) -> int:
    song = simulation([packed(fit, board) for board in fit.boards], fit)
    reading = library.read(write_song(song))
    records = records_of(library.notes(reading))
    if as_json:
        click.echo(json.dumps(summary(reading) | {"notes": records}, ensure_ascii=False, indent=2))
    else:
        click.echo(table(records))
    return 0

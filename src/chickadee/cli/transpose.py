"""``chickadee transpose``: a sheet, moved."""

from __future__ import annotations

import click

from .. import library
from ..files import write_text
from ..sheet import CannotEdit
from ..theory import IntervalNameError, KeyNameError
from .refusal import Refused
from .status import as_form, goal_of, music_status, opened
from .terminal import say_text

__all__ = ["transpose"]


@click.command()
@click.argument("file")
@click.option("--semitones", type=int, metavar="N", help="Up by N semitones, down for N below zero.")
@click.option("--steps", type=int, metavar="N", help="By N steps of the key.")
@click.option("--octaves", type=int, metavar="N", help="By N octaves.")
@click.option("--interval", metavar="NAME", help="By an interval, such as “up a minor third”.")
@click.option("--to-key", metavar="KEY", help="To a key, such as “D major”, the nearest way.")
@click.option("-o", "--output", metavar="OUT", help="The file to write, instead of standard output.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
@as_form
def transpose(
    file: str,
    semitones: int | None,
    steps: int | None,
    octaves: int | None,
    interval: str | None,
    to_key: str | None,
    output: str | None,
    force: bool,
    form: str | None,
) -> int:
    """Move FILE by semitones, steps, octaves or an interval, or to a key; nothing else of its text changes."""
    ways = (semitones, steps, octaves, interval, to_key)
    if sum(way is not None for way in ways) != 1:
        raise click.UsageError("Say one of --semitones, --steps, --octaves, --interval and --to-key.")
    path = goal_of(output, force)
    given = opened(file, form=form)
    try:
        moved = library.transpose(
            given, semitones=semitones, steps=steps, octaves=octaves, interval=interval, to_key=to_key
        )
    except (CannotEdit, KeyNameError, IntervalNameError) as fault:
        raise Refused(f"{file}: {fault}") from None
    text = moved.text
    if path:
        write_text(path, text)
    else:
        say_text(text)
    return music_status(file, given)

"""``chickadee notes``: every sounding note of a tune."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import asdict, fields
from fractions import Fraction
from typing import Any

import click

from .. import library
from ..csv_text import written
from ..files import printable
from ..library import NoteRow
from ..sheet import Reading
from .status import as_form, music_status, opened
from .terminal import say_text

__all__ = ["notes", "records_of", "summary", "table"]

_SHOWN = (
    "bar",
    "beat",
    "voice",
    "name",
    "number",
    "hz",
    "length_beats",
    "start_seconds",
    "length_seconds",
    "loudness",
)


@click.command()
@click.argument("file")
@click.option("--json", "output", flag_value="json", help="One object, with the song's own facts.")
@click.option("--rests", is_flag=True, help="List rests too, with no number.")
@click.option("--csv", "output", flag_value="csv", help="Comma-separated values with a heading.")
@as_form
def notes(file: str, output: str | None, rests: bool, form: str | None) -> int:
    """List every sounding note of FILE, in order of start, then voice, then number."""
    reading = opened(file, form=form)
    records = records_of(library.notes(reading, rests))
    if output == "json":
        click.echo(json.dumps(summary(reading) | {"notes": records}, ensure_ascii=False, indent=2))
    elif output == "csv":
        say_text(_csv(records))
    elif records:
        click.echo(table(records))
    return music_status(file, reading)


def records_of(rows: Iterable[NoteRow]) -> list[dict[str, Any]]:
    """Notes as JSON can hold them: fractions of beats are texts."""
    return [
        {name: str(value) if isinstance(value, Fraction) else value for name, value in asdict(row).items()}
        for row in rows
    ]


def summary(reading: Reading) -> dict[str, object]:
    """A song's own facts, as ``--json`` prints them before its notes."""
    song = reading.song
    return {
        "title": song.title,
        "tempo": round(song.tempo_in_beats, 3),
        "meter": song.meter.text,
        "key": song.key.text,
        "beats": str(song.beats),
        "seconds": round(song.seconds, 3),
        "voices": [{"name": voice.name, "sound": voice.sound} for voice in song.voices],
    }


def _csv(records: list[dict[str, Any]]) -> str:
    names = [field.name for field in fields(NoteRow)]
    return written([names, *([record[name] for name in names] for record in records)])


def table(records: list[dict[str, Any]]) -> str:
    """Notes in columns."""
    rows = [
        [name.replace("_", " ") for name in _SHOWN],
        *([printable(str(record[name])) for name in _SHOWN] for record in records),
    ]
    widths = [max(map(len, column)) for column in zip(*rows, strict=True)]
    return "\n".join(
        "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip() for row in rows
    )

"""``chickadee notes``: every sounding note of a tune."""

from __future__ import annotations

import csv
import io
import json
from fractions import Fraction

import click

from ..sheet import Reading
from ..song import Note
from .status import music_status, opened

__all__ = ["notes"]

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
@click.option("--json", "form", flag_value="json", help="One object, with the song's own facts.")
@click.option("--csv", "form", flag_value="csv", help="Comma-separated values with a heading.")
def notes(file: str, form: str | None) -> int:
    """List every sounding note of FILE, in order of start, then voice, then number."""
    reading = opened(file)
    records = _records(reading)
    if form == "json":
        click.echo(json.dumps(_summary(reading) | {"notes": records}, ensure_ascii=False, indent=2))
    elif form == "csv":
        click.echo(_csv(records), nl=False)
    elif records:
        click.echo(_table(records))
    return music_status(file, reading)


def _summary(reading: Reading) -> dict[str, object]:
    song = reading.song
    return {
        "title": song.title,
        "tempo": round(song.tempo_in_beats, 3),
        "meter": song.meter.text,
        "key": song.key.text,
        "beats": str(Fraction(song.end, song.meter.beat_ticks)),
        "seconds": round(song.seconds, 3),
        "voices": [{"name": voice.name, "sound": voice.sound} for voice in song.voices],
    }


def _records(reading: Reading) -> list[dict[str, object]]:
    song = reading.song
    starts = song.tempo.seconds([note.start for note in song.notes]).tolist()
    ends = song.tempo.seconds([note.end for note in song.notes]).tolist()
    return [_record(reading, note, start, end) for note, start, end in zip(song.notes, starts, ends, strict=True)]


def _record(reading: Reading, note: Note, start: float, end: float) -> dict[str, object]:
    song = reading.song
    place, beat = song.grid.place(note.start), song.meter.beat_ticks
    line, column = reading.place(note.ink[0][0])
    return {
        "voice": song.voices[note.voice].name,
        "bar": place.bar,
        "beat": str(place.beat),
        "start_beats": str(Fraction(note.start, beat)),
        "length_beats": str(Fraction(note.length, beat)),
        "start_seconds": round(start, 3),
        "length_seconds": round(end - start, 3),
        "name": note.pitch.text,
        "number": note.number,
        "hz": round(song.frequency(note.number), 4),
        "loudness": note.loudness,
        "line": line,
        "column": column,
    }


def _csv(records: list[dict[str, object]]) -> str:
    heading = (
        "voice",
        "bar",
        "beat",
        "start_beats",
        "length_beats",
        "start_seconds",
        "length_seconds",
        "name",
        "number",
        "hz",
        "loudness",
        "line",
        "column",
    )
    text = io.StringIO()
    writer = csv.DictWriter(text, heading, lineterminator="\n")
    writer.writeheader()
    writer.writerows(records)
    return text.getvalue()


def _table(records: list[dict[str, object]]) -> str:
    rows = [
        [name.replace("_", " ") for name in _SHOWN],
        *([str(record[name]) for name in _SHOWN] for record in records),
    ]
    widths = [max(map(len, column)) for column in zip(*rows, strict=True)]
    return "\n".join(
        "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip() for row in rows
    )

"""``chickadee listen``: the notes heard in a recording."""

from __future__ import annotations

import json
import sys
from pathlib import Path

import click

from ..files import FileFault, is_there, write_text
from ..formats.arranging import arranged
from ..hearing.listening import doubts
from ..hearing.listening import listen as listen_to
from ..hearing.notes import HeardNote
from ..hearing.sound_file import open_recording
from ..hearing.tempo import as_imported, guessed_beats
from ..song.meter import read_meter
from ..theory import read_key
from .refusal import Refused
from .terminal import say_line

__all__ = ["listen"]

_TEMPOS = click.FloatRange(5, 1000)
_SECONDS = click.FloatRange(0, 4 * 3600)


@click.command()
@click.argument("recording")
@click.option("--json", "as_json", is_flag=True, help="As one JSON object.")
@click.option("-o", "--output", metavar="OUT.chick", help="Write a sheet.")
@click.option("--tempo", type=_TEMPOS, metavar="BEATS", help="Beats a minute, where they are known.")
@click.option("--first", type=_SECONDS, metavar="SECONDS", help="Where bar 1 begins.")
@click.option("--meter", metavar="METER", help="Such as 3/4.")
@click.option("--force", is_flag=True, help="Replace the sheet that is there.")
def listen(
    recording: str,
    as_json: bool,
    output: str | None,
    tempo: float | None,
    first: float | None,
    meter: str | None,
    force: bool,
) -> int:
    """Write down the notes heard in RECORDING, one or two at a time: WAV, FLAC, OGG, MP3, or what a telephone or a
    screen recorded.

    Each line has the start and the length in seconds, the MIDI number, the name, the cents above it, and how sure it
    is, from 0 to 1.
    """
    wanted = read_meter(meter) if meter is not None else None
    if meter is not None and wanted is None:
        raise Refused(f"{meter}: a meter is beats over a note value, such as 3/4 or 6/8.")
    if output is not None and is_there(output) and not force:
        raise FileFault(output, "this file already exists; --force replaces it")
    heard = listen_to(recording, progress=_told)
    if more := open_recording(recording).more_tracks:
        say_line(f"{recording}: it has {more + 1} tracks of sound; the first is read.", err=True)
    doubt = doubts(heard)
    if not heard.notes and output is None:
        say_line(f"{recording}: no notes were heard. {doubt}", err=True)
    elif heard.notes and doubt:
        say_line(f"{recording}: {doubt}", err=True)
    beats = guessed_beats(heard.notes, tempo, wanted, first)
    beat = beats[0]
    if output is not None:
        if not heard.notes:
            raise FileFault(recording, f"no notes were heard in it. {doubt}".rstrip("."))
        made = arranged(as_imported(heard.notes, beat))
        title = Path(recording).stem.replace("-", " ").capitalize()
        write_text(output, f"title: {title}\n{made.text}")
    elif as_json:
        notes = [_as_json(note) for note in heard.notes]
        found = {
            "tempo": beat.tempo,
            "first_seconds": beat.first,
            "meter": beat.meter.text,
            "other_tempos": [each.tempo for each in beats[1:]],
            "notes": notes,
        }
        click.echo(json.dumps(found, indent=1))
    else:
        for note in heard.notes:
            values = (f"{note.start:.3f}", f"{note.length:.3f}", str(note.number), _name(note), f"{note.cents:+.1f}")
            click.echo(", ".join((*values, f"{note.confidence:.2f}")))
    return 0


def _told(done: float) -> bool:
    if sys.stderr.isatty():
        click.echo(f"\r{100 * done:3.0f} %", nl=done >= 1, err=True)
    return True


def _name(note: HeardNote) -> str:
    return read_key("C major").spell(note.number).text


def _as_json(note: HeardNote) -> dict[str, object]:
    return {
        "start_seconds": round(note.start, 3),
        "length_seconds": round(note.length, 3),
        "number": note.number,
        "name": _name(note),
        "cents": note.cents,
        "loudness": note.loudness,
        "sure": note.confidence,
    }

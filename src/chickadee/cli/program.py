"""``chickadee program``: a tune as a program."""

from __future__ import annotations

import json
from pathlib import Path

import click

from ..files import FileFault, as_reason, write_text
from ..programs.writing.catalogue import dialect_called, shipped
from ..programs.writing.dialect import DialectFault, Level
from ..programs.writing.written import Writing, WrittenProgram
from .status import as_form, goal_of, music_status, opened_song, voice_called
from .terminal import say_line, say_text

__all__ = ["program"]

_LEVELS = click.Choice([level.value for level in Level])


@click.command()
@click.argument("file")
@click.option("--in", "language", default="steps", show_default=True, metavar="|".join((*shipped(), "DIALECT.toml")),
              help="The language that it is written in.")  # fmt: skip
@click.option("--level", default=Level.LINE.value, show_default=True, type=_LEVELS,
              help="Line by line, with repeats, with parts, or as lists and a loop.")  # fmt: skip
@click.option("--voice", metavar="NAME", help="This voice alone, instead of all merged in time.")
@click.option("--runs", is_flag=True, help="Add what it needs to run by itself and print each strike.")
@click.option("-o", "--output", metavar="OUT", help="The file to write, instead of standard output.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
@click.option("--json", "as_json", is_flag=True, help="One object: the text, its steps, and which line sounds what.")
@as_form
def program(
    file: str,
    language: str,
    level: str,
    voice: str | None,
    runs: bool,
    output: str | None,
    force: bool,
    as_json: bool,
    form: str | None,
) -> int:
    """Write FILE as a program that sounds the same; what is not in it goes to standard error."""
    reading = opened_song(file, form)
    chosen = voice_called(file, reading.song, voice)
    voices = range(len(reading.song.voices)) if chosen is None else [chosen]
    dialect = dialect_called(language, Path(file).parent if file != "-" else None)
    goal = goal_of(output, force)
    try:
        writing = Writing(reading, voices, dialect)
        written = writing.program(Level(level), runs)
    except DialectFault as fault:
        raise FileFault(file, as_reason(str(fault))) from None
    if goal is not None:
        write_text(goal, written.text)
    if as_json:
        click.echo(json.dumps(_record(written, writing), ensure_ascii=False, indent=2))
    else:
        for sentence in written.left_out:
            say_line(f"{file}: {sentence}", err=True)
        if goal is None:
            say_text(written.text)
    return music_status(file, reading)


def _record(written: WrittenProgram, writing: Writing) -> dict[str, object]:
    return {
        "language": written.dialect.id,
        "level": written.level.value,
        "text": written.text,
        "steps": written.steps,
        "steps_line_by_line": writing.steps(Level.LINE),
        "notes": [{"line": line, "note": note} for note, line in sorted(written.performance.lines_of_notes.items())],
        "left_out": list(written.left_out),
    }

"""``chickadee compare``: a class's attempts, judged against a tune."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path

import click

from ..attempts import Attempt, Source, attempt_of, attempts_in, judging, table_of
from ..compare import Model
from ..compare.differences import Difference, Sounding
from ..compare.summary import common_in
from ..files import FileFault, is_there, read_stream
from ..formats.imported import Form
from .refusal import Refused
from .status import as_form, opened_song
from .terminal import say_line, say_text

__all__ = ["compare"]


@click.command()
@click.argument("model")
@click.argument("attempts", metavar="ATTEMPT...", nargs=-1, required=True)
@click.option("--json", "output", flag_value="json", help="One object, with every difference.")
@click.option("--csv", "output", flag_value="csv", help="Comma-separated values, a row for each attempt.")
@click.option("--voice", metavar="NAME", help="Compare with this voice of MODEL alone.")
@as_form
def compare(model: str, attempts: tuple[str, ...], output: str | None, voice: str | None, form: str | None) -> int:
    """Judge each ATTEMPT, a file of any form or a folder of them, against MODEL."""
    wanted = _model(model, voice)
    sources = list(_sources(attempts, Path(model), Form(form) if form else None))
    judged = _judged(wanted, sources)
    if output == "json":
        click.echo(json.dumps(_summary(model, wanted, judged), ensure_ascii=False, indent=2))
    elif output == "csv":
        say_text(table_of(wanted, judged))
    else:
        for each in judged:
            say_line(f"{each.source.name}: {each.comparison.sentence}")
    return 0 if all(each.comparison.verdict.is_right for each in judged) else 1


def _model(name: str, voice: str | None) -> Model:
    song = opened_song(name).song
    if not song.notes:
        raise FileFault(name, "there are no notes in it to compare with")
    if voice is None:
        return Model(song)
    names = [each.name for each in song.voices]
    chosen = tuple(index for index, each in enumerate(names) if each.lower() == voice.lower())
    if not chosen:
        raise Refused(f"{name}: there is no voice called {voice}; the voices are: {', '.join(names)}.")
    found = Model(song, chosen)
    if not found.chosen:
        raise Refused(f"{name}: the voice {voice} has no notes to compare with.")
    return found


def _sources(names: Sequence[str], model: Path, form: Form | None) -> Iterator[Source]:
    for name in names:
        if name == "-":
            yield Source(name, data=read_stream(sys.stdin.buffer if sys.stdin else None, name), form=form)
        elif not is_there(name):
            raise FileFault(name, "there is no such file")
        else:
            yield from attempts_in([name], model, form)


def _judged(model: Model, sources: Sequence[Source]) -> list[Attempt]:
    """Every attempt in the order given, with progress on a terminal."""
    found: dict[int, Attempt] = {}
    shown = sys.stderr.isatty() and len(sources) > 1
    for index, result in judging(model, sources).results():
        found[index] = attempt_of(sources[index], result)
        if shown:
            click.echo(f"\r{len(found)} of {len(sources)}", nl=False, err=True)
    if shown:
        click.echo("\r\x1b[K", nl=False, err=True)
    return [found[index] for index in range(len(sources))]


def _summary(name: str, model: Model, judged: Sequence[Attempt]) -> dict[str, object]:
    return {
        "model": name,
        "bars": len(model.bars),
        "attempts": [_record(each) for each in judged],
        "common": [
            {"kind": each.kind.value, "bar": each.bar, "beat": str(each.beat), "found": list(each.found),
             "attempts": each.attempts}
            for each in common_in([each.comparison for each in judged])
        ],
    }  # fmt: skip


def _record(attempt: Attempt) -> dict[str, object]:
    found = attempt.comparison
    return {
        "file": attempt.source.name,
        "verdict": found.verdict.value,
        "sentence": found.sentence,
        "semitones": found.semitones,
        "lengths_times": str(found.times),
        "right": found.right,
        "of": found.of,
        "bars": found.cells,
        "differences": [
            _difference(each, place) for each, place in zip(found.differences, attempt.places, strict=True)
        ],
    }


def _difference(difference: Difference, place: tuple[int, int] | None) -> dict[str, object]:
    line, column = place or (None, None)
    return {
        "kind": difference.kind.value,
        "bar": difference.bar,
        "beat": str(difference.beat),
        "expected": _sounding(difference.expected),
        "found": _sounding(difference.found),
        "line": line,
        "column": column,
    }


def _sounding(there: Sounding | None) -> dict[str, object] | None:
    return {"numbers": list(there.numbers), "beats": str(there.beats)} if there else None

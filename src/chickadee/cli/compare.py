"""``chickadee compare``: a class's attempts, judged against a tune."""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from pathlib import Path

import click

from ..attempts import Attempt, UnreadPart, attempt_of, judging, table_of
from ..comparison import Model
from ..comparison.differences import Difference, Sounding
from ..comparison.points import Points, read_points
from ..comparison.summary import common_in
from ..files import FileFault, is_file, is_there, read_stream
from ..formats.imported import Form
from ..handed_in import HandedIn, Source, handed_in, names_in, without_work
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
@click.option(
    "--class", "listed", metavar="LIST", help="A text file of names, a line each: who handed in nothing is said."
)
@click.option(
    "--points", "rule", metavar="P,L,A", help="So many points for the pitches, the lengths, and all right: 6,3,1."
)
@as_form
def compare(
    model: str,
    attempts: tuple[str, ...],
    output: str | None,
    voice: str | None,
    listed: str | None,
    rule: str | None,
    form: str | None,
) -> int:
    """Judge each ATTEMPT, a file of any form, or a folder or zip of them, against MODEL."""
    wanted = _model(model, voice)
    points = read_points(rule.split(",")) if rule is not None else None
    names = names_in(listed) if listed is not None else []
    work = _handed_in(attempts, Path(model), Form(form) if form else None, listed)
    missing = without_work(names, work.sources)
    judged = _judged(wanted, work.sources)
    if output == "json":
        click.echo(json.dumps(_summary(model, wanted, judged, work, missing, points), ensure_ascii=False, indent=2))
    elif output == "csv":
        say_text(table_of(wanted, judged, missing, points))
    else:
        for each in judged:
            say_line(f"{each.source.name}: {each.comparison.sentence}{_points_said(points, each)}")
            for part in each.unread:
                say_line(f"{each.source.name}:{_where(part)} {part.sentence}", err=True)
        for name in missing:
            say_line(f"{name}: Nothing was handed in.")
        for skipped in work.skipped:
            say_line(f"{skipped.name}: left out. {skipped.sentence}", err=True)
    return 0 if all(each.comparison.verdict.is_right for each in judged) and not missing else 1


def _points_said(points: Points | None, attempt: Attempt) -> str:
    """``  8.5 of 10 points.`` after a sentence; nothing without a rule."""
    if points is None:
        return ""
    return f" {float(points.given(attempt.comparison)):g} of {float(points.most):g} points."


def _where(part: UnreadPart) -> str:
    return f"{part.line}:{part.column}:" if part.line is not None else ""


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


def _handed_in(names: Sequence[str], model: Path, form: Form | None, listed: str | None) -> HandedIn:
    """All attempts that are named, in order; the list of the class is none."""
    streams = [
        Source(name, data=read_stream(sys.stdin.buffer if sys.stdin else None, name), form=form)
        for name in names
        if name == "-"
    ]
    paths = [name for name in names if name != "-"]
    for name in paths:
        if not is_there(name):
            raise FileFault(name, "there is no such file")
    found = handed_in(paths, model, form)
    found.sources = [*streams, *found.sources]
    if listed is not None and is_file(listed):
        found.sources = [
            each
            for each in found.sources
            if each.path is None or each.data is not None or not each.path.samefile(listed)
        ]
    return found


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


def _summary(
    name: str, model: Model, judged: Sequence[Attempt], work: HandedIn, missing: Sequence[str], points: Points | None
) -> dict[str, object]:
    return {
        "model": name,
        "bars": len(model.bars),
        "attempts": [_record(each, points) for each in judged],
        "common": [
            {
                "kind": each.kind.value,
                "bar": each.bar,
                "beat": str(each.beat),
                "found": list(each.found),
                "attempts": each.attempts,
            }
            for each in common_in([each.comparison for each in judged])
        ],
        "skipped": [{"file": each.name, "sentence": each.sentence} for each in work.skipped],
        "missing": list(missing),
    }


def _record(attempt: Attempt, points: Points | None) -> dict[str, object]:
    found = attempt.comparison
    given = {} if points is None else {"points": float(points.given(found)), "points_of": float(points.most)}
    return {
        "file": attempt.source.name,
        "verdict": found.verdict.value,
        "sentence": found.sentence,
        "semitones": found.semitones,
        "lengths_times": str(found.times),
        "right": found.right,
        "of": found.of,
        **given,
        "bars": found.cells,
        "differences": [
            _difference(each, place) for each, place in zip(found.differences, attempt.places, strict=True)
        ],
        "unread": [{"line": each.line, "column": each.column, "sentence": each.sentence} for each in attempt.unread],
        "program": _program(attempt),
    }


def _program(attempt: Attempt) -> dict[str, object] | None:
    if attempt.program is None:
        return None
    uses = attempt.program.uses
    counts = {"repeats": uses.repeats, "parts": uses.parts, "lists": uses.lists, "steps": uses.steps}
    return {"language": attempt.program.language, "uses": counts}


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
        "turns": list(difference.turns),
    }


def _sounding(there: Sounding | None) -> dict[str, object] | None:
    return {"numbers": list(there.numbers), "beats": str(there.beats)} if there else None

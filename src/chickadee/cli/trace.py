"""``chickadee trace``: what a program sounds, found without running it."""

from __future__ import annotations

import json
import sys
from pathlib import Path

import click

from ..files import LARGEST_SHEET, FileFault, as_reason, decode, read_bytes, read_stream, write_text
from ..formats.arranging import arranged
from ..programs.corrections import corrections_in
from ..programs.faults import End
from ..programs.languages import LANGUAGES, LONGEST, NO_PROGRAM, language_of
from ..programs.meaning import Understood
from ..programs.reading import Sounded, imported, sounded
from ..programs.timing import Event
from ..programs.vocabulary import Verb
from .status import goal_of
from .terminal import say_line

__all__ = ["trace"]

_LANGUAGES = click.Choice([each.name for each in LANGUAGES])


@click.command()
@click.argument("program")
@click.option("--as", "language", type=_LANGUAGES, help="The language, where name and content do not say.")
@click.option("--answer", "answers", metavar="TEXT", multiple=True, help="The answer to the program's next question.")
@click.option("-o", "--output", metavar="OUT.chick", help="Write what it sounds as a sheet.")
@click.option("--json", "as_json", is_flag=True, help="One object: how it was understood, and every event.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
def trace(
    program: str, language: str | None, answers: tuple[str, ...], output: str | None, as_json: bool, force: bool
) -> int:
    """Say what PROGRAM sounds, event by event. It is traced and never run."""
    text = _text(program)
    path = goal_of(output, force)
    found = _sounded(program, text, language, answers)
    if path is not None:
        if not any(event.pitches for event in found.timed.events):
            raise FileFault(program, "this program sounds nothing that could be written")
        write_text(path, arranged(imported(found)).text)
    if as_json:
        click.echo(json.dumps(_record(found), ensure_ascii=False, indent=2))
    else:
        _say(program, found)
    return 1 if found.trace.end in (End.FAULT, End.BOUND) else 0


def _text(program: str) -> str:
    if program == "-":
        data = read_stream(sys.stdin.buffer if sys.stdin else None, program)
    else:
        data = read_bytes(Path(program), LARGEST_SHEET, pipes=True)
    text = decode(data, program)
    if len(text) > LONGEST:
        raise FileFault(program, f"this program has more than {LONGEST:,} signs, which is too long to be traced")
    return text


def _sounded(program: str, text: str, language: str | None, answers: tuple[str, ...]) -> Sounded:
    spoken = language
    corrections = corrections_in(Path(program).parent if program != "-" else None)
    if spoken is None:
        found = language_of(text, program, corrections.dialects)
        if found is None:
            raise FileFault(program, as_reason(NO_PROGRAM))
        spoken = found.name
    return sounded(text, spoken, corrections, answers, exact=True)


def _say(program: str, found: Sounded) -> None:
    for sentence in found.meaning.sentences:
        say_line(f"{program}: {sentence}", err=True)
    for event in _in_order(found):
        names = "&".join(pitch.text for pitch in event.pitches) or f"“{event.sign}”"
        turns = f", turn {' of '.join(map(str, reversed(event.heard.turns)))}" if event.heard.turns else ""
        line = found.trace.lines.of(event.span[0])
        say_line(f"{event.start} {event.length} {names} (line {line}{turns})")
    for sentence in (*found.trace.said, *([found.fault.sentence] if found.fault else [])):
        say_line(f"{program}: {sentence}", err=True)


def _in_order(found: Sounded) -> list[Event]:
    return sorted(found.timed.events, key=lambda event: event.start)


def _record(found: Sounded) -> dict[str, object]:
    uses = found.trace.facts.uses
    fault = found.fault
    return {
        "language": found.language,
        "understood": [_understood(each) for each in found.meaning.calls.values()],
        "events": [_event(event, found) for event in _in_order(found)],
        "ended": found.trace.end.value,
        "fault": {"line": fault.line, "column": fault.column, "sentence": fault.sentence} if fault else None,
        "said": list(found.trace.said),
        "uses": {"repeats": uses.repeats, "parts": uses.parts, "lists": uses.lists, "steps": uses.steps},
    }


def _understood(each: Understood) -> dict[str, object]:
    return {
        "call": each.call,
        "is": each.verb.value,
        "holds": each.holds if each.verb is Verb.STRIKE else each.verb is Verb.SILENCE,
        "unit": each.unit,
        "sentence": each.sentence,
    }


def _event(event: Event, found: Sounded) -> dict[str, object]:
    line, column = found.trace.lines.place(event.span[0])
    return {
        "start_beats": str(event.start),
        "length_beats": str(event.length),
        "numbers": [pitch.number for pitch in event.pitches],
        "line": line,
        "column": column,
        "turns": list(event.heard.turns),
    }

"""``chickadee handout``: pages made from a tune."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import click

from ..files import FileFault
from ..handout.files import paths_of
from ..handout.pages import FOR_PUPILS, OF_PROGRAMS, PAGES, class_set, pages_of
from ..handout.request import (
    EMPTY,
    EMPTY_IN_PROGRAMS,
    MOST_FALSE_STEPS,
    MOST_IN_LINE,
    HandoutFault,
    Request,
    read_gaps,
)
from ..handout.shapes import Page, Paper
from ..handout.staff_score import HeadLabels
from ..handout.staff_tasks import StaffTask
from ..program_sheets import program_sheet
from ..programs.writing.catalogue import dialect_called, shipped
from ..programs.writing.dialect import DialectFault, Level
from ..sheet.properties import own_keys
from ..song import Song
from .pages import write_pages_of
from .refusal import Refused
from .status import PitchRange, as_form, goal_of, opened_song, voice_called

__all__ = ["handout"]

_MOST_PUPILS = 500
_TASKS = click.Choice([task.value for task in StaffTask])
_LABELS = click.Choice([labels.value for labels in HeadLabels])


@click.command()
@click.argument("file")
@click.option("--page", required=True, type=click.Choice(tuple(PAGES)), help="The kind of page.")
@click.option("-o", "--output", metavar="OUT", help="OUT.pdf, .svg or .png; at first the tune's name and the page's.")
@click.option("--paper", default="A4", show_default=True, type=click.Choice(("A4", "Letter"), case_sensitive=False))
@click.option("--across", is_flag=True, help="Turn the paper.")
@click.option("--empty", default=EMPTY[0], show_default=True, metavar="|".join((*EMPTY, *EMPTY_IN_PROGRAMS)),
              help="What is left empty on a worksheet, or of a program.")  # fmt: skip
@click.option("--answers", is_flag=True, help="Fill in what is left empty.")
@click.option("--pupils", type=click.IntRange(1, _MOST_PUPILS), help="Make N different sheets.")
@click.option("--seed", type=click.IntRange(0, 2**31), help="Chooses what is left empty; the same again each time.")
@click.option("--voice", metavar="NAME", help="The voice that is read.")
@click.option("--with", "beside", metavar="NAME", help="Another voice, on the same staff.")
@click.option("--in", "language", default="steps", show_default=True, metavar="|".join((*shipped(), "DIALECT.toml")),
              help="The language of a program, puzzle, gaps or trace table.")  # fmt: skip
@click.option("--level", default=Level.REPEATS.value, show_default=True, help="The level of that program.",
              type=click.Choice([level.value for level in Level]))  # fmt: skip
@click.option("--false-steps", default=0, type=click.IntRange(0, MOST_FALSE_STEPS), metavar="N",
              help="Steps of a puzzle that are none of the tune's.")  # fmt: skip
@click.option("--bars", type=click.IntRange(1, MOST_IN_LINE), metavar="N",
              help="Bars in a line of the tune, worksheet or song chart; fewer where they need room.")  # fmt: skip
@click.option("--task", default=StaffTask.NAMES.value, show_default=True, type=_TASKS,
              help="What is done on a worksheet on a staff.")  # fmt: skip
@click.option("--labels", default=HeadLabels.NONE.value, show_default=True, type=_LABELS,
              help="What stands at the heads of a staff.")  # fmt: skip
@click.option("--range", "pitches", type=PitchRange(), metavar="C3-C6",
              help="The pitches of a chart or of flash cards; at first the tune's.")  # fmt: skip
@click.option("--title", help="The title, instead of the tune's own.")
@click.option("--class", "group", default="", help="What stands under the title, such as the class.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
@as_form
def handout(
    file: str,
    page: str,
    output: str | None,
    paper: str,
    across: bool,
    empty: str,
    answers: bool,
    pupils: int | None,
    seed: int | None,
    voice: str | None,
    beside: str | None,
    language: str,
    level: str,
    false_steps: int,
    bars: int | None,
    task: str,
    labels: str,
    pitches: tuple[int, int] | None,
    title: str | None,
    group: str,
    force: bool,
    form: str | None,
) -> int:
    """Make pages from FILE: the tune, also on a staff, worksheets for both, flash cards, a key card, a pitch chart, a
    song chart, a number strip, or its program: whole, as a puzzle, with gaps or with a trace table."""
    reading = opened_song(file, form)
    song = reading.song
    stem = Path(file).stem if file != "-" else "tune"
    path = goal_of(output or f"{stem}-{page}.pdf", force=True)
    if path is None:
        raise Refused("handout writes files; please name one that ends in .pdf, .svg or .png.")
    chosen = voice_called(file, song, voice)
    request = Request(
        Paper.of(paper, across),
        title,
        group,
        read_gaps(empty, seed),
        answers,
        voice=chosen,
        beside=voice_called(file, song, beside),
        bars_in_line=bars,
        key_sets=own_keys(reading.sheet.settings),
        false_steps=false_steps,
        task=task,
        labels=labels,
        reach=pitches,
    )
    try:
        if page in OF_PROGRAMS:
            dialect = dialect_called(language, Path(file).parent if file != "-" else None)
            voices = [chosen] if chosen is not None else range(len(song.voices))
            request = replace(request, program=program_sheet(reading, voices, dialect, Level(level)))
        pages = _pages(page, song, request, pupils, seed or 0)
    except (HandoutFault, DialectFault) as fault:
        raise FileFault(file, str(fault)[:1].lower() + str(fault)[1:].rstrip(".")) from None
    for goal in paths_of(path, len(pages)):
        goal_of(str(goal), force)
    write_pages_of(path, pages, title or song.title or stem)
    return 0


def _pages(kind: str, song: Song, request: Request, pupils: int | None, seed: int) -> list[Page]:
    """The pages; with pupils a set for each, and with the answers asked for, those after it."""
    if pupils is None or kind not in FOR_PUPILS:
        return pages_of(kind, song, request)
    blank = replace(request, answers=False)
    sets = [page for pages in class_set(song, blank, pupils, seed, kind) for page in pages]
    if request.answers:
        sets += [page for pages in class_set(song, request, pupils, seed, kind) for page in pages]
    return sets

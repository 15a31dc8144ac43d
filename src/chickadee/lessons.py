"""The library's way to the classroom: tunes for boards and programs, pages, practice tunes, recordings."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from .checks import checked_reading, reading_of
from .outgoing import song_of
from .sheet import Reading
from .sheet.tidy import tidy as tidied
from .song import Song

if TYPE_CHECKING:
    from .boards.fitting import Loss
    from .boards.target import Target
    from .hearing.notes import HeardNote
    from .ideas.recipe import Recipe
    from .programs.writing.dialect import Dialect
    from .programs.writing.written import WrittenProgram

__all__ = [
    "TargetTexts",
    "handout_pages",
    "listen",
    "playing_page",
    "practice_tunes",
    "program",
    "send",
    "show",
    "tidy",
]


@dataclass(frozen=True, slots=True)
class TargetTexts:
    """A tune as a target wants it."""

    texts: tuple[str, ...]
    """The text of each board; one where the target is a program."""
    lost: tuple[Loss, ...]
    """All that the target cannot take."""


def send(tune: Reading | Song, target: str | Target) -> TargetTexts:
    """A tune for a program or a board; the target is named as by ``chickadee send --list``.

    >>> from chickadee import read
    >>> print(send(read("C4 E4=2"), "python-pairs").texts[0].strip())
    # Tune
    tune = [
        (60, 1), (64, 2)]

    Raises TargetFault for a name that is none, and FileFault for a target's file that cannot be read.
    """
    from .boards.catalogue import target_called
    from .boards.fitting import fitted
    from .boards.packing import packed

    song = song_of(tune, "send")
    fit = fitted(song, target_called(target) if isinstance(target, str) else target)
    return TargetTexts(tuple(packed(fit, board) for board in fit.boards), fit.lost)


def program(
    tune: Reading | Song,
    language: str | Dialect = "steps",
    level: str = "line",
    voice: str | None = None,
    runs: bool = False,
) -> WrittenProgram:
    """A tune as a program that sounds the same; ``level`` is ``line``, ``repeats``, ``parts`` or ``data``.

    >>> from chickadee import read
    >>> print(program(read("(C4 E4) x3"), "python", "repeats").text)
    tempo(120)
    for i in range(3):
        play(60, 1)
        play(64, 1)
    <BLANKLINE>

    One ``voice`` by its name, or all merged in time; ``runs`` adds what it needs to run by itself. Raises
    DialectFault where the language cannot say it, FileFault for a dialect's file that cannot be read, and ValueError
    for a level or a voice that is none.
    """
    from .programs.writing.catalogue import dialect_called
    from .programs.writing.dialect import Level
    from .programs.writing.written import Writing

    reading = reading_of(tune)
    names = [each.name for each in reading.song.voices]
    if voice is not None and voice not in names:
        raise ValueError(f"voice is one of {', '.join(names)}, not {voice}")
    voices = range(len(names)) if voice is None else [names.index(voice)]
    dialect = dialect_called(language) if isinstance(language, str) else language
    return Writing(reading, voices, dialect).program(Level(level), runs)


def handout_pages(
    tune: Reading | Song, page: str = "tune", title: str | None = None, answers: bool = False
) -> list[str]:
    """The pages of a handout as SVG texts; ``page`` is one of the kinds of ``chickadee handout --page``.

    >>> from chickadee import read
    >>> len(handout_pages(read("C4 D4 E4"), "worksheet"))
    1

    Raises HandoutFault where there is nothing to put on a page, ValueError for a kind that is none.
    """
    from .handout.pages import OF_PROGRAMS, PAGES, pages_of
    from .handout.request import Request
    from .handout.svg import svg_of

    song = song_of(tune, "handout_pages")
    if page not in PAGES:
        raise ValueError(f"page is one of {', '.join(PAGES)}, not {page}")
    request = Request(title=title, answers=answers)
    if page in OF_PROGRAMS:
        from .program_sheets import program_sheet
        from .programs.writing.catalogue import shipped
        from .programs.writing.dialect import Level

        reading = reading_of(tune)
        sheet = program_sheet(reading, range(len(song.voices)), shipped()["steps"], Level.PARTS)
        request = replace(request, program=sheet)
    return [svg_of(each, title or song.title).decode() for each in pages_of(page, song, request)]


def playing_page(tune: Reading | Song, show: Collection[str] = ("keyboard",)) -> str:
    """A page that plays, as HTML text; ``show`` names what stands on it, as ``chickadee render --show`` does.

    >>> from chickadee import read
    >>> "<title>Mill</title>" in playing_page(read("title: Mill\\nC4 E4"))
    True

    Raises InputFault where there is nothing to play, ValueError for a name that is none.
    """
    from .web.page import SHOWN, choices_for
    from .web.page import playing_page as page_of

    song_of(tune, "playing_page")
    for name in show:
        if name not in SHOWN:
            raise ValueError(f"show names some of {', '.join(SHOWN)}, not {name}")
    reading = reading_of(tune)
    return page_of(reading, choices_for(reading, show))


def show(tune: Reading | Song) -> None:
    """Open a tune as a page that plays in the browser. Raises InputFault where there is nothing to play."""
    import tempfile
    import webbrowser

    with tempfile.NamedTemporaryFile(
        "w", suffix=".html", prefix="chickadee-", encoding="utf-8", delete=False
    ) as file:
        file.write(playing_page(tune))  # kept: the browser reads it after this
    webbrowser.open(Path(file.name).as_uri())


def practice_tunes(recipe: str | Recipe, count: int = 1, seed: int = 1) -> list[Reading]:
    """Practice tunes of a recipe that ships, by its name, or of one's own; the same from the same seed.

    >>> [len(tune.findings) for tune in practice_tunes("sight-2", count=2)]
    [0, 0]

    Raises RecipeFault where wishes collide, ValueError for a name that is none.
    """
    from .ideas.recipe import read_recipe, shipped
    from .ideas.tune import tunes

    if isinstance(recipe, str) and recipe not in shipped():
        raise ValueError(f"recipe is one of {', '.join(shipped())}, not {recipe}")
    wanted = read_recipe(shipped()[recipe]) if isinstance(recipe, str) else recipe
    return [checked_reading(text) for text in tunes(wanted, seed, count)]


def listen(path: str | Path, tuning: float = 440.0) -> list[HeardNote]:
    """The notes heard in a recording of one voice, in order of start; ``tuning`` is A4 in Hz.

    Raises FileFault for a file that cannot be read.
    """
    from .hearing.listening import listen as listened

    return list(listened(path, tuning).notes)


def tidy(reading: Reading) -> Reading:
    """A tune laid out: bars in columns, one form for lengths, nothing that sounds changed.

    >>> from chickadee import read
    >>> tidy(read("C4=2.0   D4=1/1")).text
    'C4=2 D4\\n'
    """
    if not isinstance(reading, Reading):
        raise TypeError(f"tidy takes a reading, not {type(reading).__name__}; read and open give one")
    return checked_reading(tidied(reading.text))

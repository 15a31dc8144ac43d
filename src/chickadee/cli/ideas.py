"""``chickadee ideas``: practice tunes from a recipe, or from a tune."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from ..files import FileFault, is_file, is_folder, is_there, read_text
from ..ideas.recipe import Recipe, RecipeFault, read_recipe, shipped
from ..ideas.sets import FORMS, SetWriting, TuneSet, files_in
from ..ideas.tune import tunes
from ..ideas.variation import left_out, varied
from ..song import Song
from .refusal import Refused
from .status import opened_song
from .terminal import say_line, say_text

__all__ = ["ideas"]

_MOST = 10_000
_MANY = 30  # tunes, from which on all cores make them


@click.command()
@click.argument("recipe", required=False)
@click.option(
    "--count", type=click.IntRange(1, _MOST), default=1, show_default=True, metavar="N", help="How many tunes."
)
@click.option("--seed", type=click.IntRange(0, 2**31), default=1, show_default=True, metavar="N",
              help="The same tunes again from the same number.")  # fmt: skip
@click.option("-o", "--output", metavar="FOLDER", help="A folder to write the tunes into, a file each.")
@click.option("--form", type=click.Choice(FORMS), default="chick", show_default=True, help="Of the files.")
@click.option("--like", metavar="FILE", help="Vary this tune instead of following a recipe.")
@click.option("--keep", type=click.Choice(("rhythm", "pitches")), help="What of it to keep.")
@click.option("--list", "listed", is_flag=True, help="Name the recipes that ship.")
@click.option("--force", is_flag=True, help="Replace files that are there.")
def ideas(
    recipe: str | None,
    count: int,
    seed: int,
    output: str | None,
    form: str,
    like: str | None,
    keep: str | None,
    listed: bool,
    force: bool,
) -> int:
    """Make practice tunes from RECIPE, a .toml file or the name of one that ships."""
    if listed:
        for name in shipped():
            click.echo(name)
        return 0
    if like is not None and keep is None:
        raise Refused("--like needs --keep rhythm or --keep pitches.")
    if output is None and count > 1:
        raise Refused("several tunes need a folder: please name one with -o.")
    texts = (
        _varied(opened_song(like).song, like, keep or "", seed, count)
        if like
        else _made(_recipe(recipe), seed, count)
    )
    if output is None:
        say_text(texts[0])
        return 0
    folder = Path(output)
    _write(folder, texts, form, force)
    if len(texts) < count:
        say_line(f"{folder}: only {len(texts)} different tunes were found for this recipe.", err=True)
    return 0


def _made(recipe: Recipe, seed: int, count: int) -> list[str]:
    return tunes(recipe, seed, count) if count < _MANY else list(TuneSet(recipe, seed, count).tunes())


def _recipe(name: str | None) -> Recipe:
    if name is None:
        return Recipe()
    ours = shipped()
    if name in ours:
        return read_recipe(ours[name])
    if not name.endswith(".toml") and not is_file(name):
        raise Refused(f"{name}: there is no such recipe; “chickadee ideas --list” names those that ship.")
    try:
        return read_recipe(read_text(name))
    except RecipeFault as fault:
        raise FileFault(name, str(fault).rstrip(".")) from None


def _varied(song: Song, name: str, keep: str, seed: int, count: int) -> list[str]:
    try:
        for sentence in left_out(song, keep):
            say_line(f"{name}: {sentence[:1].lower()}{sentence[1:]}", err=True)
        found = dict.fromkeys(varied(song, keep, seed * 1_000_003 + place) for place in range(count))
    except RecipeFault as fault:
        raise FileFault(name, str(fault)[:1].lower() + str(fault)[1:].rstrip(".")) from None
    return list(found)


def _write(folder: Path, texts: list[str], form: str, force: bool) -> None:
    """A file for each tune, on all cores where it takes time."""
    paths = files_in(folder, len(texts), form)
    there = next((path for path in paths if is_there(path)), None) if is_folder(folder) else None
    if there is not None and not force:
        raise FileFault(there, "this file already exists; --force replaces it")
    shown = sys.stderr.isatty() and form != "chick"
    for done in SetWriting(texts, paths).written():
        if shown:
            click.echo(f"\r{done} of {len(paths)}", nl=done == len(paths), err=True)

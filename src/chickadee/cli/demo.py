"""``chickadee demo``: the desk on the Lake Orrin shelf."""

from __future__ import annotations

import os
from pathlib import Path

import click

from ..demo import demo_folder
from ..files import free_path, read_text, replacing, tunes_in
from .open import has_display
from .terminal import say_line

__all__ = ["demo"]


@click.command()
def demo() -> int:
    """Open the desk on the Lake Orrin tunes."""
    folder = demo_folder()
    if has_display():
        from ..desk.app import run

        return run(folder / "gull-point.chick", folder)
    return _without_display(folder)


def _without_display(folder: Path) -> int:
    """With no display: the tunes in words, and the desk in a picture."""
    from ..checks import checked_reading

    click.echo("There is no display here, so the Lake Orrin shelf is shown in words:\n")
    for path in tunes_in(folder):
        song = checked_reading(read_text(path)).song
        bars = song.last_bar
        say_line(
            f"  {song.title:<24} {bars:>3} bars  {len(song.notes):>4} notes  {song.seconds:5.1f} s   {path.name}"
        )
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from ..desk.app import picture

    goal = free_path(Path.cwd(), "demo", ".png")
    with replacing(goal) as new:
        picture(folder / "gull-point.chick", folder, new)
    click.echo(f"\nA picture of the desk is in {goal}.\nMore: chickadee notes {folder / 'gull-point.chick'}")
    return 0

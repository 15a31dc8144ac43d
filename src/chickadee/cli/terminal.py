"""The output of commands: nothing from outside can move the cursor, colour or forge a line."""

from __future__ import annotations

import sys

import click

from ..files import printable

__all__ = ["say_line", "say_text"]


def say_line(line: str, err: bool = False) -> None:
    """Print one line; control characters in it are escaped."""
    click.echo(printable(line), err=err)


def say_text(text: str) -> None:
    """Print a sheet, a program or a table as it is; on a terminal its control characters are escaped."""
    if sys.stdout.isatty():
        text = "\n".join(printable(line.replace("\t", "    ")) for line in text.split("\n"))
    click.echo(text, nl=False)

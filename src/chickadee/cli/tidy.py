"""``chickadee tidy``: a sheet, laid out."""

from __future__ import annotations

import click

from ..sheet.tidy import tidy as tidied
from .status import as_form, text_of
from .terminal import say_line, say_text

__all__ = ["tidy"]


@click.command()
@click.argument("file")
@click.option("--check", is_flag=True, help="Write nothing; exit status 1 where the sheet is not laid out so.")
@as_form
def tidy(file: str, check: bool, form: str | None) -> int:
    """Print FILE laid out: bars in columns, one form for lengths, nothing that sounds changed."""
    text = text_of(file, form)
    new = tidied(text)
    if check:
        if new != text:
            say_line(f"{file}: not tidy; “chickadee tidy” lays it out.", err=True)
        return int(new != text)
    say_text(new)
    return 0

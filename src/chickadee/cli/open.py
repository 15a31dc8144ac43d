"""Opening the desk."""

from __future__ import annotations

import os
from pathlib import Path

import click

from .refusal import Refused

__all__ = ["has_display", "open_desk"]


def has_display() -> bool:
    """Whether a window can be shown here."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


@click.command("open")
@click.argument("file", required=False)
def open_desk(file: str | None = None) -> int:
    """Open the desk, on FILE where one is named."""
    if file and file.startswith("-"):
        raise click.UsageError(f"there is no option {file}; “chickadee --help” lists the commands.")
    if not has_display():
        raise Refused(
            "there is no display to open a window on; the commands work without one, see “chickadee --help”."
        )
    from ..desk.app import run

    return run(Path(file) if file else None)

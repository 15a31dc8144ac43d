"""The files that pages are written to."""

from __future__ import annotations

from pathlib import Path

__all__ = ["paths_of"]


def paths_of(path: Path, pages: int) -> list[Path]:
    """Return the files of so many pages: one PDF, or a picture for each page.

    >>> [each.name for each in paths_of(Path("gull.svg"), 2)]
    ['gull.svg', 'gull 2.svg']
    """
    if path.suffix.lower() == ".pdf":
        return [path]
    return [path if not place else path.with_stem(f"{path.stem} {place + 1}") for place in range(pages)]

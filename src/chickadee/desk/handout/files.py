"""Pages as files: PDF with its fonts, SVG with its text, PNG at any width."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QSize, QSizeF
from PyQt6.QtGui import QColor, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter

from ...files import FileFault, replacing, visible
from ...handout.files import paths_of
from ...handout.shapes import Page
from ...handout.svg import svg_of
from .painter import paint_page

__all__ = ["SUFFIXES", "page_image", "write_pages"]

SUFFIXES = (".pdf", ".svg", ".png")
_DOTS = 300
"""Dots to an inch, in a PNG and in the grid of a PDF."""
_INCH = 25.4


def write_pages(
    path: Path, pages: Sequence[Page], title: str, told: Callable[[int], bool] = lambda done: True
) -> bool:
    """Write pages to a file, or to several; the suffix names the form.

    ``told`` is given how many pages are done, and stops the work by answering False; then nothing is written, and the
    answer is False. Raises FileFault.
    """
    suffix = path.suffix.lower()
    if suffix not in SUFFIXES:
        raise FileFault(path, f"pages are written to {', '.join(SUFFIXES)}")
    if suffix == ".pdf":
        data = _pdf(pages, title, told)
        return data is not None and _store(path, data)
    made = []
    for place, page in enumerate(pages):
        made.append(svg_of(page, title) if suffix == ".svg" else _png(page))
        if not told(place + 1):
            return False
    return all(_store(each, data) for each, data in zip(paths_of(path, len(pages)), made, strict=True))


def _store(path: Path, data: bytes) -> bool:
    with replacing(path) as new:
        new.write_bytes(data)
    return True


def page_image(page: Page, width: int) -> QImage:
    """A page as a picture so many pixels wide."""
    per_millimetre = width / page.paper.width
    image = QImage(QSize(width, round(page.paper.height * per_millimetre)), QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    paint_page(painter, page, per_millimetre)
    painter.end()
    return image


def _pdf(pages: Sequence[Page], title: str, told: Callable[[int], bool]) -> bytes | None:
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(visible(title))
    writer.setCreator("Chickadee")
    writer.setResolution(_DOTS)
    size = QSizeF(pages[0].paper.width, pages[0].paper.height)
    writer.setPageLayout(
        QPageLayout(
            QPageSize(size, QPageSize.Unit.Millimeter), QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)
        )
    )
    painter = QPainter(writer)
    for place, page in enumerate(pages):
        if place:
            writer.newPage()
        paint_page(painter, page, _DOTS / _INCH)
        if not told(place + 1):
            painter.end()
            return None
    painter.end()
    buffer.close()
    return bytes(data.data())


def _png(page: Page) -> bytes:
    image = page_image(page, round(page.paper.width / _INCH * _DOTS))
    image.setDotsPerMeterX(round(_DOTS / _INCH * 1000))
    image.setDotsPerMeterY(round(_DOTS / _INCH * 1000))
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(data.data())

"""Pages being filled from the top down: a head, blocks that are not torn apart, and page numbers."""

from __future__ import annotations

from collections.abc import Iterable

from .metrics import fitting
from .request import Request
from .shapes import Align, Line, Page, Shape, Text

__all__ = ["Canvas"]

_TITLE = 18.0  # points
_SMALL = 8.0  # millimetres
_HEAD = 20.0
_TITLE_ALONE = 13.0
_FOOT = 6.0


_NARROWEST = 0.6  # of the usual width of letters


class Canvas:
    """Blocks are put one under the other; one that does not fit begins a page."""

    def __init__(self, request: Request, title: str, with_head: bool = True) -> None:
        """Without a head the caller begins each page."""
        self.request = request
        self.paper = request.paper
        self._title = request.title if request.title is not None else title
        self._pages: list[list[Shape]] = []
        self._with_head = with_head
        self._bottom = self.paper.height - self.paper.margin - _FOOT
        self.y = 0.0
        """Where the next block begins."""
        self._in_head = 0
        if with_head:
            self.begin_page()

    @property
    def left(self) -> float:
        """The left edge of what is between the margins."""
        return self.paper.margin

    @property
    def width(self) -> float:
        """Millimetres between the margins."""
        return self.paper.room

    @property
    def room(self) -> float:
        """Millimetres that are left on the page."""
        return self._bottom - self.y

    def block(self, height: float, gap: float = 4.0) -> float:
        """Begin a block so many millimetres high, on another page where it does not fit; the height it begins at."""
        if self.y + height > self._bottom and len(self._pages[-1]) > self._in_head:
            self.begin_page()
        top = self.y
        self.y += height + gap
        return top

    def add(self, shapes: Iterable[Shape]) -> None:
        """Add shapes of the block that was begun last."""
        self._pages[-1] += shapes

    def heading(self, text: str) -> None:
        """A line of bold words over the next block."""
        top = self.block(6, gap=1)
        self.add([self.words(self.left, top, self.width, 6, text, 11, bold=True)])

    def words(
        self,
        left: float,
        top: float,
        width: float,
        height: float,
        text: str,
        size: float = 10.0,
        bold: bool = False,
        align: Align = Align.LEFT,
        grey: float = 0.0,
    ) -> Text:
        """Words, drawn narrower where they do not fit, and cut short only where that would not do."""
        shown = fitting(text, width / _NARROWEST, size, bold)
        return Text(left, top, width, height, shown, size, bold, align, grey)

    def pages(self) -> list[Page]:
        """The pages; they are numbered where there are several."""
        found = []
        y = self.paper.height - self.paper.margin - 4
        for number, shapes in enumerate(self._pages, 1):
            feet: list[Shape] = []
            if len(self._pages) > 1:
                feet.append(
                    self.words(
                        self.left, y, self.width, 4, f"{number} / {len(self._pages)}", _SMALL, align=Align.MIDDLE
                    )
                )
            if self.request.code:
                feet.append(self.words(self.left, y, self.width / 3, 4, self.request.code, _SMALL, grey=0.35))
            found.append(Page(self.paper, (*shapes, *feet)))
        return found

    def begin_page(self) -> None:
        """Go on at the top of another page."""
        shapes: list[Shape] = []
        self.y = self.paper.margin
        if not self._pages and self._with_head:
            shapes += self._head()
            self.y += _HEAD if self.request.for_pupils else _TITLE_ALONE
        self._pages.append(shapes)
        self._in_head = len(shapes)

    def _head(self) -> list[Shape]:
        """The title, and lines for a name and a date."""
        left = self.left
        top = self.paper.margin
        width = self.width
        name = left + width * 0.36
        date = left + width * 0.74
        base = top + 15
        shapes: list[Shape] = [self.words(left, top, width, 9, self._title, _TITLE, bold=True)]
        if self.request.answers:
            shapes.append(self.words(left, top + 10, width * 0.3, 5, "Answers", 10, bold=True))
        elif self.request.group:
            shapes.append(self.words(left, top + 10, width * 0.33, 5, self.request.group, 10))
        if not self.request.for_pupils:
            return shapes
        for at, label, until in ((name, "Name", date - 6), (date, "Date", left + width)):
            shapes.append(self.words(at, top + 10, 14, 5, label, _SMALL, grey=0.35))
            shapes.append(Line(at + 12, base, until, base))
        return shapes

"""A walk through a program: the lines of what sounds, what is selected, or the next step are lit."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QObject, pyqtSignal

from ...display.written_view import lit_lines
from ...programs.writing.program_text import Performance
from .code_view import CodeView

__all__ = ["Walk"]


class Walk(QObject):
    """Lights lines in a view. ``moved`` carries the place of the performed step that is looked at; -1 for none."""

    moved = pyqtSignal(int)

    def __init__(self, code: CodeView, parent: QObject) -> None:
        super().__init__(parent)
        self._code = code
        self.performance = Performance()
        self.place = -1
        """The step that is looked at."""
        self.items_of: Callable[[int], Sequence[tuple[int, int, int]]] = _none
        """Gives the items of lists that a step takes: their lines, and columns from and to."""

    def show(self, performance: Performance) -> None:
        """Go through another program; nothing of it is lit."""
        self.performance = performance
        self.place = -1
        self._light(())

    def follow(self, tick: float) -> None:
        """Light the lines of all that sounds at a tick."""
        self._light(self.performance.sounding(tick))

    def choose_notes(self, notes: Sequence[int]) -> None:
        """Light the line of a note that is selected, with the turn that it is in."""
        place = self.performance.places_of_notes.get(notes[0]) if notes else None
        self._light([] if place is None else [place])

    def step(self) -> int:
        """Go to the next step, from the last one to the first; its place, or -1 where there are none."""
        count = len(self.performance.performed)
        self._light([(self.place + 1) % count] if count else ())
        return self.place

    def go_to_line(self, line: int) -> None:
        """Look at a line: the first time that it is done."""
        performed = self.performance.performed
        places = [place for place, each in enumerate(performed) if each.line == line]
        self._light(places[:1])

    def _light(self, places: Sequence[int]) -> None:
        self.place = places[-1] if places else -1
        lit = lit_lines(self.performance, places)
        self._code.light(lit, [item for place in places for item in self.items_of(place)])
        if places:
            self._code.show_line(self.performance.performed[places[-1]].line)
        self.moved.emit(self.place)


def _none(place: int) -> Sequence[tuple[int, int, int]]:
    return ()

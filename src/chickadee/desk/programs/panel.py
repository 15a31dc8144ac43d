"""The Programs panel: the tune as a program, or a pupil's program."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QFileDialog, QStackedWidget, QVBoxLayout

from ...display.scene import Scene
from ...handed_in import Source
from ...programs.languages import LANGUAGES
from ..clicks import on_click
from ..theme import Look
from ..working.panel import Panel, PanelContext
from .pupil_view import PupilView
from .tune_view import TuneView

__all__ = ["ProgramsPanel"]


class ProgramsPanel(Panel):
    """Shows the tune as a program; a pupil's program that is opened takes its place until one goes back."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self.setAcceptDrops(True)
        self.tune = TuneView(context)
        self.pupil = PupilView(context)
        self.views = QStackedWidget()
        self.views.addWidget(self.tune)
        self.views.addWidget(self.pupil)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.views)
        context.program.opened.connect(self._show_pupil)
        self.tune.open.clicked.connect(self.choose_program)
        on_click(self.pupil.back, self.show_tune)
        if context.program.wanted is not None:
            self._show_pupil()

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self.tune.set_look(look)
        self.pupil.set_look(look)

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune."""
        self.tune.show_scene(scene)

    def show_selection(self, notes: Sequence[int]) -> None:
        """Light the line of the selected note."""
        self.tune.show_selection(notes)

    def stop_work(self) -> None:
        """End writing and tracing, before the window goes."""
        self.tune.stop_work()
        self.context.program.stop()

    def _show_pupil(self) -> None:
        self.views.setCurrentWidget(self.pupil)

    def show_tune(self) -> None:
        """Show the tune as a program again."""
        self.views.setCurrentWidget(self.tune)
        self.tune.code.setFocus()

    # What the menus ask for

    def hear_program(self) -> None:
        """Hear the program that is shown."""
        if self.views.currentWidget() is self.pupil:
            self.pupil.hear_program()
        else:
            self.tune.hear_program()

    def next_step(self) -> None:
        """Go to the next step of the program that is shown."""
        if self.views.currentWidget() is self.pupil:
            self.pupil.next_step()
        else:
            self.tune.next_step()

    def choose_program(self) -> None:
        """Ask for a pupil's program, and show it."""
        suffixes = " ".join(f"*{suffix}" for each in LANGUAGES for suffix in each.suffixes)
        start = str(self.tune.folder or Path.home())
        name, _ = QFileDialog.getOpenFileName(
            self.window(), "Open a program", start, f"Programs ({suffixes} *.txt);;All files (*)"
        )
        if name:
            self.take_file(Path(name))

    def take_file(self, path: Path) -> None:
        """Look at a pupil's program in a file."""
        self.pupil.open_source(Source(path.name, path, label=path.stem))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and (data.hasUrls() or data.hasText()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is None or (data := event.mimeData()) is None:
            return
        paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
        if paths:
            self.take_file(paths[0])
        elif data.hasText():
            self.pupil.open_text(data.text())
        event.acceptProposedAction()

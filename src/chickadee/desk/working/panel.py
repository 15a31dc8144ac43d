"""The protocol of a panel of the working side: what it is given, and how it is fed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ...display.scene import Scene
from ..appearance import Appearance
from ..arrivals import Arrivals
from ..audition import Audition
from ..document import Document
from ..editing import MusicEditing
from ..file_commands import FileCommands
from ..mix import Mix
from ..notice import Notice
from ..opened_program import OpenedProgram
from ..overlay import Overlay
from ..playback import Playback
from ..preview import Preview
from ..program_choice import ProgramChoice
from ..selection import Selection
from ..settings import Settings
from ..theme import Look
from ..time_axis import TimeAxis
from .spec import PanelSize

__all__ = ["Panel", "PanelContext"]


@dataclass(frozen=True)
class PanelContext:
    """The models that the desk lends to its panels, to be shown and changed."""

    appearance: Appearance
    settings: Settings
    document: Document
    selection: Selection
    editing: MusicEditing
    playback: Playback
    audition: Audition
    mix: Mix
    preview: Preview
    notice: Notice
    arrivals: Arrivals
    files: FileCommands
    overlay: Overlay
    program: OpenedProgram
    program_choice: ProgramChoice
    time_axis: TimeAxis


class Panel(QWidget):
    """The base of all panels. To add one, subclass it in a folder of its own and declare it in ``desk.panels``.

    Its constructor is given the context when the panel is first shown, or asked for something. Once it is seen, and
    while it is, :meth:`show_scene` is called for each new reading and each change of the voice in front, and
    :meth:`show_selection` when other notes are selected.
    """

    wanted = pyqtSignal()
    """It is to be seen: something was asked of it from elsewhere."""
    readout_wanted = pyqtSignal(object)
    """Carries the Readout that the transport bar is to show instead of the notes; None for the notes again."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.context = context

    @property
    def look(self) -> Look:
        """The look to draw with."""
        return self.context.appearance.look

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""

    def show_size(self, size: PanelSize) -> None:
        """The panel is in sight, at a size."""

    def show_scene(self, scene: Scene) -> None:
        """Show what the tune now reads as."""

    def show_selection(self, notes: Sequence[int]) -> None:
        """Show other notes as selected, by their indices in the song; the one that is meant first stands first."""

    def take_file(self, path: Path) -> None:
        """A file was dropped on the window that is this panel's to open."""

    def stop_work(self) -> None:
        """End what works in threads, before the window goes."""

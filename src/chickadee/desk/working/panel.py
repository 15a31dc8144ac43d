"""The protocol of a panel of the working side: its name, its group, its sizes, how it is fed, its actions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum
from pathlib import Path
from typing import ClassVar

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ...display.scene import Scene
from ..actions import ActionSpec
from ..appearance import Appearance
from ..arrivals import Arrivals
from ..audition import Audition
from ..class_work import ClassWork
from ..document import Document
from ..editing import MusicEditing
from ..mix import Mix
from ..notice import Notice
from ..overlay import Overlay
from ..playback import Playback
from ..preview import Preview
from ..selection import Selection
from ..settings import Settings
from ..theme import Look
from ..time_axis import TimeAxis

__all__ = ["Panel", "PanelContext", "PanelGroup", "PanelSize"]


class PanelGroup(Enum):
    """The groups of panels, in the order of the job."""

    CHECK = "Check"
    SHAPE = "Shape"
    SEND = "Send"
    MAKE = "Make"


class PanelSize(Enum):
    """How much of the window a panel takes."""

    BESIDE = "beside"
    """Beside the sheet."""
    ACROSS = "across"
    """The lower half; the sheet is folded away."""
    OVER = "over"
    """Everything between the transport bar and the status line."""


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
    class_work: ClassWork
    overlay: Overlay
    time_axis: TimeAxis


class Panel(QWidget):
    """The base of all panels. To add one, subclass it in a folder of its own and name it in ``desk.panels``.

    Its constructor is given the context. Once the panel is seen, and while it is, :meth:`show_scene` is called for
    each new reading and each change of the voice in front, and :meth:`show_selection` when other notes are selected.
    """

    id: ClassVar[str]
    """The name in settings and actions."""
    name: ClassVar[str]
    """Its name in the head of the working side, in the View menu with ``&`` before its mnemonic."""
    group: ClassVar[PanelGroup]
    hint: ClassVar[str]
    """One line on what it is for."""
    keys: ClassVar[str]
    """The shortcut that shows it."""
    sizes: ClassVar[tuple[PanelSize, ...]] = tuple(PanelSize)
    """The sizes it can take; the first is the one it has at first."""
    tall: ClassVar[bool] = False
    """True if it needs height, so that the keyboard makes room for it where it lies across."""

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

    def action_specs(self) -> Sequence[ActionSpec]:
        """The actions it brings, besides the one that shows it."""
        return ()

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

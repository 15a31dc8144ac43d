"""Declarations of panels: all that menus and the head of the working side say of one before it is loaded."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .panel import Panel

__all__ = ["PanelAction", "PanelGroup", "PanelSize", "PanelSpec"]


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


@dataclass(frozen=True, slots=True)
class PanelAction:
    """An action or a switch that a panel brings; the panel is made when it is first done."""

    id: str
    place: str
    """Its menu and the section of the menu, with a slash between."""
    text: str
    keys: str | None
    hint: str
    do: Callable[[Any], object] | None = None
    """Given the panel."""
    switch: Callable[[Any, bool], object] | None = None
    """Makes it a switch that is remembered: given the panel, and whether it is on now."""


@dataclass(frozen=True, slots=True)
class PanelSpec:
    """A panel, declared."""

    id: str
    """The name in settings and actions."""
    name: str
    """Its name in the head of the working side, in the View menu with ``&`` before its mnemonic."""
    group: PanelGroup
    hint: str
    """One line on its use."""
    keys: str
    """The shortcut that shows it."""
    load: Callable[[], type[Panel]]
    """Imports the panel's module and gives its class."""
    sizes: tuple[PanelSize, ...] = tuple(PanelSize)
    """The sizes it can take; the first is the one it has at first."""
    tall: bool = False
    """True if it needs height, so that the keyboard makes room for it where it lies across."""
    actions: tuple[PanelAction, ...] = ()

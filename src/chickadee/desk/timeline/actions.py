"""The actions of the timeline: what is seen of the tune, its reading rows, typing into them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Protocol

from PyQt6.QtGui import QKeySequence

from ...display.rows import ROWS, STAFF_TITLE, USUAL_ROWS
from ..actions import ActionSpec

__all__ = ["row_id", "timeline_actions"]

ShortCut = str | QKeySequence.StandardKey


class Timeline(Protocol):
    """The parts of a timeline that the actions use."""

    def edit_cell(self, title: str) -> None: ...
    def show_row(self, title: str, on: bool) -> None: ...
    def share_staff(self, on: bool) -> None: ...
    def zoom(self, factor: float) -> None: ...
    def zoom_pitch(self, factor: float) -> None: ...
    def zoom_to_usual(self) -> None: ...
    def fit_song(self) -> None: ...
    def fit_chosen(self) -> None: ...


def timeline_actions(view: Timeline) -> tuple[ActionSpec, ...]:
    """Return the actions of the view, of its reading rows, and of typing into them."""
    keys = QKeySequence.StandardKey

    def seen(
        name: str, section: str, text: str, shortcut: ShortCut, hint: str, slot: Callable[[], object]
    ) -> ActionSpec:
        return ActionSpec(f"view.{name}", f"view/{section}", text, shortcut, hint, slot)

    def cell(title: str, text: str, shortcut: str) -> ActionSpec:
        return ActionSpec(
            f"row.type-{title.lower()}",
            "notes/type",
            text,
            shortcut,
            f"Type into the {title} row",
            lambda: view.edit_cell(title),
        )

    rows = (
        ActionSpec(
            row_id(title),
            "view/look",
            title,
            None,
            f"Show the row {title} under the roll",
            switched=lambda on, title=title: view.show_row(title, on),  # type: ignore[misc]
            on=title in USUAL_ROWS,
            kept=True,
            submenu="&Reading rows",
        )
        for title in (STAFF_TITLE, *ROWS)
    )
    return (
        seen("wider", "zoom", "&Wider", keys.ZoomIn, "More room for each beat", partial(view.zoom, 1.25)),
        seen("narrower", "zoom", "&Narrower", keys.ZoomOut, "More of the tune at once", partial(view.zoom, 0.8)),
        seen(
            "usual", "zoom", "&Usual size", "Ctrl+0", "Back to the usual size of beats and lanes", view.zoom_to_usual
        ),
        seen("higher", "zoom", "Hi&gher lanes", "Ctrl+F9", "More room for a pitch", partial(view.zoom_pitch, 1.25)),
        seen("lower", "zoom", "&Lower lanes", "Ctrl+F10", "More pitches at once", partial(view.zoom_pitch, 0.8)),
        seen("all", "show", "Show the whole t&une", "Ctrl+Shift+0", "As wide as fits", view.fit_song),
        seen(
            "selection",
            "show",
            "Show the sele&ction",
            "Ctrl+Shift+J",
            "The selected notes, as large as they can be",
            view.fit_chosen,
        ),
        ActionSpec(
            "row.staff-shared",
            "view/look",
            "Two &voices on the staff",
            None,
            "The next voice on the staff of the one in front, stems up and down",
            switched=view.share_staff,
            kept=True,
            submenu="&Reading rows",
        ),
        cell("Name", "Type the n&ame", "Ctrl+1"),
        cell("Number", "Type the nu&mber", "Ctrl+2"),
        cell("Beats", "Type the bea&ts", "Ctrl+3"),
        *rows,
    )


def row_id(title: str) -> str:
    return f"row.{title.lower().replace(' ', '-')}"

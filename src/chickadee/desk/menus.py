"""The menus: every action of the desk, its words and its keys."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtGui import QKeySequence

from .actions import ActionSpec

if TYPE_CHECKING:
    from .window import DeskWindow

__all__ = ["action_specs"]

_KEYS = QKeySequence.StandardKey


def action_specs(desk: DeskWindow) -> tuple[ActionSpec, ...]:
    """All actions, menu by menu."""
    return (*_song(desk), *_edit(desk), *_listen(desk), *_view(desk), *_help(desk))


def _song(desk: DeskWindow) -> tuple[ActionSpec, ...]:
    return (
        ActionSpec("Song", "&New tune", _KEYS.New, "Begin an empty tune", desk.filing.new),
        ActionSpec("Song", "&Open…", _KEYS.Open, "Open a tune from a file", desk.filing.open),
        ActionSpec("Song", "&Save", _KEYS.Save, "Save the tune in its file", desk.filing.save),
        ActionSpec("Song", "Save &as…", "Ctrl+Shift+S", "Save the tune in another file", desk.filing.save_as),
        ActionSpec(
            "Song",
            "Export &MIDI file…",
            "Ctrl+M",
            "Write the tune as a Standard MIDI File",
            desk.filing.export_midi,
        ),
        ActionSpec("Song", "Export soun&d…", "Ctrl+E", "Render the tune into a sound file", desk.filing.export_sound),
        ActionSpec("Song", "&Quit", "Ctrl+Q", "Close the window", desk.close),
    )


def _edit(desk: DeskWindow) -> tuple[ActionSpec, ...]:
    return (
        ActionSpec("Edit", "&Undo", _KEYS.Undo, "Take the last change back", lambda: desk.editor.undo()),
        ActionSpec("Edit", "&Redo", _KEYS.Redo, "Make the change again", lambda: desk.editor.redo()),
        ActionSpec("Edit", "Cu&t", _KEYS.Cut, "Cut the selected text", lambda: desk.editor.cut()),
        ActionSpec("Edit", "&Copy", _KEYS.Copy, "Copy the selected text", lambda: desk.editor.copy()),
        ActionSpec("Edit", "&Paste", _KEYS.Paste, "Paste text at the caret", lambda: desk.editor.paste()),
        ActionSpec("Edit", "Select &all", _KEYS.SelectAll, "Select the whole sheet", lambda: desk.editor.selectAll()),
        ActionSpec(
            "Edit",
            "&Find and replace…",
            _KEYS.Find,
            "Find text in the sheet, and replace it",
            lambda: desk.find_bar.open(),
        ),
        ActionSpec(
            "Edit",
            "What could stand &here",
            "Ctrl+Space",
            "Offer words for the caret",
            lambda: desk.editor.complete(),
        ),
        ActionSpec(
            "Edit",
            "Ways &out here",
            "F2",
            "The fixes of the findings at the caret",
            lambda: desk.editor.show_fixes(),
        ),
        ActionSpec("Edit", "Next f&inding", "F8", "Go to the next finding", desk.next_finding),
        ActionSpec(
            "Edit",
            "Co&mment or not",
            "Ctrl+K",
            "Make the lines comments, or no longer",
            lambda: desk.editor.toggle_comment(),
        ),
        ActionSpec("Edit", "Lines u&p", "Alt+Up", "Move the lines up by one", lambda: desk.editor.move_lines(False)),
        ActionSpec(
            "Edit", "Lines &down", "Alt+Down", "Move the lines down by one", lambda: desk.editor.move_lines(True)
        ),
        ActionSpec(
            "Edit",
            "R&ename the phrase…",
            "Shift+F2",
            "Rename the phrase at the caret everywhere",
            desk.rename_phrase,
        ),
        ActionSpec(
            "Edit", "Tid&y", "Ctrl+Shift+Y", "Lay the sheet out evenly; nothing that sounds changes", desk.tidy
        ),
    )


def _listen(desk: DeskWindow) -> tuple[ActionSpec, ...]:
    return (
        ActionSpec("Listen", "&Play or stop", "F5", "Play from the chosen note, or stop", desk.play_or_stop),
        ActionSpec("Listen", "Play from the &start", "Shift+F5", "Play the whole tune", desk.play_all),
        ActionSpec("Listen", "Play this &bar", "Ctrl+F5", "Play the bar of the chosen note alone", desk.play_bar),
        ActionSpec(
            "Listen", "Play what is &chosen", "Ctrl+Shift+F5", "Play the chosen notes alone", desk.play_chosen
        ),
        ActionSpec("Listen", "&Stop", "Esc", "Fall silent", desk.player.silence, "Stop"),
        ActionSpec("Listen", "&Last note", "F3", "Go to the note before", lambda: desk.step(-1), "Last note"),
        ActionSpec("Listen", "Next &note", "F4", "Go to the note after", lambda: desk.step(1), "Next note"),
        ActionSpec(
            "Listen",
            "&Round and round",
            "Ctrl+R",
            "Begin again at the end, without a gap",
            lambda: desk.listening.wish(round=desk.actions_by_text["Round and round"].isChecked()),
            "Round",
            checkable=True,
        ),
        ActionSpec(
            "Listen",
            "Clic&k on each beat",
            "Ctrl+Shift+K",
            "A click at every beat, the first of a bar higher",
            lambda: desk.listening.wish(click=desk.actions_by_text["Click on each beat"].isChecked()),
            checkable=True,
        ),
        ActionSpec(
            "Listen",
            "C&ount a bar in",
            "Ctrl+Shift+I",
            "A bar of clicks before the music",
            lambda: desk.listening.wish(count_in=desk.actions_by_text["Count a bar in"].isChecked()),
            checkable=True,
        ),
        ActionSpec(
            "Listen",
            "Small roo&m",
            "Ctrl+Shift+M",
            "Hear everything in a small room",
            lambda: desk.player.set_room(desk.actions_by_text["Small room"].isChecked()),
            checkable=True,
        ),
        ActionSpec(
            "Listen",
            "&Hear notes as they are typed",
            "Ctrl+H",
            "Sound each note as it is written",
            lambda: None,
            checkable=True,
        ),
    )


def _view(desk: DeskWindow) -> tuple[ActionSpec, ...]:
    return (
        ActionSpec("View", "&Wider", _KEYS.ZoomIn, "More room for each beat", lambda: desk.timeline.zoom(1.25)),
        ActionSpec("View", "&Narrower", _KEYS.ZoomOut, "More of the tune at once", lambda: desk.timeline.zoom(0.8)),
        ActionSpec(
            "View",
            "&Usual width",
            "Ctrl+0",
            "Back to the usual width of a beat",
            lambda: desk.timeline.zoom_to_usual(),
        ),
        ActionSpec(
            "View", "Fi&ndings", "Ctrl+1", "What was found in the sheet", lambda: desk.working.turn_to("Findings")
        ),
        ActionSpec(
            "View", "&Wave", "Ctrl+2", "How the chosen note looks as sound", lambda: desk.working.turn_to("Wave")
        ),
        ActionSpec("View", "S&helf", "F9", "Show or fold away the shelf", desk.toggle_shelf, checkable=True),
        ActionSpec("View", "&Evening theme", "F7", "Light letters on dark paper", desk.apply_look, checkable=True),
        ActionSpec("View", "Pro&jector", "Ctrl+J", "Enlarge everything by half", desk.apply_look, checkable=True),
        ActionSpec("View", "&Full screen", _KEYS.FullScreen, "Use the whole screen", desk.toggle_full_screen),
    )


def _help(desk: DeskWindow) -> tuple[ActionSpec, ...]:
    return (ActionSpec("Help", "&Keys", _KEYS.HelpContents, "Every action and its keys", desk.show_keys),)

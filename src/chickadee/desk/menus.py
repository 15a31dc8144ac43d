"""The menus: every action of the desk, its words and its keys."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING

from PyQt6.QtGui import QKeySequence

from .actions import ActionSpec
from .timeline.rows import ROWS

if TYPE_CHECKING:
    from .desk import Desk

__all__ = ["Group", "Submenu", "menus_of"]

_KEYS = QKeySequence.StandardKey


@dataclass(frozen=True, slots=True)
class Submenu:
    """Actions that open beside their menu."""

    text: str
    specs: tuple[ActionSpec, ...]


Group = tuple[ActionSpec | Submenu, ...]
"""What stands together in a menu."""


def menus_of(desk: Desk) -> dict[str, tuple[Group, ...]]:
    """The groups of each menu, by its name."""
    return {
        "Song": _song(desk),
        "Edit": _edit(desk),
        "Notes": _notes(desk),
        "Listen": _listen(desk),
        "View": _view(desk),
        "Help": _help(desk),
    }


def _song(desk: Desk) -> tuple[Group, ...]:
    return (
        (
            ActionSpec("&New tune", _KEYS.New, "Begin an empty tune", desk.filing.new),
            ActionSpec("&Open…", _KEYS.Open, "Open a tune from a file", desk.filing.open),
            ActionSpec("S&helf of a folder…", "Ctrl+Shift+O", "Show another folder's tunes", desk.choose_folder),
        ),
        (
            ActionSpec("&Save", _KEYS.Save, "Save the tune in its file", desk.filing.save),
            ActionSpec("Save &as…", "Ctrl+Shift+S", "Save the tune in another file", desk.filing.save_as),
        ),
        (
            ActionSpec(
                "Export &MIDI file…", "Ctrl+M", "Write the tune as a Standard MIDI File", desk.filing.export_midi
            ),
            ActionSpec("Export soun&d…", "Ctrl+E", "Render the tune into a sound file", desk.filing.export_sound),
        ),
        (ActionSpec("&Quit", "Ctrl+Q", "Close the window", desk.quit),),
    )


def _edit(desk: Desk) -> tuple[Group, ...]:
    return (
        (
            ActionSpec("&Undo", _KEYS.Undo, "Take the last change back", desk.undo),
            ActionSpec("&Redo", _KEYS.Redo, "Make the change again", desk.redo),
        ),
        (
            ActionSpec("Cu&t", _KEYS.Cut, "Cut the selected text, or the chosen notes", desk.cut),
            ActionSpec("&Copy", _KEYS.Copy, "Copy the selected text", desk.copy),
            ActionSpec("&Paste", _KEYS.Paste, "Paste text at the caret", desk.paste),
            ActionSpec("Select &all", _KEYS.SelectAll, "Select the whole sheet", lambda: desk.editor.selectAll()),
        ),
        (
            ActionSpec(
                "&Find and replace…",
                _KEYS.Find,
                "Find text in the sheet, and replace it",
                lambda: desk.find_bar.open(),
            ),
        ),
        (
            ActionSpec(
                "What could stand &here", "Ctrl+Space", "Offer words for the caret", lambda: desk.editor.complete()
            ),
            ActionSpec(
                "Ways &out here", "F2", "The fixes of the findings at the caret", lambda: desk.editor.show_fixes()
            ),
            ActionSpec("Do what is o&ffered", "Ctrl+Return", "What a message offers", desk.notice.take_offer),
            ActionSpec("Next f&inding", "F8", "Go to the next finding", desk.next_finding),
            ActionSpec(
                "What is chec&ked…",
                "Shift+F8",
                "Switch rules on and off for this folder",
                lambda: desk.asking.choose_checks(desk.look),
            ),
        ),
        (
            ActionSpec(
                "Co&mment or not",
                "Ctrl+K",
                "Make the lines comments, or no longer",
                lambda: desk.editor.toggle_comment(),
            ),
            ActionSpec("Lines u&p", "Alt+Up", "Move the lines up by one", lambda: desk.editor.move_lines(False)),
            ActionSpec("Lines &down", "Alt+Down", "Move the lines down by one", lambda: desk.editor.move_lines(True)),
        ),
        (
            ActionSpec(
                "R&ename the phrase…",
                "Shift+F2",
                "Rename the phrase at the caret everywhere",
                lambda: desk.asking.rename_phrase(desk.editor.caret),
            ),
            ActionSpec("Tid&y", "Ctrl+Shift+Y", "Lay the sheet out evenly; nothing that sounds changes", desk.tidy),
        ),
    )


def _notes(desk: Desk) -> tuple[Group, ...]:
    def note(text: str, keys: str, hint: str, slot: Callable[[], object]) -> ActionSpec:
        return ActionSpec(text, keys, hint, slot)

    def grid() -> Fraction:
        return desk.timeline.grid

    editing = desk.editing
    return (
      (
        note("&Up a step", "Ctrl+Up", "Move the chosen notes up in the key", lambda: editing.move_by_steps(1)),
        note("&Down a step", "Ctrl+Down", "Move the chosen notes down in the key", lambda: editing.move_by_steps(-1)),
        note("Up a se&mitone", "Ctrl+Shift+Up", "Move the chosen notes up by one number", lambda: editing.move(1)),
        note("Down a sem&itone", "Ctrl+Shift+Down", "Move them down by one number", lambda: editing.move(-1)),
        note("Up an &octave", "Ctrl+PgUp", "Move the chosen notes up by twelve", lambda: editing.move(12)),
        note("Down an o&ctave", "Ctrl+PgDown", "Move the chosen notes down by twelve", lambda: editing.move(-12)),
      ), (
        note("&Longer", "Alt+Right", "Longer by a step of the grid", lambda: editing.lengthen(grid())),
        note("S&horter", "Alt+Left", "Shorter by a step of the grid", lambda: editing.lengthen(-grid())),
        note("L&ater", "Alt+Shift+Right", "Into the rest after the note", lambda: editing.shift(grid())),
        note("&Earlier", "Alt+Shift+Left", "Into the rest before the note", lambda: editing.shift(-grid())),
      ), (
        note("Loude&r", "Alt+PgUp", "Louder by eight", lambda: editing.louder(8)),
        note("So&fter", "Alt+PgDown", "Softer by eight", lambda: editing.louder(-8)),
      ), (
        note("S&plit", "Ctrl+T", "Split the chosen note in its middle", editing.split),
        note("&Join", "Ctrl+Shift+T", "Join the chosen note with the next", editing.join),
      ), (
        note("Take o&ut", "Ctrl+Del", "Take the chosen notes out; rests stay", editing.delete),
        note("Take out and close up", "Ctrl+Shift+Del", "Take them out, and what follows moves up",
             lambda: editing.delete(True)),
      ), (
        note("Choose the &bar", "Ctrl+B", "Choose the notes of this bar", lambda: desk.choosing.choose_more("bar")),
        note("Choose the &voice", "Ctrl+Shift+B", "Choose all notes of the voice",
             lambda: desk.choosing.choose_more("voice")),
        note("Choose this pitch &everywhere", "Ctrl+Shift+P", "Choose all notes of this number",
             lambda: desk.choosing.choose_more("pitch")),
        note("Choose the same in&k", "Ctrl+Shift+N", "Choose all notes that this text writes",
             lambda: desk.choosing.choose_more("ink")),
      ), (
        note("Type the n&ame", "Ctrl+1", "Type into the Name row", lambda: desk.timeline.edit_cell("Name")),
        note("Type the nu&mber", "Ctrl+2", "Type into the Number row", lambda: desk.timeline.edit_cell("Number")),
        note("Type the bea&ts", "Ctrl+3", "Type into the Beats row", lambda: desk.timeline.edit_cell("Beats")),
      ), (
        note("Give them a &key…", "Ctrl+Shift+H", "A letter that plays the chosen notes, kept in the tune",
             desk.asking.give_key),
        note("Copy the rows as a table", "Ctrl+Shift+C", "For a worksheet or a spreadsheet", desk.copy_rows),
      ),
    )  # fmt: skip


def _rows(desk: Desk) -> tuple[ActionSpec, ...]:
    return tuple(
        ActionSpec(f"Row: {title}", None, f"Show the row {title} under the roll", desk.change_rows, checkable=True)
        for title in ROWS
    )


def _listen(desk: Desk) -> tuple[Group, ...]:
    def switch(text: str, keys: str, hint: str, slot: Callable[[], object], short: str = "") -> ActionSpec:
        return ActionSpec(text, keys, hint, slot, short, checkable=True)

    def keys_play() -> None:
        desk.keyboard.play_on_keys(not desk.keyboard.plays_on_keys)

    hearing, choosing = desk.listening, desk.choosing
    return (
        (
            ActionSpec("&Play or stop", "F5", "Play from the chosen note, or stop", hearing.play_or_stop),
            ActionSpec("Play from the &start", "Shift+F5", "Play the whole tune", hearing.play_all),
            ActionSpec("Play this &bar", "Ctrl+F5", "Play the bar of the chosen note alone", hearing.play_bar),
            ActionSpec("Play what is &chosen", "Ctrl+Shift+F5", "Play the chosen notes alone", hearing.play_chosen),
            ActionSpec("Before and a&fter", "Shift+F6", "Hear what the Transpose panel would do", desk.hear_outcome),
            ActionSpec("&Stop", "Esc", "Fall silent", desk.player.silence, "Stop"),
        ),
        (
            ActionSpec("&Last note", "F3", "Go to the note before", lambda: choosing.step(-1), "Last note"),
            ActionSpec("Next &note", "F4", "Go to the note after", lambda: choosing.step(1), "Next note"),
        ),
        (ActionSpec("Computer keys pla&y", "F6", "The home row plays the scale; Esc ends it", keys_play),),
        (
            switch("&Round and round", "Ctrl+R", "Begin again at the end, without a gap",
                   lambda: hearing.wish(round=desk.is_on("Round and round")), "Round"),
            switch("Clic&k on each beat", "Ctrl+Shift+K", "A click at every beat, the first of a bar higher",
                   lambda: hearing.wish(click=desk.is_on("Click on each beat"))),
            switch("C&ount a bar in", "Ctrl+Shift+I", "A bar of clicks before the music",
                   lambda: hearing.wish(count_in=desk.is_on("Count a bar in"))),
            switch("Small roo&m", "Ctrl+Shift+M", "Hear everything in a small room",
                   lambda: desk.player.set_room(desk.is_on("Small room"))),
            switch("&Hear notes as they are typed", "Ctrl+H", "Sound each note as it is written", lambda: None),
        ),
    )  # fmt: skip


def _view(desk: Desk) -> tuple[Group, ...]:
    def panel(name: str, text: str, digit: int, hint: str) -> ActionSpec:
        return ActionSpec(text, f"Ctrl+Shift+{digit}", hint, lambda: desk.working.turn_to(name))

    return (
        (
            ActionSpec("&Wider", _KEYS.ZoomIn, "More room for each beat", lambda: desk.timeline.zoom(1.25)),
            ActionSpec("&Narrower", _KEYS.ZoomOut, "More of the tune at once", lambda: desk.timeline.zoom(0.8)),
            ActionSpec(
                "&Usual size",
                "Ctrl+0",
                "Back to the usual size of beats and lanes",
                lambda: desk.timeline.zoom_to_usual(),
            ),
            ActionSpec(
                "Hi&gher lanes", "Ctrl+F9", "More room for each pitch", lambda: desk.timeline.zoom_pitch(1.25)
            ),
            ActionSpec("&Lower lanes", "Ctrl+F10", "More pitches at once", lambda: desk.timeline.zoom_pitch(0.8)),
        ),
        (
            ActionSpec("Show the whole &tune", "Ctrl+Shift+0", "As wide as fits", lambda: desk.timeline.fit_song()),
            ActionSpec(
                "Show what is &chosen",
                "Ctrl+Shift+J",
                "The chosen notes, as large as they can be",
                lambda: desk.timeline.fit_chosen(),
            ),
        ),
        (
            panel("Findings", "Fi&ndings", 1, "What was found in the sheet"),
            panel("Transpose", "&Transpose", 2, "Move the tune, or a part of it, to where it is needed"),
            panel("Voices", "&Voices", 3, "Which voices are edited, seen and heard"),
            panel("Facts", "F&acts", 4, "What the tune comes to: notes, pitches, lengths"),
            panel("Wave", "&Wave", 5, "How the chosen note looks as sound"),
        ),
        (
            ActionSpec("S&helf", "F9", "Show or fold away the shelf", desk.toggle_shelf, checkable=True),
            ActionSpec("Key&board", "F10", "Show or fold away the keyboard", desk.toggle_keyboard, checkable=True),
        ),
        (
            ActionSpec("&Evening theme", "F7", "Light letters on dark paper", desk.apply_look, checkable=True),
            ActionSpec("Pro&jector", "Ctrl+J", "Enlarge everything by half", desk.apply_look, checkable=True),
            ActionSpec("&Full screen", "F11", "Use the whole screen", desk.toggle_full_screen),
            Submenu("&Reading rows", _rows(desk)),
        ),
    )


def _help(desk: Desk) -> tuple[Group, ...]:
    return ((ActionSpec("&Keys", _KEYS.HelpContents, "Every action and its keys", desk.show_keys),),)

"""The panels of the working side, declared. One is loaded and made when it is first shown or asked for something."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from operator import methodcaller

from .working.panel import Panel
from .working.spec import PanelAction, PanelGroup, PanelSize, PanelSpec

__all__ = ["PANELS"]

_LYING = (PanelSize.ACROSS, PanelSize.OVER, PanelSize.BESIDE)


def _class(folder: str, name: str) -> Callable[[], type[Panel]]:
    """Return the function that imports a panel's module."""

    def load() -> type[Panel]:
        found: type[Panel] = getattr(import_module(f".{folder}.panel", __package__), name)
        return found

    return load


PANELS = (
    PanelSpec(
        "findings", "Fi&ndings", PanelGroup.CHECK, "What was found in the sheet", "Ctrl+Shift+1",
        _class("findings", "FindingsPanel"),
        actions=(
            PanelAction("findings.next", "edit/findings", "Next f&inding", "F8", "Go to the next finding",
                        methodcaller("go_to_next")),
        ),
    ),
    PanelSpec(
        "facts", "F&acts", PanelGroup.CHECK, "What the tune counts: notes, pitches, lengths", "Ctrl+Shift+4",
        _class("facts", "FactsPanel"),
    ),
    PanelSpec(
        "compare", "&Compare", PanelGroup.CHECK, "A class’s attempts at the tune", "Ctrl+Shift+7",
        _class("compare", "ComparePanel"), _LYING, tall=True,
        actions=(
            PanelAction("compare.next", "edit/compare", "Next d&ifference", "Ctrl+F8",
                        "Go to the next difference of the attempt", methodcaller("walk", 1)),
            PanelAction("compare.back", "edit/compare", "Difference &before", "Ctrl+Shift+F8",
                        "Go to the difference before", methodcaller("walk", -1)),
            PanelAction("compare.in-turn", "listen/compare", "Tune, then a&ttempt", "Ctrl+F6",
                        "Hear the tune and then the attempt from here", methodcaller("hear_in_turn")),
            PanelAction("compare.together", "listen/compare", "Tune left, attempt ri&ght", "Ctrl+Shift+F6",
                        "Hear both at once from here", methodcaller("hear_together")),
        ),
    ),
    PanelSpec(
        "voices", "&Voices", PanelGroup.SHAPE, "Which voices are edited, seen and heard", "Ctrl+Shift+3",
        _class("voices", "VoicesPanel"),
    ),
    PanelSpec(
        "transpose", "&Transpose", PanelGroup.SHAPE, "Transpose or reshape the tune, or a part of it", "Ctrl+Shift+2",
        _class("transpose", "TransposePanel"),
        actions=(
            PanelAction("transpose.hear", "listen/play", "Before and a&fter", "Shift+F6",
                        "Hear what the Transpose panel would do", methodcaller("hear_outcome")),
        ),
    ),
    PanelSpec(
        "wave", "&Wave", PanelGroup.SHAPE, "How the selected note looks as sound", "Ctrl+Shift+5",
        _class("wave", "WavePanel"),
    ),
    PanelSpec(
        "send", "&Lists and boards", PanelGroup.SEND, "The tune as a list for a program, or cells for a board",
        "Ctrl+Shift+8", _class("send", "SendPanel"), (PanelSize.ACROSS, PanelSize.BESIDE, PanelSize.OVER), tall=True,
        actions=(
            PanelAction("send.copy", "song/export", "Copy as a &list", "Ctrl+Shift+L",
                        "Copy the tune as the target of Lists and boards wants it", methodcaller("copy_text")),
            PanelAction("send.hear", "listen/compare", "As the &board plays it", "Ctrl+F7",
                        "Hear what the board sounds from its cells", methodcaller("hear_board")),
            PanelAction("send.step", "listen/compare", "Board’s ne&xt cell", "Ctrl+Shift+F7",
                        "Play the board cell by cell", methodcaller("next_cell")),
        ),
    ),
    PanelSpec(
        "programs", "Pro&grams", PanelGroup.SEND, "The tune as a program, and pupils’ programs",
        "Ctrl+Shift+U", _class("programs", "ProgramsPanel"), (PanelSize.ACROSS, PanelSize.OVER, PanelSize.BESIDE),
        tall=True,
        actions=(
            PanelAction("programs.hear", "listen/compare", "What the &program sounds", "Ctrl+Alt+F6",
                        "Hear the program of the Programs panel", methodcaller("hear_program")),
            PanelAction("programs.step", "listen/compare", "Program’s next s&tep", "Ctrl+Alt+F7",
                        "Go through the program of the Programs panel step by step", methodcaller("next_step")),
            PanelAction("programs.open", "song/open", "Open a pupil’s progra&m…", "Ctrl+Alt+O",
                        "Look at a pupil's program: what it sounds, and where it goes wrong",
                        methodcaller("choose_program")),
        ),
    ),
    PanelSpec(
        "handout", "&Handouts", PanelGroup.SEND, "Pages for the wall, the desk and the slide", "Ctrl+Shift+9",
        _class("handout", "HandoutPanel"), (PanelSize.OVER, PanelSize.ACROSS, PanelSize.BESIDE), tall=True,
        actions=(
            PanelAction("handout.print", "song/export", "&Print…", "Ctrl+P", "Print the page of Handouts",
                        methodcaller("print_pages")),
            PanelAction("handout.picture", "notes/keep", "Copy the tune as a p&icture", "Ctrl+Shift+F",
                        "The timeline with its rows, for a slide", methodcaller("copy_tune")),
        ),
    ),
    PanelSpec(
        "ideas", "&Ideas", PanelGroup.MAKE, "Practice tunes from a recipe, and ideas for the open tune",
        "Ctrl+Shift+D", _class("ideas", "IdeasPanel"), _LYING, tall=True,
        actions=(
            PanelAction("ideas.again", "song/ideas", "Another &ten ideas", "Ctrl+Shift+F9",
                        "Ten other ideas; a locked one stays, and the others are like it",
                        methodcaller("another_ten")),
            PanelAction("ideas.lock", "song/ideas", "&Lock the idea", "Shift+F9",
                        "Let the selected idea stay when others come", methodcaller("switch_lock")),
            PanelAction("ideas.keep", "song/ideas", "&Keep the idea", "Shift+F7",
                        "Put the selected tune on the shelf, or the selected change into the sheet",
                        methodcaller("keep_it")),
            PanelAction("ideas.set", "song/ideas", "Make a &set of tunes…", "Ctrl+Shift+F10",
                        "A folder with a tune for each pupil, by the recipe of the Ideas panel",
                        methodcaller("make_set")),
        ),
    ),
    PanelSpec(
        "recording", "&Recording", PanelGroup.MAKE, "A recording under the tune: write down what is heard",
        "Ctrl+Shift+E", _class("recording", "RecordingPanel"), _LYING, tall=True,
        actions=(
            PanelAction("recording.open", "song/open", "Lay a &recording under the tune…", "Ctrl+Shift+A",
                        "Open a sound file and write down what is heard in it", methodcaller("choose")),
            PanelAction("recording.microphone", "listen/play", "Show what is s&ung", "Ctrl+Alt+M",
                        "The note that the microphone hears and its cents, or no longer",
                        methodcaller("switch_microphone")),
            PanelAction("recording.record", "listen/play", "Record from the microp&hone", "Ctrl+Alt+R",
                        "Record from the selected note's bar on, or stop", methodcaller("record")),
        ),
    ),
    PanelSpec(
        "found", "What was &found", PanelGroup.MAKE, "What was found in a file from elsewhere, and how it is written",
        "Ctrl+Shift+6", _class("found", "FoundPanel"),
    ),
)  # fmt: skip
"""In the order in which they are named in their groups."""

"""The highlight in every view at once: the selected notes, or while music plays the sounding ones."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from ..display.readout import Readout, readout_of
from .keyboard.view import KeyboardView
from .playback import Playback
from .selection import Selection
from .sheet.editor import SheetEditor
from .timeline.view import TimelineView
from .transport_bar.view import TransportBar

__all__ = ["Highlight"]

_MOST_INK = 200


class Highlight(QObject):
    """Follows the choice and the player, and shows the notes in each view."""

    def __init__(
        self,
        selection: Selection,
        playback: Playback,
        transport_bar: TransportBar,
        timeline: TimelineView,
        editor: SheetEditor,
        keys: KeyboardView,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._selection = selection
        self._playback = playback
        self._player = playback.player
        player = playback.player
        self._transport_bar = transport_bar
        self._timeline = timeline
        self._editor = editor
        self._keys = keys
        self._instead: Readout | None = None
        selection.changed.connect(self.show_chosen)
        player.started.connect(lambda: transport_bar.show_playing(True))
        player.moved.connect(self.show_moment)
        player.stopped.connect(self.show_rest)

    def show_chosen(self) -> None:
        """Show the chosen notes, unless what sounds is being shown."""
        if self._player.playing:
            return
        song = self._selection.scene.song
        chosen = self._selection.notes
        self._timeline.choose(chosen)
        self._transport_bar.readout.show_readout(self._instead or readout_of(song, chosen))
        self._show_ink(chosen[:_MOST_INK])

    def show_instead(self, readout: Readout | None) -> None:
        """The transport bar says something else than the notes, such as what is sung; None shows the notes again."""
        self._instead = readout
        if readout is not None:
            self._transport_bar.readout.show_readout(readout)
        else:
            self.show_chosen()

    def show_moment(self, tick: float) -> None:
        """Show what sounds at a tick."""
        other = self._playback.other_scene
        scene = other or self._selection.scene
        sounding = scene.sounding(tick)
        self._keys.show_sounding({scene.song.notes[index].number for index in sounding})
        self._transport_bar.readout.show_readout(self._instead or readout_of(scene.song, sounding, tick))
        self._transport_bar.show_limited(self._player.limited)
        if other is None:
            self._timeline.show_playhead(tick)
            self._show_ink(sounding)

    def show_rest(self) -> None:
        """Nothing plays any longer."""
        self._transport_bar.show_playing(False)
        self._transport_bar.show_limited(False)
        self._keys.show_sounding(set())
        self._timeline.show_playhead(None)
        self.show_chosen()

    def _show_ink(self, notes: list[int]) -> None:
        song = self._selection.scene.song
        self._editor.show_ink([span for index in notes for span in song.notes[index].spans])

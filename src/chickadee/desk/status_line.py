"""The status line: what the tune counts, and where sound goes."""

from __future__ import annotations

from PyQt6.QtWidgets import QStatusBar

from ..display import words
from ..player import Player
from .pauses import after_pause
from .plain_text import PlainLabel
from .selection import Selection

__all__ = ["StatusLine"]

_PAUSE_MILLISECONDS = 80  # counts need not keep up with every key


class StatusLine:
    """Fills a window's status bar and keeps it true."""

    def __init__(self, bar: QStatusBar, selection: Selection, player: Player) -> None:
        self._selection = selection
        self._player = player
        self.counts = PlainLabel()
        self.output = PlainLabel()
        bar.setSizeGripEnabled(False)
        bar.addWidget(self.counts, 1)
        bar.addPermanentWidget(self.output)
        due = after_pause(bar, _PAUSE_MILLISECONDS, self.count)
        selection.scene_changed.connect(due.start)
        player.output_changed.connect(self._show_output)
        self.count()
        self._show_output()

    def count(self) -> None:
        """Say what the tune counts."""
        self.counts.setText(words.counts(self._selection.scene.song))

    def _show_output(self) -> None:
        self.output.setText(f"Output: {self._player.output_name}")

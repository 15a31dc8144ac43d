"""The tune as a file of another form: asked for in one dialog, and written with progress where that takes time."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QWidget

from ..display import words
from ..files import FileFault
from ..formats.forms import WRITTEN
from ..formats.imported import Form
from .actions import ActionSpec
from .document import Document
from .goals import ask_for_goal
from .notice import Notice
from .plain_dialogs import PlainProgress
from .settings import Settings

if TYPE_CHECKING:
    from .export import ExportRequest, SoundExport

__all__ = ["Exports"]


class Exports(QObject):
    """Asks for the form and the file, and writes the tune to it; a fault is said in the notice."""

    def __init__(
        self,
        document: Document,
        notice: Notice,
        window: QWidget,
        settings: Settings,
        folder: Callable[[], Path],
        in_room: Callable[[], bool],
    ) -> None:
        """``folder`` and ``in_room`` tell, when asked, where a new tune's files go and whether a room is heard."""
        super().__init__(window)
        self._document = document
        self._notice = notice
        self._window = window
        self._settings = settings
        self._folder = folder
        self.in_room = in_room
        self.sound: SoundExport | None = None
        """The sound export at work, if any."""

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Return the actions that export."""
        return (
            ActionSpec("tune.midi", "song/export", "Export &MIDI file…", "Ctrl+M",
                       "Write the tune as a Standard MIDI File", self.export_midi),
            ActionSpec("tune.export", "song/export", "&Export…", "Ctrl+E",
                       "Write the tune as sound, a MIDI file, a score, a table or a page that plays", self.export),
        )  # fmt: skip

    def export_midi(self) -> None:
        """Ask for a file and write the whole tune to it as a MIDI file."""
        if self._is_too_large():
            return
        from .export import ExportRequest

        self._to_a_file(ExportRequest(".mid"))

    def export(self) -> None:
        """Ask for the form and the part of the tune, then for a file, and write it."""
        if self._is_too_large():
            return
        from .export_dialog import ExportDialog

        song = self._document.reading.song
        last = self._settings.words("export", [".wav"])
        dialog = ExportDialog(song, last, self.in_room(), self._window)
        accepted = dialog.exec()
        dialog.deleteLater()
        if accepted:
            self._settings.set_words("export", dialog.remembered)
            self._to_a_file(dialog.request)

    def _is_too_large(self) -> bool:
        """Say why a tune that is beyond what a song can be is not written."""
        sentence = self._document.reading.too_large
        if sentence:
            self._notice.say(f"Nothing was exported. {sentence}")
        return bool(sentence)

    def _to_a_file(self, request: ExportRequest) -> None:
        song = self._document.reading.song
        name = WRITTEN[request.suffix].name
        path = ask_for_goal(
            self._window,
            self._document,
            self._folder(),
            f"Export a {name}" if not WRITTEN[request.suffix].is_sound else "Export sound",
            f"{name} (*{request.suffix})",
            request.suffix,
            lambda path: [job.path for job in request.jobs(path, song)],
        )
        if path is not None:
            self.write(path, request)

    def write(self, path: Path, request: ExportRequest) -> None:
        """Write the tune to a file or several; sound with progress that can be cancelled."""
        if WRITTEN[request.suffix].is_rendered:
            self._write_sound(path, request)
            return
        from ..formats.smf import crowded
        from ..outgoing import write_song_file

        jobs = request.jobs(path, self._document.reading.song)
        try:
            for job in jobs:
                write_song_file(job.song, job.path)
        except FileFault as fault:
            self._notice.say(str(fault))
            return
        said = crowded(jobs[0].song) if WRITTEN[request.suffix].reads_as is Form.MIDI else ""
        names = ", ".join(job.path.name for job in jobs)
        self._notice.say(f"{WRITTEN[request.suffix].name}: {names}, in {path.parent}. {said}".strip(), good=True)

    def _write_sound(self, path: Path, request: ExportRequest) -> None:
        from .export import SoundExport

        jobs = request.jobs(path, self._document.reading.song)
        export = self.sound = SoundExport(jobs, request, self._window)
        progress = PlainProgress(f"Rendering {path.name}", 100, self._window)
        progress.setWindowTitle("Export")
        progress.setWindowModality(Qt.WindowModality.WindowModal)
        progress.setMinimumDuration(300)
        progress.canceled.connect(export.cancel)
        export.progressed.connect(lambda done, left: self._show_progress(progress, path, done, left))
        export.ended.connect(lambda sentence, good: self._exported(progress, sentence, good))
        export.start()

    @staticmethod
    def _show_progress(progress: PlainProgress, path: Path, done: int, left: float) -> None:
        progress.setLabelText(f"Rendering {path.name}: about {words.counted(max(1, round(left)), 'second')} left")
        progress.setValue(min(99, done))

    def wait(self) -> None:
        """Cancel an export at work and wait for its end, before the window goes."""
        if self.sound is not None:
            self.sound.cancel()
            self.sound.wait()

    def _exported(self, progress: PlainProgress, sentence: str, good: bool) -> None:
        progress.close()
        progress.deleteLater()
        if sentence:
            self._notice.say(sentence, good)
        self.wait()
        self.sound = None

"""A class's attempts at the open tune: read and judged in processes of their own, and again as files change."""

from __future__ import annotations

import time
from collections.abc import Iterable, Sequence
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QThread, pyqtSignal

from ..attempts import (
    AlignedAttempt,
    Attempt,
    attempt_beside,
    attempt_of,
    is_source_small,
    judging,
    model_of,
)
from ..comparison import Model
from ..comparison.beside import Beside
from ..comparison.differences import Difference
from ..comparison.points import Points
from ..comparison.summary import judged_by_bar
from ..files import FileFault
from ..formats.imported import Imported
from ..handed_in import Skipped, Source, handed_in, names_in, without_work
from ..reshape import Part
from ..workers import Lost, Work
from .document import Document
from .pauses import after_pause
from .waiting import WorkThread

__all__ = ["ClassWork"]

_PAUSE_MILLISECONDS = 400  # after the last key press or change of a file
_MOST_ATTEMPTS = 5_000
_SAID_EVERY = 0.05  # seconds


class ClassWork(QObject):
    """Keeps the attempts, judged against the tune that was open when they came."""

    changed = pyqtSignal()
    """There are other attempts or judgements, or the work goes on."""
    chosen_changed = pyqtSignal()
    """Another attempt is chosen, or another of its differences, or none."""
    open_wanted = pyqtSignal(object)
    """Carries the path of an attempt that is to be opened as a tune."""
    text_wanted = pyqtSignal(str)
    """Carries the text of an attempt that is to be opened as a tune."""
    faulty = pyqtSignal(str)
    """A sentence about a failure."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self.part = Part()
        """The part of the tune that is the model."""
        self.attempts: list[Attempt] = []
        """Those judged, in the order in which they came."""
        self.done = 0
        """How many are judged of those that are being judged; 0 at rest."""
        self.of = 0
        """How many are being judged; 0 at rest."""
        self.points: Points | None = None
        """The rule for points; None where there are none."""
        self.names: list[str] = []
        """The list of the class; empty where none is known."""
        self.missing: list[str] = []
        """Those of the class who have handed in nothing."""
        self.skipped: list[Skipped] = []
        """Files that came with the newest attempts and are none."""
        self.chosen: Attempt | None = None
        self.difference = -1
        """Which of the chosen attempt's differences is looked at; -1 for none."""
        self.found: Imported | None = None
        """The music in the chosen attempt's file."""
        self.beside: tuple[Beside, ...] = ()
        """The chosen attempt on the tune's time."""
        self._model = Model(document.reading.song)
        self._tune: Path | None = None
        self._judge: _Judge | None = None
        self._watcher = QFileSystemWatcher(self)
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self.judge_again)
        self._watcher.fileChanged.connect(lambda: self._due.start())
        document.reading_changed.connect(self._follow_tune)
        document.file_changed.connect(self._follow_file)
        self._laying: WorkThread | None = None
        self._named = 0
        self._sources: list[Source] = []  # all there are, judged or not yet

    # The model

    @property
    def model(self) -> Model:
        """The model of the comparison."""
        return self._model

    @property
    def is_at_home(self) -> bool:
        """True if the tune that the class worked on is the open one."""
        return not self._sources or self._document.path == self._tune

    @property
    def tune(self) -> Path | None:
        """The file of the tune that the class worked on."""
        return self._tune

    def give_points(self, points: Points | None) -> None:
        """Give points by another rule, or none."""
        self.points = points
        self.changed.emit()

    def read_names(self, path: Path) -> None:
        """Take the names in a file for the class."""
        try:
            self.names = names_in(path)
        except FileFault as fault:
            self.faulty.emit(str(fault))
        self.missing = without_work(self.names, self._sources)
        self.changed.emit()

    def compare_with(self, part: Part) -> None:
        """Make a part of the open tune the model."""
        self.part = part
        self.take_tune()

    def take_tune(self) -> None:
        """Make the open tune the model."""
        self._tune = self._document.path
        self._use_model()

    def _use_model(self) -> None:
        self._model = model_of(self._document.reading, self.part)
        self._judge_all(self._sources)

    def _follow_tune(self) -> None:
        if self._sources and self.is_at_home:
            self._due.start()
        else:
            self.changed.emit()

    def _follow_file(self) -> None:
        """The open tune was saved elsewhere, or another was opened."""
        if self.chosen is not None and not self.is_at_home:
            self.choose(None)
        self.changed.emit()

    # Attempts

    def add_paths(self, paths: Iterable[Path]) -> None:
        """Add files, and the files in folders; those that are there already are read again."""
        try:
            work = handed_in(paths, self._document.path)
        except FileFault as fault:
            self.faulty.emit(str(fault))
            return
        self.skipped = work.skipped
        self._add(work.sources)

    def add_text(self, text: str) -> None:
        """Add what was pasted."""
        if text.strip():
            self._named += 1
            self._add([Source(f"Pasted {self._named}", data=text.encode("utf-8", "replace"))])

    def clear(self) -> None:
        """Take all attempts away."""
        self._halt()
        self.attempts = []
        self._sources = []
        self.skipped = []
        self._due.stop()
        self._watch([])
        self.choose(None)
        self.changed.emit()

    def cancel(self) -> None:
        """Stop judging; what is judged so far stays."""
        self._halt()
        self._stop_laying()
        judged = {each.source.key for each in self.attempts}
        self._sources = [source for source in self._sources if source.key in judged]
        self.changed.emit()

    def _halt(self) -> None:
        if self._judge is not None:
            self._judge.stop()
            self._judge.wait()
            self._judge = None
        self.done = self.of = 0

    def _add(self, sources: Sequence[Source]) -> None:
        if not self._sources:
            self._tune = self._document.path
            self._model = model_of(self._document.reading, self.part)
        new = {source.key for source in sources}
        old = [source for source in self._sources if source.key not in new]
        every = [*old, *sources]
        if len(every) > _MOST_ATTEMPTS:
            self.faulty.emit(
                f"There are {len(every):,} attempts; the most that can be compared at once are {_MOST_ATTEMPTS:,}."
            )
            return
        self._judge_all(every)

    def _judge_all(self, sources: Sequence[Source]) -> None:
        """Judge attempts anew, in a thread that has processes of its own."""
        self._halt()
        self._sources = list(sources)
        self.missing = without_work(self.names, self._sources)
        self._watch(sources)
        kept = {each.source.key: each for each in self.attempts}
        self.attempts = [kept[source.key] for source in sources if source.key in kept]
        if not sources:
            self.changed.emit()
            return
        self.of = len(sources)
        self._judge = _Judge(self._model, sources, self)
        self._judge.judged.connect(self._take)
        self._judge.finished.connect(self._finish)
        self._judge.start()
        self.changed.emit()

    def _take(self, judge: object, results: list[Attempt]) -> None:
        if judge is not self._judge:
            return  # of work that was cancelled
        places = {each.source.key: place for place, each in enumerate(self.attempts)}
        for attempt in results:
            place = places.get(attempt.source.key)
            if place is None:
                self.attempts.append(attempt)
            else:
                self.attempts[place] = attempt
        self.done += len(results)
        self.changed.emit()

    def _finish(self) -> None:
        if self._judge is not None and self._judge.isFinished():
            self._judge = None
            self.done = self.of = 0
            if self.chosen is not None:
                key = self.chosen.source.key
                self.choose(next((each for each in self.attempts if each.source.key == key), None))
            self.changed.emit()

    # Files that change

    def _watch(self, sources: Sequence[Source]) -> None:
        old = self._watcher.files()
        wanted = [str(source.path) for source in sources if source.path is not None]
        if gone := sorted(set(old) - set(wanted)):
            self._watcher.removePaths(gone)
        if new := sorted(set(wanted) - set(old)):
            self._watcher.addPaths(new)

    def judge_again(self) -> None:
        """Judge all attempts anew: they are read otherwise now."""
        if self._sources and self.is_at_home:
            self._use_model()

    # The chosen attempt

    def choose(self, attempt: Attempt | None) -> None:
        """Look at an attempt, none of its differences yet."""
        self.chosen = attempt
        self.difference = -1
        self._lay(None)
        self._stop_laying()
        if attempt is not None and judged_by_bar(attempt.comparison) and self.is_at_home:
            if is_source_small(attempt.source) and attempt.program is None:
                self._lay(attempt_beside(self._model, attempt.source))
            else:
                work = Work(attempt_beside, self._model, [attempt.source], count=1)
                self._laying = WorkThread(work, self)
                self._laying.done.connect(lambda _, laid: self._take_laid(laid))
                self._laying.start()
        self.chosen_changed.emit()

    def _lay(self, laid: AlignedAttempt | Lost | None) -> None:
        """Lay an attempt beside the model; None where it changed just now, and is judged again."""
        there = laid if isinstance(laid, AlignedAttempt) else None
        self.found = there.found if there else None
        self.beside = there.beside if there else ()

    def _take_laid(self, laid: AlignedAttempt | Lost | None) -> None:
        self._lay(laid)
        self.chosen_changed.emit()

    def _stop_laying(self) -> None:
        if self._laying is not None:
            self._laying.stop()
            self._laying.deleteLater()
            self._laying = None

    def walk(self, by: int) -> Difference | None:
        """Go to the next difference of the chosen attempt, or the one before; round at the ends."""
        found = self.chosen.comparison.differences if self.chosen is not None else ()
        if not found:
            return None
        start = -1 if self.difference < 0 and by > 0 else max(0, self.difference)
        self.difference = (start + by) % len(found)
        self.chosen_changed.emit()
        return found[self.difference]


class _Judge(QThread):
    """Judges attempts; ``judged`` carries itself and some that are done."""

    judged = pyqtSignal(object, list)

    def __init__(self, model: Model, sources: Sequence[Source], parent: QObject) -> None:
        super().__init__(parent)
        self._sources = sources
        self._work = judging(model, sources)

    def stop(self) -> None:
        """End the work at once."""
        self._work.stop()

    def run(self) -> None:
        ready: list[Attempt] = []
        said = time.monotonic()
        for index, result in self._work.results():
            ready.append(attempt_of(self._sources[index], result))
            if time.monotonic() - said > _SAID_EVERY:
                self.judged.emit(self, ready)
                ready = []
                said = time.monotonic()
        self.judged.emit(self, ready)

"""Sets of practice tunes, a file for each pupil: made and written on all cores, told as they are done."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import islice
from pathlib import Path

from ..checks import checked_reading
from ..files import FileFault, is_folder, is_there, write_text
from ..outgoing import write
from ..workers import Lost, Work
from .recipe import Recipe, RecipeFault, check
from .tune import NONE_PASSES, candidate, tunes_in_turn

__all__ = ["FORMS", "SetWriting", "TuneSet", "files_in"]

FORMS = ("chick", "mid", "wav")
"""The forms of the files, by their suffix."""
_AT_ONCE = 64  # numbers that are tried before it is looked how many are still missing


@dataclass
class TuneSet:
    """So many different tunes of a recipe: the same from the same seed, however many processes make them."""

    recipe: Recipe
    seed: int
    wanted: int
    processes: int = 0
    """0 for as many as there are cores."""
    _work: Work[tuple[Recipe, int], int, str | None] | None = field(default=None, init=False)
    _stopped: bool = field(default=False, init=False)

    def tunes(self) -> Iterator[str]:
        """The tunes, as sheets. Raises RecipeFault where wishes collide, or where there is none."""
        check(self.recipe)
        found = 0
        for text in islice(tunes_in_turn(self.recipe, self.seed, self._tried()), self.wanted):
            found += 1
            yield text
        if self.wanted and not found and not self._stopped:
            raise RecipeFault(NONE_PASSES)

    def stop(self) -> None:
        """End the processes at once, from any thread."""
        self._stopped = True
        if self._work is not None:
            self._work.stop()

    def _tried(self) -> Iterator[str | None]:
        """Yield the candidate of each number, in order."""
        first = 1
        while not self._stopped:
            numbers = range(first, first + max(_AT_ONCE, self.wanted))
            first = numbers.stop
            self._work = Work(_tried, (self.recipe, self.seed), numbers, self.processes)
            yield from _in_order(self._work)


def _in_order(work: Work[tuple[Recipe, int], int, str | None]) -> Iterator[str | None]:
    ready: dict[int, str | None] = {}
    following = 0
    for index, body in work.results():
        ready[index] = None if isinstance(body, Lost) else body
        while following in ready:
            yield ready.pop(following)
            following += 1


def _tried(shared: tuple[Recipe, int], number: int) -> str | None:
    recipe, seed = shared
    return candidate(recipe, seed, number)


def files_in(folder: Path, count: int, form: str) -> list[Path]:
    """The files of a set: ``idea-01.chick`` and so on."""
    wide = max(2, len(str(count)))
    return [folder / f"idea-{place:0{wide}}.{form}" for place in range(1, count + 1)]


@dataclass
class SetWriting:
    """A file for each tune, in the form of its suffix."""

    texts: Sequence[str]
    paths: Sequence[Path]
    _work: Work[None, tuple[Path, str], str] | None = field(default=None, init=False)
    _stopped: bool = field(default=False, init=False)

    def written(self) -> Iterator[int]:
        """Write them; yields how many are done. Raises FileFault."""
        if not self.paths:
            return
        _make_folder(self.paths[0].parent)
        jobs = list(zip(self.paths, self.texts, strict=True))
        if all(path.suffix == ".chick" for path in self.paths):
            for done, (path, text) in enumerate(jobs, 1):
                if self._stopped:
                    return
                write_text(path, text)
                yield done
            return
        self._work = Work(_written, None, jobs)
        for done, (index, reason) in enumerate(self._work.results(), 1):
            if isinstance(reason, Lost):
                raise FileFault(self.paths[index], "making it took more than this computer has")
            if reason:
                raise FileFault(self.paths[index], reason)
            yield done

    def stop(self) -> None:
        """Write no more, from any thread."""
        self._stopped = True
        if self._work is not None:
            self._work.stop()


def _make_folder(folder: Path) -> None:
    if is_there(folder) and not is_folder(folder):
        raise FileFault(folder, "this is a file and not a folder")
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as fault:
        raise FileFault(folder, f"the folder could not be made: {fault.strerror}") from None


def _written(shared: None, job: tuple[Path, str]) -> str:
    """Write one file; gives the reason where that fails."""
    path, text = job
    try:
        write(checked_reading(text), path)
    except FileFault as fault:
        return fault.reason
    return ""

"""Long work in processes of its own: pieces done side by side, told as they are done, stopped at once."""

from __future__ import annotations

import gc
import os
import subprocess
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from multiprocessing import Pipe
from multiprocessing.connection import Connection, wait
from typing import Generic, TypeVar

from .own_process import started

__all__ = ["FEW_PIECES", "LOST", "MOST_WORKERS", "Lost", "Work", "work_off"]

FEW_PIECES = 8
"""Pieces that are done sooner here than in processes that are yet to start."""
_AHEAD = 2  # pieces that a worker is given at a time, so that it never waits
MOST_WORKERS = 8
"""Processes that work at once."""
_GC_THRESHOLD = 50_000  # the garbage collector's, in objects

Shared = TypeVar("Shared")
Piece = TypeVar("Piece")
Result = TypeVar("Result")


class Lost:
    """In place of a result: the process ended while it was at this piece."""


LOST = Lost()


@dataclass
class Work(Generic[Shared, Piece, Result]):
    """Pieces to be done.

    >>> dict(Work(divmod, 17, [5, 3]).results())
    {0: (3, 2), 1: (5, 2)}
    """

    do: Callable[[Shared, Piece], Result]
    """A function of a module, given what is shared and a piece."""
    shared: Shared
    """Data that all pieces need; sent once to each process."""
    pieces: Sequence[Piece]
    count: int = 0
    """How many processes; 0 for as many as there are cores."""
    _workers: list[_Worker] = field(default_factory=list)
    _stopped: bool = False

    def results(self) -> Iterator[tuple[int, Result | Lost]]:
        """The index and the result of each piece, as they are done. A few are done here, the rest in processes."""
        if len(self.pieces) <= FEW_PIECES and not self.count:
            for index, piece in enumerate(self.pieces):
                if self._stopped:
                    return
                yield index, self.do(self.shared, piece)
            return
        waiting = deque(range(len(self.pieces)))
        try:
            for _ in range(min(len(self.pieces), self.count or min(MOST_WORKERS, os.cpu_count() or 1))):
                self._workers.append(self._begun())
            for worker in self._workers:
                self._feed(worker, waiting)
            while not self._stopped and any(worker.at_work for worker in self._workers):
                yield from self._done(waiting)
        finally:
            self.stop()

    def stop(self) -> None:
        """End the processes at once, from any thread; what is not done then is never told."""
        self._stopped = True
        for worker in self._workers:
            worker.process.kill()
        for worker in self._workers:
            worker.process.wait()

    def _begun(self) -> _Worker:
        ours, theirs = Pipe()
        with theirs:
            worker = _Worker(started("chickadee.workers", theirs.fileno()), ours)
        with suppress(OSError):
            ours.send((self.do, self.shared))
        return worker

    def _feed(self, worker: _Worker, waiting: deque[int]) -> None:
        while waiting and len(worker.at_work) < _AHEAD:
            index = waiting.popleft()
            worker.at_work.append(index)
            with suppress(OSError):  # a process that has ended is seen when it is listened to
                worker.connection.send(self.pieces[index])

    def _done(self, waiting: deque[int]) -> Iterator[tuple[int, Result | Lost]]:
        """Return the results that are ready; waits until one is."""
        busy = {worker.connection: worker for worker in self._workers if worker.at_work}
        for connection in wait(list(busy)):
            if self._stopped:  # while what was ready before was told
                return
            worker = busy[connection]  # type: ignore[index]
            try:
                result = worker.connection.recv()
            except (EOFError, OSError):
                if self._stopped:
                    return
                yield worker.at_work.popleft(), LOST
                waiting.extendleft(reversed(worker.at_work))
                worker.connection.close()
                place = self._workers.index(worker)
                worker = self._workers[place] = self._begun()
            else:
                yield worker.at_work.popleft(), result
            self._feed(worker, waiting)


@dataclass
class _Worker:
    process: subprocess.Popen[bytes]
    connection: Connection
    at_work: deque[int] = field(default_factory=deque)


def work_off(descriptor: int) -> None:
    """Do pieces as they come, until nobody gives any more: what a process does."""
    with Connection(descriptor) as connection, suppress(EOFError, OSError):
        do, shared = connection.recv()
        gc.freeze()  # what is loaded now stays, and is not looked through again and again
        gc.set_threshold(_GC_THRESHOLD)
        while True:
            connection.send(do(shared, connection.recv()))


if __name__ == "__main__":
    import sys

    work_off(int(sys.argv[1]))

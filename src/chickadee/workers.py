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

__all__ = ["FEW_PIECES", "LOST", "MOST_WORKERS", "Lost", "Newest", "Work", "work_off"]

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
                self._workers.append(_begun(self.do, self.shared))
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
                worker = self._workers[place] = _begun(self.do, self.shared)
            else:
                yield worker.at_work.popleft(), result
            self._feed(worker, waiting)


class Newest(Generic[Piece, Result]):
    """Does the newest of some pieces in a process that waits for the next: those in between are never begun.

    >>> newest = Newest(hex)
    >>> newest.ask(255)
    >>> newest.result()
    '0xff'
    >>> newest.stop()
    """

    def __init__(self, do: Callable[[Piece], Result]) -> None:
        self._do = do
        self._worker: _Worker | None = None
        self._next: list[Piece] = []
        """The piece that is done next, if any."""
        self.is_busy = False

    def ask(self, piece: Piece) -> None:
        """Have a piece done; one that is not yet begun is forgotten. Raises OSError where no process can be begun."""
        if self._worker is None:
            self._worker = _begun(_done_alone, self._do)
        if self.is_busy:
            self._next = [piece]
            return
        self.is_busy = True
        with suppress(OSError):  # a process that has ended is seen when it is listened to
            self._worker.connection.send(piece)

    @property
    def descriptor(self) -> int:
        """The file descriptor that can be read once a result is there; -1 where no process waits."""
        return self._worker.connection.fileno() if self._worker is not None else -1

    def result(self) -> Result | Lost:
        """Return the result of the piece that is done now, and begin the next; waits for it."""
        if self._worker is None:
            return LOST
        try:
            found: Result = self._worker.connection.recv()
        except (EOFError, OSError):
            self.stop()
            return LOST
        self.is_busy = False
        if self._next:
            self.ask(self._next.pop())
        return found

    def stop(self) -> None:
        """End the process at once."""
        self.is_busy = False
        self._next = []
        if self._worker is not None:
            self._worker.process.kill()
            self._worker.process.wait()
            self._worker.connection.close()
            self._worker = None


def _done_alone(do: Callable[[Piece], Result], piece: Piece) -> Result:
    return do(piece)


@dataclass
class _Worker:
    process: subprocess.Popen[bytes]
    connection: Connection
    at_work: deque[int] = field(default_factory=deque)


def _begun(do: Callable[[Shared, Piece], Result], shared: Shared) -> _Worker:
    """Begin a process that waits for pieces. Raises OSError."""
    ours, theirs = Pipe()
    with theirs:
        worker = _Worker(started("chickadee.workers", theirs.fileno()), ours)
    with suppress(OSError):
        ours.send((do, shared))
    return worker


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

"""Long work in processes of its own: every piece is told once, whatever ends, and nothing goes on after a stop."""

from __future__ import annotations

import time

import pytest

from chickadee.workers import LOST, Lost, Newest, Work

PIECES = list(range(40))


@pytest.mark.parametrize("count", [0, 1, 3])
def test_every_piece_is_done_once(count):
    work = Work(divmod, 1000, PIECES[1:], count)
    assert dict(work.results()) == {index: divmod(1000, piece) for index, piece in enumerate(PIECES[1:])}


def test_a_few_pieces_are_done_here():
    assert list(Work(lambda shared, piece: shared + piece, 1, [1, 2]).results()) == [(0, 2), (1, 3)]
    assert list(Work(divmod, 1, []).results()) == []


def test_a_piece_that_ends_its_process_is_lost_and_no_other():
    pieces = [{"n": place} for place in range(12)]
    found = dict(Work(eval, "__import__('os').abort() if n == 5 else n", pieces, 2).results())
    assert isinstance(found.pop(5), Lost)
    assert found == {place: place for place in range(12) if place != 5}


def test_nothing_is_told_after_a_stop():
    work = Work(pow, 2, PIECES, 2)
    results = work.results()
    next(results)
    time.sleep(0.5)  # both processes have something ready now
    next(results)
    begun = time.monotonic()
    work.stop()
    assert list(results) == [] and time.monotonic() - begun < 5
    assert all(worker.process.poll() is not None for worker in work._workers)


def test_of_pieces_that_come_too_fast_the_newest_is_done():
    newest = Newest(abs)
    for piece in (-1, -2, -3, -4):
        newest.ask(piece)
    assert [newest.result(), newest.result()] == [1, 4] and not newest.is_busy
    newest.ask(-5)
    newest.ask(-6)
    newest._worker.process.kill()
    newest._worker.process.wait()
    found = newest.result()
    assert found in (5, LOST) and (found == 5 or not newest.is_busy)
    newest.stop()
    newest.ask(-7)  # in another process
    assert newest.result() == 7
    newest.stop()

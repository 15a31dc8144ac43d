"""Run the campaign: ``make hard``, or ``python -m hard [--part 0.1] [stage ...]`` for some of it.

Each share of a stage runs in a process of its own. It is watched: a process that holds more than a gigabyte, or stands
at one input for too long, is killed, its input is kept and named, and the share goes on with the next input.
"""

from __future__ import annotations

import argparse
import gc
import json
import os
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass, field
from importlib import import_module
from pathlib import Path
from typing import NamedTuple

from .figures import KEPT, Figures

_AT_ONCE = 2  # processes
_MOST_MEMORY = 1024  # megabytes that a process may hold
_LOOK = 0.2  # seconds


class Stage(NamedTuple):
    """A part of the campaign: a function of a module, given the first input, how many there are, seed and figures."""

    function: str
    amount: int
    """Inputs; of the soak, seconds."""
    shares: int = 1
    seconds: float = 60.0
    """How long it may stand at one input."""
    resumes: bool = True
    """True if what follows a killed input is tried by another process."""


STAGES: dict[str, Stage] = {
    "soak": Stage("soak", 900, resumes=False),
    "sheets": Stage("fuzz", 200_000, 4, 120),
    "incoming": Stage("fuzz", 150_000, 4, 30),
    "doors": Stage("fuzz", 50_000, 2, 30),
    "programs": Stage("fuzz", 50_000, 2, 30),
    "files": Stage("fuzz", 21_000, 1, 30),
    "recordings": Stage("fuzz", 300, 1, 60),
    "window": Stage("actions", 6, 1, 60),
    "writers": Stage("end", 60, 1, 120),
    "clocks": Stage("offer", 60, 1, 60),
    "kills": Stage("kill", 100, 1, 120),
    "disks": Stage("fill", 50, 1, 60),
    "sound": Stage("restart", 20, 1, 300, resumes=False),
}
"""The stages, in their order."""


def do_share(name: str, first: int, count: int, seed: int, state: Path) -> None:
    """Do a share of a stage in this process, and write down what is found."""
    gc.freeze()  # what is loaded stays
    gc.set_threshold(50_000)
    figures = Figures(state=state)
    getattr(import_module(f"hard.{name}"), STAGES[name].function)(first, count, seed, figures)
    figures.index = count
    figures.save()


@dataclass
class Share:
    """A share of a stage, watched."""

    name: str
    count: int
    seed: int
    figures: Figures = field(default_factory=Figures)
    done: bool = False
    started: float = field(default_factory=time.monotonic)
    _process: subprocess.Popen[bytes] | None = None
    _folder: tempfile.TemporaryDirectory[str] | None = None
    _case: tuple[float, float] = (0.0, 0.0)  # when the input changed, and when that was seen

    def begin(self, first: int = 0) -> None:
        """Start a process that does what is left, with a home of its own."""
        self._folder = tempfile.TemporaryDirectory(prefix="chickadee-hard-home-")
        homes = {f"XDG_{each}_HOME": self._folder.name for each in ("STATE", "CONFIG", "DATA")}
        words = ["--share", self.name, str(first), str(self.count), str(self.seed), str(self._state)]
        with Path(self._folder.name, "stderr").open("wb") as said:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "hard", *words], stderr=said, cwd=Path(__file__).parents[1],
                env=os.environ | homes | {"QT_QPA_PLATFORM": "offscreen"},
            )  # fmt: skip
        self._case = 0.0, time.monotonic()

    @property
    def _state(self) -> Path:
        assert self._folder is not None
        return Path(self._folder.name) / "state.json"

    def watch(self) -> None:
        """See how the process stands, and end it where it does not go on."""
        process = self._process
        stage = STAGES[self.name]
        assert process is not None
        if process.poll() is not None:
            self._ended(process.returncode)
            return
        memory = _memory(process.pid)
        now = time.monotonic()
        self.figures.memory = max(self.figures.memory, memory)
        changed = self._changed()
        if changed != self._case[0]:
            self._case = changed, now
        if memory > _MOST_MEMORY or now - self._case[1] > stage.seconds:
            process.kill()
            process.wait()
            why = f"{memory} MB" if memory > _MOST_MEMORY else f"{now - self._case[1]:.0f} s at one input"
            self._go_on(why)

    def _ended(self, status: int) -> None:
        if status == 0:
            self._take()
            self.done = True
        else:
            assert self._folder is not None
            said = Path(self._folder.name, "stderr").read_text("utf-8", "replace")[-600:]
            self._go_on(f"it ended with status {status}: {said}")

    def _go_on(self, why: str) -> None:
        """Name the input at which the process ended, and go on with the next."""
        index = self._take()
        case = self._state.with_suffix(".case")
        self.figures.kill(f"{self.name}: {why}", case.read_text("utf-8", "replace") if case.exists() else "")
        if STAGES[self.name].resumes and index + 1 < self.count:
            self.begin(index + 1)
        else:
            self.done = True

    def _take(self) -> int:
        """Add what the process wrote down; the number of its newest input."""
        try:
            found = json.loads(self._state.read_text("utf-8"))
        except (OSError, ValueError):
            return self.count
        self.figures.add(found)
        return int(found["index"])

    def _changed(self) -> float:
        try:
            return self._state.with_suffix(".case").stat().st_mtime
        except OSError:
            return 0.0


def _memory(process: int) -> int:
    """Megabytes that a process and those it started hold."""
    pages = 0
    for each in [process, *_children(process)]:
        try:
            pages = max(pages, int(Path(f"/proc/{each}/statm").read_text().split()[1]))
        except (OSError, IndexError):
            continue
    return pages * os.sysconf("SC_PAGE_SIZE") >> 20


def _children(process: int) -> list[int]:
    try:
        return [int(each) for each in Path(f"/proc/{process}/task/{process}/children").read_text().split()]
    except OSError:
        return []


def run_all(names: list[str], part: float, seed: int) -> int:
    """Run stages and print one table; whether any of them found something."""
    waiting = []
    for name in names:
        stage = STAGES[name]
        count = max(1, round(stage.amount * part / stage.shares))
        waiting += [Share(name, count, seed + 100 * turn) for turn in range(stage.shares)]
    shares = list(waiting)
    while any(not share.done for share in shares):
        running = [share for share in shares if share not in waiting and not share.done]
        while waiting and len(running) < _AT_ONCE:
            share = waiting.pop(0)
            share.started = time.monotonic()
            share.begin()
            running.append(share)
        for share in running:
            share.watch()
            if share.done:
                share.figures.notes.append(f"  {share.name}, a share: {time.monotonic() - share.started:.0f} s")
                print(f"{share.name}: {share.figures.count:,} tried", flush=True)
        time.sleep(_LOOK)
    return print_table(names, shares)


def print_table(names: list[str], shares: list[Share]) -> int:
    """Print what each stage found; 1 where there is anything."""
    print(f"\n{'stage':<12}{'tried':>10}{'failed':>8}{'slow':>6}{'killed':>8}{'slowest':>10}{'memory':>9}")
    found = 0
    details: list[str] = []
    for name in names:
        mine = [share.figures for share in shares if share.name == name]
        failed = sum(len(each.faults) for each in mine)
        slow = sum(each.slow for each in mine)
        killed = sum(each.killed for each in mine)
        found += failed + slow + killed
        slowest = max(each.slowest for each in mine)
        memory = max(each.memory for each in mine)
        tried = sum(each.count for each in mine)
        print(f"{name:<12}{tried:>10,}{failed:>8}{slow:>6}{killed:>8}{slowest:>8.2f} s{memory:>6} MB")
        details += [f"{name}: {line}" for each in mine for line in each.lines()]
    print("\n".join(details))
    print("nothing was found" if not found else f"{found} found something; see {KEPT}")
    return int(found > 0)


def main() -> int:
    if sys.argv[1:2] == ["--share"]:
        name, first, count, seed, state = sys.argv[2:]
        do_share(name, int(first), int(count), int(seed), Path(state))
        return 0
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("stages", nargs="*", choices=[*STAGES, []])
    parser.add_argument("--part", type=float, default=1.0, help="how much of it, from 0 to 1")
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    return run_all(given.stages or list(STAGES), given.part, given.seed)


if __name__ == "__main__":
    sys.exit(main())

"""Run the campaign: ``make hard``, or ``python -m hard [--part 0.1] [stage ...]`` for some of it."""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from .figures import Figures

Stage = tuple[str, str, float, int]  # the module, its function, how much of it there is, how many processes share it

STAGES: dict[str, Stage] = {
    "soak": ("soak", "soak", 15, 1),
    "sheets": ("sheets", "fuzz", 200_000, 2),
    "incoming": ("incoming", "fuzz", 100_000, 2),
    "files": ("files", "fuzz", 21_000, 1),
    "kills": ("kills", "kill", 100, 1),
    "disks": ("disks", "fill", 50, 1),
    "sound": ("sound", "restart", 20, 1),
}
"""What is tried, in this order; of the soak, minutes."""
_AT_ONCE = 2


def run_stage(name: str, part: float, seed: int) -> int:
    """Run a share of a stage in this process and print its figures."""
    module, function, amount, processes = STAGES[name]
    share = amount * part / processes
    figures = Figures()
    start = time.monotonic()
    work: Callable[[float, int, Figures], None] = getattr(__import__(f"hard.{module}", fromlist=[function]), function)
    work(share if name == "soak" else max(1, round(share)), seed, figures)
    print(f"{name}: " + "\n".join(figures.lines()) + f"\n  in {time.monotonic() - start:.0f} s", flush=True)
    return 1 if figures.faults or figures.slow else 0


def run_all(names: list[str], part: float, seed: int) -> int:
    """Run stages, each share in a process with a home of its own; whether any of them found something."""
    waiting = [(name, seed + turn) for name in names for turn in range(STAGES[name][3])]
    running: list[tuple[subprocess.Popen[bytes], tempfile.TemporaryDirectory[str]]] = []
    found = 0
    while waiting or running:
        while waiting and len(running) < _AT_ONCE:
            name, own_seed = waiting.pop(0)
            home = tempfile.TemporaryDirectory(prefix="chickadee-hard-home-")
            homes = {f"XDG_{each}_HOME": home.name for each in ("STATE", "CONFIG", "DATA")}
            environment = os.environ | homes | {"QT_QPA_PLATFORM": "offscreen"}
            command = [sys.executable, "-m", "hard", "--alone", "--part", str(part), "--seed", str(own_seed), name]
            running.append((subprocess.Popen(command, env=environment, cwd=Path(__file__).parents[1]), home))
        for process, home in running[:]:
            if process.poll() is not None:
                found += process.returncode != 0
                running.remove((process, home))
                home.cleanup()
        time.sleep(0.2)
    print("nothing was found" if not found else f"{found} of the processes found something; see {Figures().kept}")
    return int(found > 0)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("stages", nargs="*", choices=[*STAGES, []])
    parser.add_argument("--part", type=float, default=1.0, help="how much of it, from 0 to 1")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--alone", action="store_true", help="one stage, in this process")
    given = parser.parse_args()
    if given.alone:
        return run_stage(given.stages[0], given.part, given.seed)
    return run_all(given.stages or list(STAGES), given.part, given.seed)


if __name__ == "__main__":
    sys.exit(main())

"""Desks killed by real signals, at any moment: what was on the screen a second before is in the file or is offered."""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
from itertools import pairwise
from pathlib import Path

from .figures import Figures

HOWS = ("typing", "saving", "starting", "recovering")
_SIGNALS = (signal.SIGKILL, signal.SIGKILL, signal.SIGTERM, signal.SIGHUP)
_GIVEN = "title: Given\nC4 D4 |\n"
_LEFT = "title: Left behind\nC4 D4 E4 F4 |\n"


def kill(first: int, count: int, seed: int, figures: Figures) -> None:
    """Kill so many desks, of each kind as many."""
    for turn in range(first, count):
        chance = random.Random(f"{seed}-{turn}")
        how = HOWS[turn % len(HOWS)]
        figures.begin(turn, how)
        with tempfile.TemporaryDirectory() as folder:
            try:
                _kill_one(how, _SIGNALS[turn // len(HOWS) % len(_SIGNALS)], Path(folder), chance)
            except Exception as fault:
                figures.fault(fault, f"{how}, {turn}")
            figures.took("kills", 0.0, 1.0)


def _kill_one(how: str, number: signal.Signals, folder: Path, chance: random.Random) -> None:
    from chickadee.desk.journal import Journal, left_behind

    tune = folder / "tune.chick"
    journals = folder / "chickadee" / "journal"
    tune.write_text(_GIVEN)
    if how in ("starting", "recovering"):
        gone = Journal(journals)
        gone.keep(_LEFT, tune)
        gone.close(forget=False)
    homes = {f"XDG_{name}_HOME": str(folder) for name in ("STATE", "CONFIG", "DATA")}
    victim = subprocess.Popen(
        [sys.executable, "-m", "hard.victim", how, str(tune), str(chance.randrange(1 << 30))],
        env=os.environ | homes | {"PYTHONPATH": str(Path(__file__).parents[1])}, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
    )  # fmt: skip
    said: list[tuple[float, str, str]] = []
    begun = threading.Event()

    def hear() -> None:
        assert victim.stdout is not None
        for line in victim.stdout:
            if line.endswith("]\n"):
                said.append(tuple(json.loads(line)))
            begun.set()

    hearing = threading.Thread(target=hear)
    hearing.start()
    begun.wait(60)
    time.sleep(chance.uniform(0.05, 1.5) if how in ("starting", "recovering") else chance.uniform(0.9, 3.0))
    assert victim.poll() is None, f"{how}: it ended by itself"
    victim.send_signal(number)
    killed = time.time()
    try:
        victim.wait(10)
    finally:
        victim.kill()
        hearing.join(10)
    assert victim.stderr is not None
    assert "Traceback" not in victim.stderr.read()

    there = tune.read_text()
    left = [what.text for _, what in left_behind(journals)]
    saved = [_GIVEN, *(text for _, what, text in said if what in ("typed", "saved"))]
    assert there in saved, f"{how}: the file holds what was never saved: {there!r}"
    if how in ("starting", "recovering"):
        assert _LEFT in left, f"{how}: what was left behind is gone"
    elif said:
        moments = [*(moment for moment, _, _ in said), killed]
        stood_still = max((after - before for before, after in pairwise(moments)), default=0.0)
        late = [text for moment, what, text in said if what == "typed" and moment <= killed - 1 - stood_still]
        kept = {there, *left}
        places = [place for place, (_, what, text) in enumerate(said) if what == "typed" and text in kept]
        last = len(late) and max(
            place for place, each in enumerate(said) if each[1] == "typed" and each[2] == late[-1]
        )
        assert not late or (places and places[-1] >= last), f"{how}: what was typed is lost"
    if number != signal.SIGKILL:
        hidden = [file.name for file in folder.iterdir() if file.name.startswith(".")]
        assert not hidden, f"{how}: hidden files stay behind: {hidden}"

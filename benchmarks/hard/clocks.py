"""Clocks that are wrong: unsaved work is offered whatever they said, and whatever they say."""

from __future__ import annotations

import json
import os
import random
import tempfile
import time
from pathlib import Path

from .figures import Figures

_DAY = 86_400
_WRITTEN = (0.0, 1 * _DAY, time.time() - 61 * _DAY, time.time() - 400 * _DAY, time.time(), 4.1e9, 9e11, -1e5)
_NOW = (0.0, 1 * _DAY, time.time(), 4.1e9)


def offer(first: int, count: int, seed: int, figures: Figures) -> None:
    """Leave work behind by so many clocks, and look for it by others."""
    from chickadee.desk import journal

    real = time.time
    for turn in range(first, count):
        chance = random.Random(f"{seed}-{turn}")
        written = chance.choice(_WRITTEN)
        now = chance.choice(_NOW)
        figures.begin(turn, f"written at {written}, looked for at {now}")
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            file = folder / "1-a.json"
            file.write_text(json.dumps({"path": None, "text": "C4 D4", "time": written}))
            os.utime(file, (max(0.0, min(written, 4e9)),) * 2)
            journal.time.time = lambda now=now: now  # type: ignore[assignment]
            try:
                journal.set_aside(folder)
                found = journal.left_behind(folder)
                assert [what.text for _, what in found] == ["C4 D4"] and found[0][1].date
                journal.put_by(file)
                assert [what.text for _, what in journal.earlier_work(folder)] == ["C4 D4"]
                assert journal.left_behind(folder) == []
            except Exception as fault:
                figures.fault(fault, f"written at {written}, looked for at {now}")
            finally:
                journal.time.time = real  # type: ignore[assignment]
        figures.took("clocks", 0.0, 1.0)

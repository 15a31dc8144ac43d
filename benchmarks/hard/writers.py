"""Commands that write, ended by signals at any moment: the old file is whole, or the new one is."""

from __future__ import annotations

import random
import signal
import subprocess
import sys
import tempfile
import time
from functools import partial
from pathlib import Path

from .figures import Figures

_COMMAND = str(Path(sys.executable).with_name("chickadee"))
_SIGNALS = (signal.SIGTERM, signal.SIGINT, signal.SIGHUP, signal.SIGKILL)
_TUNE = "title: Ended\nsound: hammered string\n" + "C4 E4 G4 {Am} | " * 60
_WRITERS: tuple[tuple[str, list[str]], ...] = (
    *((f"out{suffix}", ["render", "{tune}", "-o", "{out}"])
      for suffix in (".mid", ".wav", ".flac", ".ogg", ".mp3", ".musicxml", ".mxl", ".csv")),
    ("out.pdf", ["handout", "{tune}", "--page", "worksheet", "--pupils", "100", "-o", "{out}"]),
    ("out.svg", ["handout", "{tune}", "--page", "tune", "-o", "{out}"]),
    ("out.png", ["handout", "{tune}", "--page", "tune", "-o", "{out}"]),
    ("out.chick", ["import", "{tune}", "-o", "{out}"]),
    ("out.chick", ["transpose", "{tune}", "--semitones", "2", "-o", "{out}"]),
    ("out.txt", ["send", "{tune}", "--to", "python-pairs", "-o", "{out}"]),
)  # fmt: skip


def end(first: int, count: int, seed: int, figures: Figures) -> None:
    """End so many commands; which writer and which signal go round, the moment is chosen by chance."""
    whole: dict[str, float] = {}
    for turn in range(first, count):
        chance = random.Random(f"{seed}-{turn}")
        name, words = _WRITERS[turn % len(_WRITERS)]
        figures.begin(turn, " ".join(words))
        try:
            with tempfile.TemporaryDirectory() as folder:
                _end_one(Path(folder), name, words, chance, whole)
        except Exception as fault:
            figures.fault(fault, " ".join(words))
        figures.took("commands", 0.0, 1.0)


def _heed(number: int) -> None:
    """Let a signal end this process, also where whoever runs the campaign ignores it, as nohup does."""
    if number != signal.SIGKILL:
        signal.signal(number, signal.SIG_DFL)


def _end_one(folder: Path, name: str, words: list[str], chance: random.Random, whole: dict[str, float]) -> None:
    tune = folder / "tune.chick"
    out = folder / name
    tune.write_text(_TUNE)
    command = [_COMMAND, *(word.format(tune=tune, out=out) for word in words), "--force"]
    key = " ".join(words) + name
    if key not in whole:  # how long it takes where nothing ends it
        start = time.monotonic()
        subprocess.run(command, check=True, capture_output=True)
        whole[key] = time.monotonic() - start
        out.unlink()
    out.write_bytes(b"old")
    number = chance.choice(_SIGNALS)
    process = subprocess.Popen(
        command, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, preexec_fn=partial(_heed, number)
    )
    time.sleep(chance.uniform(0.3, 1.05) * whole[key])
    process.send_signal(number)
    _, said = process.communicate(timeout=60)
    assert b"Traceback" not in said, said
    assert process.returncode in (0, 1, 128 + number, 130, -number), process.returncode
    replaced = out.read_bytes() != b"old"
    if process.returncode in (0, 1):
        assert replaced or process.returncode == 1, "it said that it had written, and had not"
    if replaced:
        assert len(out.read_bytes()) > 60, "a file that is not whole took the old one's place"
    hidden = [path.name for path in folder.iterdir() if path.name.startswith(".")]
    if number != signal.SIGKILL:
        assert not hidden, hidden
    elif hidden:
        subprocess.run([_COMMAND, "render", tune, "-o", folder / "next.mid"], check=True, capture_output=True)
        assert not [path.name for path in folder.iterdir() if path.name.startswith(".")], "what was left is not swept"

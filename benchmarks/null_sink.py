"""A sound server with nowhere to play to, whose output can be recorded: for measuring and testing playback."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["NullSink", "StallWatch", "disturb", "lags", "murmur"]

RATE = 48_000
_PATIENCE = 10  # seconds
_LOADED = (
    "module-null-sink sink_name=quiet rate=48000 format=float32le",
    "module-native-protocol-unix",
)


class NullSink:
    """One PulseAudio server of its own, in a runtime folder of its own."""

    available = bool(shutil.which("pulseaudio") and shutil.which("parec"))

    def __init__(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="chickadee-sink-"))
        self.environment = {"XDG_RUNTIME_DIR": str(self.folder), "HOME": str(self.folder)}
        self._server: subprocess.Popen[bytes] | None = None
        self._recorder: subprocess.Popen[bytes] | None = None
        self._recording = self.folder / "recording.raw"

    def start(self) -> None:
        """Start the server, and wait until it answers."""
        loads = [f"--load={module}" for module in _LOADED]
        self._server = self._run(["pulseaudio", "-n", "--daemonize=no", "--exit-idle-time=-1", *loads])
        until = time.monotonic() + _PATIENCE
        while time.monotonic() < until:
            answer = subprocess.run(["pactl", "info"], env=os.environ | self.environment, capture_output=True)
            if answer.returncode == 0:
                return
            time.sleep(0.1)
        raise TimeoutError("the sound server does not answer")

    def kill(self) -> None:
        """Kill the server."""
        if self._server is not None:
            self._server.kill()
            self._server.wait()
            self._server = None

    def pause(self, seconds: float) -> None:
        """Have the server stand still for so long."""
        assert self._server is not None
        self._server.send_signal(signal.SIGSTOP)
        time.sleep(seconds)
        self._server.send_signal(signal.SIGCONT)

    def record(self) -> None:
        """Begin to record what is played, and wait until the first samples are there."""
        command = ["parec", "-d", "quiet.monitor", "--format=float32le", f"--rate={RATE}", "--channels=2"]
        with self._recording.open("wb") as goal:
            self._recorder = self._run([*command, "--latency-msec=200"], goal)
        until = time.monotonic() + _PATIENCE
        while not self._recording.stat().st_size:
            if time.monotonic() > until:
                raise TimeoutError("the sound server gives nothing to record")
            time.sleep(0.02)

    def recorded(self) -> NDArray[np.float32]:
        """End the recording: its left side, shape (frames,)."""
        assert self._recorder is not None
        time.sleep(0.4)
        self._recorder.terminate()
        self._recorder.wait()
        return self.recorded_so_far()

    def recorded_so_far(self) -> NDArray[np.float32]:
        """The recording up to now, which goes on: its left side, shape (frames,)."""
        samples = np.fromfile(self._recording, np.float32)
        return samples[: len(samples) // 2 * 2 : 2]

    def load_microphone(self) -> None:
        """Have a microphone that hears what is played."""
        load = ("module-remap-source", "master=quiet.monitor", "source_name=ear")
        subprocess.run(
            ["pactl", "load-module", *load], env=os.environ | self.environment, check=True, capture_output=True
        )

    def play(self, samples: NDArray[np.float32]) -> None:
        """Begin to play samples of one channel."""
        path = self.folder / "played.raw"
        samples.astype(np.float32).tofile(path)
        self._run(
            ["paplay", "--raw", "-d", "quiet", "--format=float32le", f"--rate={RATE}", "--channels=1", str(path)]
        )

    def close(self) -> None:
        """End everything and take the folder away."""
        self.kill()
        shutil.rmtree(self.folder, ignore_errors=True)

    def _run(self, command: list[str], goal: object = subprocess.DEVNULL) -> subprocess.Popen[bytes]:
        environment = os.environ | self.environment
        return subprocess.Popen(
            command, env=environment, stdin=subprocess.DEVNULL, stdout=goal, stderr=subprocess.DEVNULL  # type: ignore[arg-type]
        )  # fmt: skip


def murmur(bars: int) -> str:
    """A voice next to inaudible whose every bar sounds what the sheet's last line says."""
    return f"\nvoice Murmur\n  sound: sine\n  (murmur) x{bars}\nphrase murmur\n  [1] rest=3 C4"


def disturb(desk: Any, turn: int) -> None:
    """Move a note of every bar, by the last letter of a sheet that ends with a murmur, and scroll the roll."""
    cursor = desk.editor.textCursor()
    cursor.movePosition(cursor.MoveOperation.End)
    cursor.deletePreviousChar()
    cursor.insertText("54"[turn % 2])
    bar = desk.timeline.horizontalScrollBar()
    bar.setValue((bar.value() + 37) % (bar.maximum() + 1))


class StallWatch:
    """A process that does nothing but sleep, and tells how long the machine let it oversleep at worst."""

    _CODE = (
        "import sys, time\nworst, then = 0.0, time.monotonic()\n"
        "import signal\nsignal.signal(signal.SIGTERM, lambda *_: (print(worst), sys.stdout.flush(), sys.exit()))\n"
        "while True:\n time.sleep(0.002)\n now = time.monotonic()\n worst, then = max(worst, now - then), now\n"
    )

    def __enter__(self) -> StallWatch:
        self._process = subprocess.Popen([sys.executable, "-c", self._CODE], stdout=subprocess.PIPE, text=True)
        return self

    def __exit__(self, *_: object) -> None:
        self._process.terminate()
        said, _ = self._process.communicate()
        self.worst = float(said or "inf")
        """Seconds."""


def lags(
    heard: NDArray[np.float32], score: NDArray[np.float32], onsets: list[int], reach: int = 6000
) -> NDArray[np.float64]:
    """How late each onset is in a recording, in milliseconds, against the same sound as it should be.

    ``onsets`` are frames of ``score``. Each is looked for within ``reach`` frames of where the score as a whole fits
    best, by the highest normalized correlation over a fifth of a second.
    """
    span = RATE // 5
    found = []
    place = int(_correlation(heard, score).argmax())
    for onset in onsets:
        wanted = score[onset : onset + span]
        first = max(0, onset + place - reach)
        around = heard[first : onset + place + span + reach].astype(np.float64)
        if len(around) < len(wanted) or len(wanted) < span:
            continue
        energy = np.cumsum(np.concatenate([[0.0], around**2]))
        count = len(around) - span + 1
        power = energy[span : span + count] - energy[:count]
        likeness = _correlation(around, wanted)[:count] / np.sqrt(np.maximum(power, 1e-9))
        found.append(1000 * (first + int(likeness.argmax()) - onset) / RATE)
    return np.array(found)


def _correlation(longer: NDArray[Any], shorter: NDArray[Any]) -> NDArray[np.float64]:
    """How alike one is to the other from each of its samples on, shape (len(longer),)."""
    size = 1 << (len(longer) + len(shorter)).bit_length()
    product = np.fft.irfft(np.fft.rfft(longer, size) * np.conj(np.fft.rfft(shorter, size)), size)
    return np.asarray(product[: len(longer)])

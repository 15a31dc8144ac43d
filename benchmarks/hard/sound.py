"""The sound server and the engine killed while a tune plays: it goes on, and is heard again."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Callable

from .figures import Figures

_MOST = 30.0  # seconds until sound is there again


def restart(first: int, count: int, seed: int, figures: Figures) -> None:
    """Kill the engine so many times, and the server as often."""
    from null_sink import NullSink

    if not NullSink.available:
        figures.notes.append("  PulseAudio is not installed: nothing tried")
        return
    sink = NullSink()
    sink.start()
    os.environ |= sink.environment
    from PyQt6.QtTest import QTest

    from chickadee.desk.app import application, destroy, furnish, shown_window

    app = application()
    window = shown_window()
    desk = furnish(window)
    player = desk.player

    def until(what: Callable[[], object]) -> float:
        start = time.monotonic()
        while not what():
            if time.monotonic() - start > _MOST:
                raise TimeoutError("sound did not come back")
            QTest.qWait(20)
        return time.monotonic() - start

    desk.document.text_document.setPlainText("tempo: 60\n" + "C4 " * 3600)
    desk.playback.play_all()
    slowest = {"engine": 0.0, "server": 0.0}
    for turn in range(2 * count):
        what = "engine" if turn % 2 else "server"
        figures.begin(turn, what)
        try:
            until(lambda: player.has_device and player.tick > 0)
            here = player.tick
            if what == "engine":
                os.kill(player._link.process_id, signal.SIGKILL)
                until(lambda: not player.has_device)
            else:
                sink.kill()
                until(lambda: not player.has_device)
                sink.start()
            slowest[what] = max(slowest[what], until(lambda: player.has_device))
            until(lambda here=here: player.playing and player.tick > here)
        except Exception as fault:
            figures.fault(fault, what)
        figures.took(f"restarts of the {what}", 0.0, 1.0)
    for what, seconds in slowest.items():
        figures.notes.append(f"  after the {what} was killed sound was back within {seconds:.1f} s")
    player.close()
    desk.recovery.close()
    destroy(window)
    del app
    sink.close()

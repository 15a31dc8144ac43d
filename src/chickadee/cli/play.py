"""``chickadee play``: a tune to the system's sound."""

from __future__ import annotations

import signal

import click

from .refusal import Refused
from .status import Bars, Speed, as_form, chosen_bars, music_status, opened

__all__ = ["play"]


@click.command()
@click.argument("file")
@click.option("--speed", type=Speed(), default="100%", show_default=True, help="From 25% to 150%.")
@click.option("--bars", type=Bars(), metavar="3-8", help="These bars alone.")
@as_form
def play(file: str, speed: float, bars: tuple[int, int] | None, form: str | None) -> int:
    """Play FILE to the system's sound. Ctrl+C stops it."""
    reading = opened(file, form=form)
    song = chosen_bars(file, reading.song, bars)
    from PyQt6.QtCore import QCoreApplication, QTimer

    from ..player import Player, Playing

    app = QCoreApplication.instance() or QCoreApplication([])
    player = Player()
    player.wait_until_ready()
    if not player.has_device:
        player.close()
        raise Refused(f"{file}: this system has no sound device to play on.")
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda *_: app.quit())
    heartbeat = QTimer()  # lets Python see Ctrl+C while Qt waits
    heartbeat.start(100)
    player.finished.connect(app.quit)
    player.play(Playing(song, speed=speed))
    app.exec()
    player.close()
    return music_status(file, reading)

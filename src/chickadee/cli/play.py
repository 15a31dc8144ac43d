"""``chickadee play``: a tune to the system's sound."""

from __future__ import annotations

import signal

import click

from ..faults import InputFault
from ..signals.emitter import Emitter, EmitterThread
from ..signals.outlets import MidiOutlet, OscOutlet, SystemPort, read_address
from .refusal import Refused
from .status import Bars, Speed, as_form, chosen_bars, music_status, opened_song

__all__ = ["play"]


@click.command()
@click.argument("file")
@click.option("--speed", type=Speed(), default="100%", show_default=True, help="From 25% to 150%.")
@click.option("--bars", type=Bars(), metavar="3-8", help="These bars alone.")
@click.option("--osc", metavar="HOST:PORT", help="Tell what sounds by Open Sound Control to this address.")
@click.option("--midi", metavar="PORT", help="Tell what sounds to this MIDI port.")
@as_form
def play(
    file: str, speed: float, bars: tuple[int, int] | None, osc: str | None, midi: str | None, form: str | None
) -> int:
    """Play FILE to the system's sound. Ctrl+C stops it."""
    reading = opened_song(file, form)
    emitters = _emitters(osc, midi)
    song = chosen_bars(file, reading.song, bars)
    from PyQt6.QtCore import QCoreApplication, QTimer

    from ..player import Player, Playing

    app = QCoreApplication.instance() or QCoreApplication([])
    player = Player()
    player.wait_until_ready()
    if not player.has_device and not emitters:  # with them it plays silently
        player.close()
        raise Refused(f"{file}: this system has no sound device to play on.")
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda *_: app.quit())
    heartbeat = QTimer()  # lets Python see Ctrl+C while Qt waits
    heartbeat.start(100)
    player.finished.connect(app.quit)
    thread = EmitterThread(lambda: player.heard, emitters)
    thread.start()
    player.play(Playing(song, speed=speed))
    app.exec()
    thread.stop()
    player.close()
    return music_status(file, reading)


def _emitters(osc: str | None, midi: str | None) -> list[Emitter]:
    """Those who tell what sounds, as it is asked for."""
    try:
        found = [Emitter(OscOutlet(*read_address(osc)))] if osc else []
        return [*found, Emitter(MidiOutlet(SystemPort(midi)))] if midi else found
    except InputFault as fault:
        raise Refused(str(fault)) from None

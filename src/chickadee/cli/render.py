"""``chickadee render``: a tune as a MIDI file, a score, a sound file or a page that plays."""

from __future__ import annotations

import re
import sys
from pathlib import Path

import click

from ..faults import InputFault
from ..files import printable
from ..formats.forms import WRITTEN
from ..formats.imported import Form
from ..formats.smf import crowded
from ..handout.request import Gaps, HandoutFault, read_gaps
from ..outgoing import write_song_file
from ..song import Song, at_speed, voice_excerpt
from ..sound.audio_file import BITS, RATES, AudioSettings, write_audio
from ..sound.render import DEFAULT_RATE
from ..web.files import write_page
from ..web.page import SHOWN
from .refusal import Refused
from .status import Bars, Speed, as_form, chosen_bars, goal_of, music_status, opened_song
from .terminal import say_line

__all__ = ["render"]


class _Seconds(click.ParamType[float]):
    """A time from 0 to 60 seconds."""

    name = "seconds"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> float:
        if not re.fullmatch(r"[0-9]{1,2}(\.[0-9]{1,9})?", str(value)) or float(str(value)) > 60:
            self.fail(f"{value} is not a time from 0 to 60 seconds, such as 1.5.", param, ctx)
        return float(str(value))


@click.command(help=f"Render FILE into OUT: {', '.join(list(WRITTEN)[:-1])} or {list(WRITTEN)[-1]}.")
@click.argument("file")
@click.option("-o", "--output", required=True, metavar="OUT", help="The file to write; its suffix names the format.")
@click.option(
    "--rate", default=DEFAULT_RATE, show_default=True, type=click.IntRange(*RATES), help="Samples a second."
)
@click.option("--bits", default="16", show_default=True, type=click.Choice(tuple(BITS)), help="Bits in a sample.")
@click.option("--voice", metavar="NAME", help="This voice alone.")
@click.option("--bars", type=Bars(), metavar="3-8", help="These bars alone.")
@click.option("--speed", type=Speed(), default="100%", show_default=True, help="From 25% to 150%.")
@click.option("--room", is_flag=True, help="Add a small room around the sound.")
@click.option("--fade", default="0", type=_Seconds(), metavar="SECONDS", help="Fade out at the end.")
@click.option("--loop", is_flag=True, help="Wrap what rings on after the end round to the start.")
@click.option(
    "--show",
    default="keyboard",
    metavar="NAMES",
    show_default=True,
    help=f"On a page: {', '.join(SHOWN)}, with commas between; or none.",
)
@click.option("--empty", metavar="RULE", help="On a page: the cells to fill in, as on a worksheet.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
@as_form
def render(
    file: str,
    output: str,
    rate: int,
    bits: str,
    voice: str | None,
    bars: tuple[int, int] | None,
    speed: float,
    room: bool,
    fade: float,
    loop: bool,
    show: str,
    empty: str | None,
    force: bool,
    form: str | None,
) -> int:
    path = Path(output)
    written = WRITTEN.get(path.suffix.lower())
    if written is None:
        raise Refused(f"{output}: the suffix names the format; it can be {', '.join(WRITTEN)}.")
    if fade and loop:
        raise Refused("--fade and --loop: a loop has no end that could fade; please leave one of them out.")
    reading = opened_song(file, form)
    goal_of(output, force)
    song = chosen_bars(file, _chosen_voice(file, reading.song, voice), bars)
    song = at_speed(song, speed)
    if written.is_page:
        write_page(song if song is not reading.song else reading, path, _shown(show), _gaps(empty))
    elif written.is_sound:
        _write_sound(path, song, AudioSettings(rate, bits, room, fade, loop))
    else:
        write_song_file(song, path)
    if written.reads_as is Form.MIDI and (said := crowded(song)):
        say_line(said, err=True)
    return music_status(file, reading)


def _shown(names: str) -> list[str]:
    found = [name.strip() for name in names.split(",") if name.strip() not in ("", "none")]
    for name in found:
        if name not in SHOWN:
            raise Refused(f"{name}: on a page there may be {', '.join(SHOWN)}, or none.")
    return found


def _gaps(rule: str | None) -> Gaps | None:
    try:
        return read_gaps(rule) if rule is not None else None
    except HandoutFault as fault:
        raise Refused(str(fault)) from None


def _chosen_voice(name: str, song: Song, voice: str | None) -> Song:
    try:
        return voice_excerpt(song, voice) if voice else song
    except InputFault as fault:
        raise Refused(f"{name}: {fault}.") from None


def _write_sound(path: Path, song: Song, settings: AudioSettings) -> None:
    def progress(done: float) -> bool:
        if sys.stderr.isatty():
            click.echo(f"\r{printable(path.name)}: {done:4.0%}", err=True, nl=done >= 1)
        return True

    write_audio(path, song, settings, progress)

"""``chickadee import``: a tune from elsewhere, as a sheet."""

from __future__ import annotations

import json
import re
from fractions import Fraction

import click

from ..files import write_text
from ..formats.arranging import Arranged, arranged
from ..formats.imported import AUTOMATIC
from ..song import Song
from .refusal import Refused
from .status import as_form, found_in, goal_of
from .terminal import say_line, say_text

__all__ = ["import_"]


class _Snap(click.ParamType["str | Fraction | None"]):
    """``auto``, ``none`` or a part of a beat."""

    name = "snap"

    def convert(
        self, value: object, param: click.Parameter | None, ctx: click.Context | None
    ) -> str | Fraction | None:
        text = str(value)
        if text == AUTOMATIC:
            return AUTOMATIC
        if text == "none":
            return None
        if not re.fullmatch(r"1/[1-9][0-9]?|1", text):
            self.fail(f"{text} is not auto, none or a part of a beat such as 1/4.", param, ctx)
        return Fraction(text)


class _Numbers(click.ParamType[tuple[int, ...]]):
    """``1,3``: voices, counted from 1."""

    name = "voices"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> tuple[int, ...]:
        if not re.fullmatch(r"[0-9]{1,4}(,[0-9]{1,4})*", str(value)):
            self.fail(f"{value} is not a list of voices such as 1,3.", param, ctx)
        return tuple(int(number) for number in str(value).split(","))


@click.command("import")
@click.argument("file")
@click.option("-o", "--output", metavar="OUT.chick", help="The file to write, instead of standard output.")
@click.option("--snap", type=_Snap(), default=AUTOMATIC, show_default=True, metavar="auto|none|1/4",
              help="The parts of a beat that times are moved to.")  # fmt: skip
@click.option("--no-phrases", is_flag=True, help="Write every bar where it stands.")
@click.option("--voices", type=_Numbers(), metavar="1,3", help="These voices alone.")
@click.option("--json", "as_json", is_flag=True, help="One object: the sheet, and what became of the file.")
@click.option("--force", is_flag=True, help="Replace a file that is there.")
@as_form
def import_(
    file: str,
    output: str | None,
    snap: str | Fraction | None,
    no_phrases: bool,
    voices: tuple[int, ...] | None,
    as_json: bool,
    force: bool,
    form: str | None,
) -> int:
    """Write FILE, whatever it is, as a sheet."""
    found = found_in(file, form)
    count = len(found.song.voices)
    for voice in voices or ():
        if not 1 <= voice <= count:
            raise Refused(f"{file}: there is no voice {voice}; it has {count}.")
    path = goal_of(output, force)
    made = arranged(found, snap, not no_phrases, voices)
    if as_json:
        click.echo(json.dumps(_summary(made, found.song), ensure_ascii=False, indent=2))
    for sentence in () if as_json else made.left_out:
        say_line(f"{file}: {sentence}", err=True)
    if path:
        write_text(path, made.text)
    elif not as_json:
        say_text(made.text)
    return 0


def _summary(made: Arranged, whole: Song) -> dict[str, object]:
    numbers = [[whole.notes[place].number for place in mine.tolist()] for mine in whole.by_voice]
    return {
        "sheet": made.text,
        "moved_ms_mean": round(made.moved_mean, 3),
        "moved_ms_worst": round(made.moved_worst, 3),
        "voices": [
            {"name": voice.name, "sound": voice.sound, "notes": len(mine), "lowest": min(mine), "highest": max(mine)}
            for voice, mine in zip(whole.voices, numbers, strict=True)
            if mine
        ],
        "left_out": list(made.left_out),
    }

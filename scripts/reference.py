"""Write the tables of docs/sheet.md from the code's registries; ``--check`` only says whether they are up to date."""

from __future__ import annotations

import re
import sys
from collections.abc import Iterable
from pathlib import Path

from chickadee.checks import CHECKS, LIMITS
from chickadee.sheet import RULES
from chickadee.sheet.direction import DIRECTIONS
from chickadee.sheet.properties import PROPERTIES
from chickadee.song.drums import DRUMS
from chickadee.song.sounds import SOUNDS
from chickadee.theory import CHORD_KINDS, SCALES, read_chord, read_key

PAGE = Path(__file__).parent.parent / "docs" / "sheet.md"


def table(heading: str, rows: Iterable[Iterable[str]]) -> str:
    columns = heading.split(", ")
    lines = [columns, ["---"] * len(columns), *rows]
    return "\n".join(f"| {' | '.join(line)} |" for line in lines)


def tables() -> dict[str, str]:
    return {
        "directions": table(
            "written, means, holds for",
            ((f"`[{kind.example}]`", kind.summary, "the song" if kind.song_wide else "the voice") for kind in DIRECTIONS.values()),
        ),
        "properties": table(
            "property, of, means, such as",
            ((kind.name, ", ".join(kind.places), kind.summary, f"`{kind.example}`") for kind in PROPERTIES.values()),
        ),
        "scales": table(
            "scale, semitones above the tonic, on C",
            ((scale.name, " ".join(map(str, scale.semitones)), " ".join(name.pretty for name in read_key(f"C {scale.name}").names))
             for scale in SCALES.values()),
        ),
        "chords": table(
            "written, kind, on C", ((f"`{{C{kind.symbol}}}`", kind.name, _chord(kind.symbol)) for kind in CHORD_KINDS.values())
        ),
        "sounds": table(
            "sound, is, General MIDI program",
            ((sound.name, sound.description, str(sound.program)) for sound in SOUNDS.values()),
        ),
        "drums": table("drum, percussion key", ((f"`{name}`", str(number)) for name, number in DRUMS.items())),
        "findings": table(
            "code, severity, says", ((f"`{rule.code}`", rule.severity.value, rule.summary) for rule in RULES.values())
        ),
        "checks": table(
            "code, severity, says, because, at first, goes by",
            ((f"`{check.rule.code}`", check.rule.severity.value, check.rule.summary, check.why, "on" if check.usual else "off",
              ", ".join(f"`{name}`" for name in check.limits)) for check in CHECKS),
        ),
        "limits": table(
            "limit, is, at first, such as",
            ((f"`{limit.name}`", limit.label, limit.usual, f"`{limit.example}`") for limit in LIMITS.values()),
        ),
    }  # fmt: skip


def _chord(symbol: str) -> str:
    chord = read_chord(f"C{symbol}")
    assert chord is not None
    return " ".join(pitch.name.pretty for pitch in chord.pitches(4))


def written(page: str) -> str:
    for name, rows in tables().items():
        page = re.sub(
            rf"(<!-- begin {name} -->\n)(?:.*?\n)?(<!-- end {name} -->)",
            lambda found, rows=rows: f"{found[1]}{rows}\n{found[2]}", page, flags=re.DOTALL,
        )  # fmt: skip
    return page


if __name__ == "__main__":
    before = PAGE.read_text("utf-8")
    after = written(before)
    if "--check" in sys.argv:
        if after != before:
            sys.exit("docs/sheet.md: its tables are not those of the code; run scripts/reference.py")
    else:
        PAGE.write_text(after, "utf-8")

"""Write the tables of docs/sheet.md, docs/targets.md and docs/ideas.md from the code; ``--check`` only says whether they are so."""

from __future__ import annotations

import ast
import inspect
import re
import sys
from collections.abc import Iterable
from dataclasses import MISSING, fields
from itertools import pairwise
from pathlib import Path

from chickadee.boards import fields as board_fields
from chickadee.boards import target
from chickadee.boards.catalogue import shipped
from chickadee.checks import CHECKS, LIMITS
from chickadee.ideas import recipe
from chickadee.programs.languages import LANGUAGES
from chickadee.programs.vocabulary import VERBS
from chickadee.programs.writing import dialect
from chickadee.sheet import RULES
from chickadee.sheet.direction import DIRECTIONS
from chickadee.sheet.properties import PROPERTIES
from chickadee.song.drums import DRUMS
from chickadee.song.sounds import SOUNDS
from chickadee.theory import CHORD_KINDS, SCALES, read_chord, read_key

DOCS = Path(__file__).parent.parent / "docs"
PAGES = (DOCS / "sheet.md", DOCS / "targets.md", DOCS / "ideas.md", DOCS / "programs.md")


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
        "target keys": table("key, is, at first", _keys(target.Target)),
        "list keys": table("key, is, at first", _keys(target.ListLayout)),
        "limit keys": table("key, is, at first", _keys(target.Limits)),
        "program languages": table(
            "language, files, parsed by",
            ((each.title, " ".join(f"`{suffix}`" for suffix in each.suffixes), each.parser) for each in LANGUAGES),
        ),
        "program verbs": table(
            "a call, words that are any part of its name", ((verb.value, " ".join(words)) for verb, words in VERBS.items())
        ),
        "fields": table("field, stands for", ((f"`{{{name}}}`", what) for name, what in board_fields.FIELDS.items())),
        "dialect keys": table("key, is, at first", _keys(dialect.Dialect)),
        "dialect fields": table("field, stands for", ((f"`{{{name}}}`", what) for name, what in dialect.FIELDS.items())),
        "recipe keys": table("key, is, at first", _keys(recipe.Recipe)),
        "recipes": table("recipe, key, meter, range, form, second voice", _recipes()),
        "programs": table("target, is", _targets(board=False)),
        "boards": table("target, is, pitches, tones, longest, cells", _targets(board=True)),
        "board files": "\n".join(
            f"`{name}.toml`:\n\n" + "".join(f"    {line}\n" if line else "\n" for line in board.text.strip().split("\n"))
            for name, board in shipped().items() if "-" not in name),
    }  # fmt: skip


def _keys(kind: type) -> Iterable[list[str]]:
    """The keys of a table by the attributes of a dataclass, with what the code says of each."""
    source = ast.parse(inspect.getsource(kind)).body[0]
    assert isinstance(source, ast.ClassDef)
    said = {
        node.target.id: after.value.value
        for node, after in pairwise(source.body)
        if isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name)
        and isinstance(after, ast.Expr) and isinstance(after.value, ast.Constant)
    }  # fmt: skip
    known = {"id", "text", "lists"}
    for each in fields(kind):
        if each.name not in known and each.name in said:
            usual = "needed" if each.default is MISSING and each.default_factory is MISSING else repr(each.default)
            yield [f"`{each.name}`", " ".join(str(said[each.name]).split()),
                   "" if each.default is MISSING and usual != "needed" else f"`{usual}`" if usual != "needed" else usual]  # fmt: skip


def _targets(board: bool) -> Iterable[list[str]]:
    for name, found in shipped().items():
        limits = found.limits
        if found.is_board is board:
            row = [f"`{name}`", found.title]
            yield [*row, f"{limits.lowest} to {limits.highest}", str(limits.tones), f"{limits.longest or 'any'} ticks",
                   str(limits.cells or "any")] if board else row  # fmt: skip


def _recipes() -> Iterable[list[str]]:
    for name, text in recipe.shipped().items():
        found = recipe.read_recipe(text)
        yield [
            f"`{name}`",
            found.key,
            found.meter,
            f"{found.lowest} to {found.highest}",
            found.form,
            found.accompaniment,
        ]


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
    for page in PAGES:
        before = page.read_text("utf-8")
        after = written(before)
        if "--check" in sys.argv:
            if after != before:
                sys.exit(f"docs/{page.name}: its tables are not those of the code; run scripts/reference.py")
        else:
            page.write_text(after, "utf-8")

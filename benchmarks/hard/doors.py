"""What a class hands in: programs' texts, lists, tables, targets, recipes, names of files, and texts that are shown."""

from __future__ import annotations

import random
import tempfile
from html.parser import HTMLParser
from pathlib import Path

import chickadee
from chickadee.attempts import attempt_of, judging, table_of
from chickadee.boards.catalogue import shipped, target_called
from chickadee.boards.fitting import fitted
from chickadee.boards.packing import packed
from chickadee.boards.target import TargetFault, read_target
from chickadee.boards.unpacking import UnpackFault, simulated_boards
from chickadee.comparison import Model
from chickadee.csv_text import written
from chickadee.desk.plain_text import hint_of
from chickadee.files import FileFault, printable
from chickadee.handed_in import handed_in
from chickadee.ideas import recipe as recipes
from chickadee.ideas.recipe import RecipeFault, read_recipe
from chickadee.ideas.tune import tunes
from chickadee.sheet import read

from .figures import Figures
from .incoming import SONGS, try_bringing_in
from .trials import Trial, run

_PROGRAM = (
    "notes", "times", "melody", "play", "tone", "sleep", "for", "range", "int", "const", "=", "+=", "(", ")", "[", "]", "{", "}",
    ",", ";", ":", "=>", "60", "62", "440", "1/4", "0.5", "-1", "0", "None", "'C4'", '"F#4"', "'rest'", "C4", "Bb3", "fis4", "C4=2",
    "C4:2", "# a word", "// a word", "/* a", "*/", "\\", '\\"', "'", '"', "\n", "\n    ", "\t", "...", "#define NOTE_C4 262",
    "1e9", "9" * 60, "0x3c", "def f():", "append(60)", "+", "*", "R", "C4+E4", "(60, 1)", '{"note": 60, "beats": 1}', "½", "♯", "٣",
)  # fmt: skip
_TABLE = (
    "name", "note", "number", "beats", "length", "seconds", "start", "voice", "word", "hertz", "bar", "beat", ",", ",", ";", "\t", "|",
    "\n", "\n", "C4", "60", "1", "0.5", "0,5", "1/3", "rest", "", "=1+1", "'=1", "440", "-1", "1e99", '"', "a b", "♭", "<b>",
)  # fmt: skip
_TOML = (
    "inf", "nan", "-1", "9" * 400, "9" * 5000, '"{number}"', '"{hertz:08.2f}"', '"{name:05d}"', '"{x!x}"', '"{"', "[]", "{}", "true",
    "\n[limits]\n", "\n[[list]]\n", "a.b = 1\n", "=", '"', "'''", "\n", "shortest", "wait", "lowest", "entry", "0.0001", "1e300", "\x7f",
)  # fmt: skip
_SHOWN = (
    "<img src='/dev/zero'>", "<b>", "</b>", "&amp;", "&", "<", ">", "<script>", "\x1b[2J", "\n", "\r", "\t", "\u202e", "\0", "a", "Gull",
    "=1+1", "@", "-2", "'", '"', ",", "<a href='x'>", "&lt;", "\ud800", "\x9b", "<!--", "]]>", "%s", "{0}",
)  # fmt: skip


def _soup(chance: random.Random, signs: tuple[str, ...], between: str, most: float) -> str:
    return between.join(chance.choice(signs) for _ in range(int(2 ** chance.uniform(0, most))))


def _changed(chance: random.Random, text: str, pieces: tuple[str, ...]) -> str:
    """A text with some of it gone, doubled, or other pieces in its place."""
    for _ in range(chance.randint(1, 6)):
        at = chance.randrange(len(text) + 1)
        to = min(len(text), at + chance.choice((0, 1, 3, 12)))
        piece = chance.choice((chance.choice(pieces), text[at:to] * 2, ""))
        text = text[:at] + piece + text[to:]
    return text


def _try_target(text: str, song: chickadee.song.Song) -> None:
    try:
        target = read_target(text, "own")
    except TargetFault as fault:
        _is_a_sentence(str(fault), 1500)
        return
    fit = fitted(song, target)
    texts = [packed(fit, board) for board in fit.boards]
    try:
        simulated_boards(texts, target)
    except UnpackFault as fault:
        _is_a_sentence(str(fault), 500)


def _try_recipe(text: str) -> None:
    try:
        tunes(read_recipe(text), 1, 1)
    except RecipeFault as fault:
        _is_a_sentence(str(fault), 1500)


def _try_name(name: str, data: bytes, model: Model) -> None:
    """Compare a file of this name; its judgement is one line and one row."""
    with tempfile.TemporaryDirectory() as folder:
        try:
            Path(folder, name.replace("/", "-") or "x").write_bytes(data)
        except (OSError, ValueError):
            return  # no file can have this name
        try:
            sources = handed_in([folder]).sources
        except FileFault as fault:
            _is_a_sentence(str(fault), 700)
            return
        judged = [attempt_of(sources[index], result) for index, result in judging(model, sources).results()]
        for each in judged:
            _is_a_sentence(f"{printable(each.source.name)}: {printable(each.comparison.sentence)}", 2000)
        assert table_of(model, judged)


def _try_shown(text: str) -> None:
    """Show a text in a tooltip, a line and a cell."""
    hint = hint_of(text)
    if hint != text and not hint.endswith("…"):
        found = _Words()
        found.feed(hint)
        assert set(found.tags) <= {"span"}, hint
    _is_a_sentence(printable(text), 20_000)
    assert not written([[text]]).startswith(tuple("=+@"))


class _Words(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.tags: list[str] = []

    def handle_starttag(self, tag: str, attrs: object) -> None:
        self.tags.append(tag)


def _is_a_sentence(text: str, most: int) -> None:
    assert text.isprintable() and len(text) <= most, text


def fuzz(first: int, count: int, seed: int, figures: Figures) -> None:
    """Try so many things, of each kind as many."""
    texts = [path.read_text("utf-8") for path in sorted(SONGS.glob("*.chick"))]
    songs = [read(text).song for text in (*texts, "C4 rest {C} D4=1/3", "", "kick snare")]
    programs = [
        packed(fit, fit.boards[0])
        for name in shipped()
        for fit in [fitted(songs[0], target_called(name))]
        if fit.boards
    ]
    own_recipes = list(recipes.shipped().values())
    model = Model(read("C4 D4 E4 F4 | G4=2 E4=2").song)

    def make(chance: random.Random, index: int) -> Trial:
        kind = index % 7
        if kind == 0:
            case = _soup(chance, _PROGRAM, chance.choice((" ", "")), 7)
            return Trial("programs", case, lambda: try_bringing_in(case.encode("utf-8", "surrogatepass")))
        if kind == 1:
            case = _changed(chance, chance.choice(programs), _PROGRAM)
            return Trial("lists", case, lambda: try_bringing_in(case.encode("utf-8", "surrogatepass")))
        if kind == 2:
            case = _soup(chance, _TABLE, "", 8)
            return Trial("tables", case, lambda: try_bringing_in(case.encode("utf-8", "surrogatepass")))
        if kind == 3:
            case = _changed(chance, chance.choice(list(shipped().values())).text, _TOML)
            return Trial("targets", case, lambda: _try_target(case, chance.choice(songs)))
        if kind == 4:
            case = _changed(chance, chance.choice(own_recipes), _TOML)
            return Trial("recipes", case, lambda: _try_recipe(case))
        case = _soup(chance, _SHOWN, "", 5)
        if kind == 5:
            data = _soup(chance, _PROGRAM, " ", 6).encode("utf-8", "surrogatepass")
            suffix = chance.choice((".txt", ".mid", ".chick", ".csv", ".mxl", ""))
            return Trial("names of files", case, lambda: _try_name(case + suffix, data, model))
        return Trial("texts shown", case, lambda: _try_shown(case))

    run(make, first, count, seed, figures)

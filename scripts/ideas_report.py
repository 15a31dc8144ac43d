"""``make ideas-report``: what a thousand practice tunes of each recipe are like, beside the demo tunes."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from importlib.resources import files
from statistics import mean

from chickadee.checks import checked_reading
from chickadee.ideas.judging import judge
from chickadee.ideas.recipe import read_recipe, shipped
from chickadee.ideas.tune import tunes
from chickadee.song import Song

COLUMNS = ("tunes", "found", "notes", "span", "step %", "leap %", "back %", "triad %", "top", "far", "openings")


def measured(song: Song, longest_leap: int) -> list[float]:
    """Of the first voice: notes, span in steps, moves by step, leaps, leaps answered (%), notes of the tonic triad on
    first beats (%), tops, moves too far."""
    notes = [song.notes[place] for place in song.melody(0)]
    numbers = [note.number for note in notes]
    ladder = [number for number in range(min(numbers), max(numbers) + 1) if song.key.contains(number)]
    places = [sum(step < number for step in ladder) for number in numbers]
    found = judge(places, longest_leap)
    firsts = [note for note in notes if note.start in {song.grid.start(song.grid.number_at(note.start))}]
    names = song.key.names
    triad = {names[place % len(names)].pitch_class for place in (0, 2, 4)}
    in_triad = mean(note.number % 12 in triad for note in firsts) if firsts else 0
    moves = max(1, found.moves)
    return [
        len(notes),
        found.span,
        100 * found.by_step / moves,
        100 * found.leaps / moves,
        100 * found.answered / found.leaps if found.leaps else 100,
        100 * in_triad,
        found.tops,
        found.too_far,
    ]


def row(name: str, texts: Sequence[str], longest_leap: int) -> str:
    """One line of the report: means over tunes."""
    readings = [checked_reading(text) for text in texts]
    songs = [reading.song for reading in readings]
    columns = [mean(values) for values in zip(*(measured(song, longest_leap) for song in songs), strict=True)]
    openings = {
        tuple((song.notes[place].number, song.notes[place].length) for place in song.melody(0)[:6]) for song in songs
    }
    faulty = sum(bool(reading.findings) for reading in readings)
    cells = [f"{len(texts)}", f"{faulty}", *(f"{value:.1f}" for value in columns), f"{len(openings)}"]
    return " ".join([f"{name:16}", *(f"{cell:>8}" for cell in cells)])


def of_recipe(given: tuple[str, int]) -> str:
    """The line of one recipe."""
    name, count = given
    recipe = read_recipe(shipped()[name])
    return row(name, tunes(recipe, 1, count), recipe.longest_leap)


def main() -> None:
    """Print the report."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=1000)
    count = parser.parse_args().count
    print(" ".join([f"{'':16}", *(f"{column:>8}" for column in COLUMNS)]))
    with ProcessPoolExecutor() as pool:
        for line in pool.map(of_recipe, [(name, count) for name in shipped()]):
            print(line, flush=True)
    demo = [
        each.read_text("utf-8") for each in (files("chickadee") / "songs").iterdir() if each.name.endswith(".chick")
    ]
    print(row("demo tunes", demo, 7))


if __name__ == "__main__":
    main()

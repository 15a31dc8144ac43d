"""The forms in which classes hand in tunes: each writes a tune of (MIDI number or None for a rest, beats) as pupils do."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from fractions import Fraction

from chickadee.theory import frequency, read_key

Tune = Sequence[tuple[int | None, Fraction]]

_FRENCH = {
    Fraction(1): "noire",
    Fraction(2): "blanche",
    Fraction(1, 2): "croche",
    Fraction(4): "ronde",
    Fraction(3): "blanche pointée",
    Fraction(3, 2): "noire pointée",
}
_GERMAN = {
    Fraction(1): "Viertel",
    Fraction(2): "Halbe",
    Fraction(1, 2): "Achtel",
    Fraction(4): "Ganze",
    Fraction(3): "punktierte Halbe",
    Fraction(3, 2): "punktierte Viertel",
}
_ENGLISH = {
    Fraction(1): "quarter",
    Fraction(2): "half",
    Fraction(1, 2): "eighth",
    Fraction(4): "whole",
    Fraction(3): "dotted half",
    Fraction(3, 2): "dotted quarter",
}
_SUNG = {"C": "do", "D": "re", "E": "mi", "F": "fa", "G": "sol", "A": "la", "B": "si"}


def name(number: int | None, rest: str = "rest") -> str:
    return rest if number is None else read_key("C major").spell(number).text


def _h(number: int | None) -> str:
    text = name(number, "Pause")
    return (
        {"B": "H", "Bb": "B"}.get(text[:-1], text[:-1].replace("#", "is")) + text[-1] if number is not None else text
    )


def _do(number: int | None) -> str:
    text = name(number, "-")
    return _SUNG[text[0]] + text[1:] if number is not None else text


def decimal(beats: Fraction, comma: str = ".") -> str:
    return f"{float(beats):g}".replace(".", comma)


def hertz(number: int | None, digits: int = 2) -> str:
    return "0" if number is None else f"{frequency(number):.{digits}f}"


def part(beats: Fraction) -> int:
    """The note value as programs for small boards have it: 4 is a quarter, -4 a dotted one."""
    whole = {
        Fraction(4): 1,
        Fraction(2): 2,
        Fraction(1): 4,
        Fraction(1, 2): 8,
        Fraction(1, 4): 16,
        Fraction(3): -2,
        Fraction(3, 2): -4,
    }
    return whole[beats]


def rows(
    tune: Tune, line: Callable[[int | None, Fraction], str], head: str = "", foot: str = "", mark: str = "\n"
) -> str:
    return head + mark.join(line(number, beats) for number, beats in tune) + foot


def lists(tune: Tune, pitch: Callable[[int | None], str], length: Callable[[Fraction], str], form: str) -> str:
    return form.format(
        p=", ".join(pitch(number) for number, _ in tune), d=", ".join(length(beats) for _, beats in tune)
    )


def quoted(number: int | None) -> str:
    return f'"{name(number)}"'


def midi(rest: str) -> Callable[[int | None], str]:
    return lambda number: rest if number is None else str(number)


FORMS: dict[str, tuple[str, Callable[[Tune], str]]] = {
    # bare text
    "names with =": (".txt", lambda t: rows(t, lambda n, b: f"{name(n)}={decimal(b)}", mark=" ")),
    "names with : and commas": (".txt", lambda t: rows(t, lambda n, b: f"{name(n)}:{decimal(b)}", mark=", ")),
    "names with * lengths": (".txt", lambda t: rows(t, lambda n, b: f"{name(n, '-')}*{decimal(b)}", mark=" ")),
    "small names": (".txt", lambda t: rows(t, lambda n, b: f"{name(n, 'r').lower()}={decimal(b, ',')}", mark="\n")),
    "a note a line": (".txt", lambda t: rows(t, lambda n, b: f"{name(n)} {decimal(b)}")),
    "a note a line, commas": (".txt", lambda t: rows(t, lambda n, b: f"{name(n, 'R')}, {decimal(b)}")),
    "a note a line, decimal commas": (".txt", lambda t: rows(t, lambda n, b: f"{name(n, 'R')} {decimal(b, ',')}")),
    "note values in words": (".txt", lambda t: rows(t, lambda n, b: f"{name(n)} {_ENGLISH[b]}")),
    "numbers and lengths in two lines": (".txt", lambda t: " ".join(str(n or 0) for n, _ in t) + "\n" + " ".join(decimal(b) for _, b in t)),
    "hertz and milliseconds": (".txt", lambda t: rows(t, lambda n, b: f"{hertz(n)} {int(b * 500)}")),
    "labels": (".txt", lambda t: lists(t, name, decimal, "Notes: {p}\nBeats: {d}\n")),
    "labels over lines": (".txt", lambda t: lists(t, name, decimal, "notes: {p}\nlengths: {d}\n").replace(", ", ",\n  ", 4)),
    "with comments": (".txt", lambda t: rows(t, lambda n, b: f"{name(n)} {decimal(b)}  // beat", head="# our tune\n")),
    "halves as signs": (".txt", lambda t: rows(t, lambda n, b: f"{name(n)}\t{decimal(b).replace('0.5', '½').replace('1.5', '1½')}")),
    "do re mi": (".txt", lambda t: rows(t, lambda n, b: f"{_do(n)} {decimal(b)}")),
    # programs
    "parallel lists of names": (".py", lambda t: lists(t, quoted, decimal, "notes = [{p}]\nbeats = [{d}]\n")),
    "parallel lists, 0 rests": (".py", lambda t: lists(t, midi("0"), decimal, "pitches = [{p}]\ndurations = [{d}]\n")),
    "parallel lists, -1 rests": (".py", lambda t: lists(t, midi("-1"), decimal, "a = [{p}]\nb = [{d}]\n")),
    "parallel lists, None rests": (".py", lambda t: lists(t, midi("None"), decimal, "melody = [{p}]\nrhythm = [{d}]\n")),
    "parallel lists of hertz": (".py", lambda t: lists(t, hertz, lambda b: decimal(b / 2), "freqs = [{p}]\ntimes = [{d}]\n")),
    "lists with loop": (".py", lambda t: lists(t, midi("0"), decimal, "import time\nnotes = [{p}]\nbeats = [{d}]\nfor n, b in zip(notes, beats):\n    play(n, b)\n    time.sleep(b)\n")),
    "pairs of names": (".py", lambda t: "tune = [" + rows(t, lambda n, b: f"({quoted(n)}, {decimal(b)})", mark=", ") + "]\n"),
    "pairs of numbers": (".py", lambda t: "tune = [\n" + rows(t, lambda n, b: f"    [{n or 0}, {decimal(b)}]", mark=",\n") + ",\n]\n"),
    "pairs, length first": (".py", lambda t: "tune = [" + rows(t, lambda n, b: f"({decimal(b)}, {quoted(n)})", mark=", ") + "]\n"),
    "pairs with a constant": (".py", lambda t: "q = 1\ntune = [" + rows(t, lambda n, b: f"({quoted(n)}, {b} * q)", mark=", ") + "]\n"),
    "sums of numbers": (".py", lambda t: "C = 60\ntune = [" + rows(t, lambda n, b: f"({'None' if n is None else f'C{n - 60:+}'}, {decimal(b)})", mark=", ") + "]\n"),
    "appended": (".py", lambda t: rows(t, lambda n, b: f"tune.append(({quoted(n)}, {decimal(b)}))", head="tune = []\n")),
    "two parts joined": (".py", lambda t: "one = [" + rows(t[:4], lambda n, b: f"({n or 0}, {decimal(b)})", mark=", ") + "]\ntwo = [" + rows(t[4:], lambda n, b: f"({n or 0}, {decimal(b)})", mark=", ") + "]\ntune = one + two\n"),
    "records": (".py", lambda t: "song = [" + rows(t, lambda n, b: f"{{'pitch': {n if n else 'None'}, 'beats': {decimal(b)}}}", mark=", ") + "]\n"),
    "calls in a list": (".py", lambda t: "song = [" + rows(t, lambda n, b: f"Note({quoted(n)}, {decimal(b)})", mark=", ") + "]\n"),
    "keyword calls": (".py", lambda t: "song = [" + rows(t, lambda n, b: f"Note(pitch={quoted(n)}, length={decimal(b)})", mark=", ") + "]\n"),
    "calls in turn": (".py", lambda t: rows(t, lambda n, b: f"play({quoted(n)}, {decimal(b)})" if n else f"rest({decimal(b)})")),
    "a text of pairs": (".py", lambda t: 'tune = "' + rows(t, lambda n, b: f"{name(n)}:{decimal(b)}", mark=" ") + '"\n'),
    "a text of names": (".py", lambda t: 'notes = "' + " ".join(name(n) for n, _ in t) + '".split()\nbeats = [' + ", ".join(decimal(b) for _, b in t) + "]\n"),
    "verse and chorus": (".py", lambda t: lists(t[:5], midi("0"), decimal, "verse = [{p}]\nverse_beats = [{d}]\n") + lists(t[5:], midi("0"), decimal, "chorus = [{p}]\nchorus_beats = [{d}]\n")),
    "javascript objects": (".js", lambda t: "const tune = [\n" + rows(t, lambda n, b: f"  {{ note: {quoted(n)}, length: {decimal(b)} }}", mark=",\n") + "\n];\n"),
    "javascript lists": (".js", lambda t: lists(t, midi("null"), decimal, "let notes = [{p}];\nlet lengths = [{d}]; // beats\n")),
    "json": (".json", lambda t: json.dumps({"title": "Quay", "tempo": 90, "notes": [{"note": name(n) if n else None, "beats": float(b)} for n, b in t]})),
    "json lists": (".json", lambda t: json.dumps({"pitches": [n or 0 for n, _ in t], "durations": [float(b) for _, b in t]})),
    "c arrays": (".c", lambda t: lists(t, midi("0"), decimal, "int notes[] = {{{p}}};\nfloat beats[] = {{{d}}};\n")),
    "c constants": (".ino", lambda t: "".join(f"#define NOTE_{each.replace('#', 'S')} {round(frequency(n))}\n" for n, each in sorted({(n, name(n)) for n, _ in t if n})) + lists(t, lambda n: "0" if n is None else f"NOTE_{name(n).replace('#', 'S')}", lambda b: str(part(b)), "int melody[] = {{{p}}};\nint durations[] = {{{d}}};\nvoid setup() {{\n  for (int i = 0; i < sizeof(melody) / sizeof(int); i++) {{\n    int ms = 2000 / durations[i];\n    if (ms < 0) ms = ms * -3 / 2;\n    tone(8, melody[i], ms);\n  }}\n}}\n")),
    "c pairs": (".c", lambda t: "double tune[][2] = {" + rows(t, lambda n, b: f"{{{n or 0}, {decimal(b)}}}", mark=", ") + "};\n"),
    "java": (".java", lambda t: "class Tune {\n  static int[] notes = {" + ", ".join(str(n or -1) for n, _ in t) + "};\n  static double[] beats = {" + ", ".join(decimal(b) for _, b in t) + "};\n}\n"),
    # tables
    "csv": (".csv", lambda t: rows(t, lambda n, b: f"{name(n)},{decimal(b)}", head="note,beats\n")),
    "csv with numbered rows": (".csv", lambda t: "No.,Pitch,Duration\n" + "\n".join(f"{i},{n or ''},{decimal(b)}" for i, (n, b) in enumerate(t, 1))),
    "csv without headings": (".csv", lambda t: rows(t, lambda n, b: f"{name(n)};{decimal(b, ',')}")),
    "csv with starts and ends": (".csv", lambda t: "start;end;midi\n" + "\n".join(f"{decimal(sum((b for _, b in t[:i]), Fraction(0)))};{decimal(sum((b for _, b in t[: i + 1]), Fraction(0)))};{n or ''}" for i, (n, _) in enumerate(t))),
    "german table in H": (".csv", lambda t: rows(t, lambda n, b: f"{_h(n)};{decimal(b, ',')}", head="Ton;Länge (Schläge)\n")),
    "german table in words": (".csv", lambda t: rows(t, lambda n, b: f"{name(n, 'Pause')};{_GERMAN[b]}", head="Note;Dauer\n")),
    "german table in seconds": (".csv", lambda t: rows(t, lambda n, b: f"{hertz(n)};{decimal(b / 2, ',')}", head="Frequenz;Sekunden\n").replace(".", ",")),
    "french table": (".csv", lambda t: rows(t, lambda n, b: f"{name(n, 'silence')};{_FRENCH[b]}", head="hauteur;durée\n")),
    "spanish table": (".tsv", lambda t: rows(t, lambda n, b: f"{name(n, 'silencio')}\t{decimal(b, ',')}", head="nota\tduración\n")),
    "italian table": (".csv", lambda t: rows(t, lambda n, b: f"{_do(n)};{decimal(b, ',')}", head="altezza;durata\n")),
    "dutch table": (".csv", lambda t: rows(t, lambda n, b: f"{name(n, 'rust')};{decimal(b, ',')}", head="toon;duur (tellen)\n")),
    "polish table": (".csv", lambda t: rows(t, lambda n, b: f"{name(n, 'pauza')};{decimal(b, ',')}", head="dźwięk;długość\n")),
    "swedish table": (".csv", lambda t: rows(t, lambda n, b: f"{name(n, 'paus')};{decimal(b, ',')}", head="ton;längd\n")),
    "portuguese table": (".csv", lambda t: rows(t, lambda n, b: f"{name(n, 'pausa')};{decimal(b, ',')}", head="nota;duração\n")),
    "table with a title": (".csv", lambda t: rows(t, lambda n, b: f"{name(n)},{decimal(b)}", head="Our quay tune\n\nNote,Beats\n")),
    "octaves apart": (".csv", lambda t: rows(t, lambda n, b: f"{name(n)[:-1] if n else 'rest'},{name(n)[-1] if n else ''},{decimal(b)}", head="note,octave,beats\n")),
    "milliseconds": (".csv", lambda t: rows(t, lambda n, b: f"{n or 0},{int(b * 600)}", head="midi,ms\n")),
    "loudness too": (".csv", lambda t: rows(t, lambda n, b: f"{n or 0},{decimal(b)},90", head="midi,beats,velocity\n")),
}  # fmt: skip
"""By name, the suffix of the file and how it is written."""

"""Attempts that are programs: the line, the turn and the cause of each mistake."""

from __future__ import annotations

import csv
import io

import pytest

from chickadee.attempts import attempt_of, judging, smallest_of, table_of
from chickadee.comparison import Model, Verdict
from chickadee.handed_in import Source
from chickadee.sheet import read

MODEL = Model(read("tempo: 120\nC4 D4 E4 F4 | (G4 A4) x2 | E4 D4 C4=2 |").song)
SCALE = "for n in [60, 62, 64, 65]:\n    play(n, 1)\n"
ROUND = "for i in range(2):\n    play(67, 1)\n    play(69, 1)\n"
END = "play(64, 1)\nplay(62, 1)\nplay(60, 2)\n"
BY_INDEX = "notes = [60, 62, 64, 65]\nfor i in range({}):\n    play(notes[i], 1)\n"
SCRIPT = "const scale = [60, 62, 64, 65];\nfor (let i = 0; i < scale.length; i++) {\n  play(scale[i], 1);\n}\n"
PLANTED = {
    "once too often": (
        SCALE + ROUND.replace("2)", "3)") + END,
        "2 differences, the first at bar 2 beat 5: G4 is added (line 4, third time round). Line 3 goes round once too often.",
    ),
    "once too few": (
        SCALE + ROUND.replace("2)", "1)") + END,
        "2 differences, the first at bar 2 beat 1: G4 is missing (after line 2, fourth time round). "
        "Line 3 goes round once too few.",
    ),
    "the last item": (
        BY_INDEX.format("len(notes) - 1") + ROUND + END,
        "1 difference, at bar 1 beat 4: F4 is missing (after line 3, third time round). "
        "The loop in line 2 misses the last item.",
    ),
    "the first item": (
        BY_INDEX.format("1, len(notes)") + ROUND + END,
        "1 difference, at bar 1 beat 1: C4 is missing (before line 3, first time round). "
        "The loop in line 2 misses the first item.",
    ),
    "a wrong note in a list": (
        SCALE.replace("64", "63") + ROUND + END,
        "1 difference, at bar 1 beat 3: Eb4 for E4 (line 2, third time round).",
    ),
    "a copied line": (
        "play(60, 1)\nplay(62, 1)\nplay(62, 1)\nplay(65, 1)\n" + ROUND + END,
        "1 difference, at bar 1 beat 3: D4 for E4 (line 3). Line 3 is the same as line 2: was it copied and not changed?",
    ),
    "a missing wait": (
        "from time import sleep\nfor n in [60, 62, 64, 65]:\n    play(n)\n    sleep(0.5)\n"
        "for i in range(2):\n    play(67)\n    play(69)\n    sleep(0.5)\n"
        "for n in [64, 62]:\n    play(n)\n    sleep(0.5)\nplay(60)\nsleep(1)\n",
        "4 differences, the first at bar 2 beat 1: G4 is missing (after line 3, fourth time round). "
        "Lines 6 and 7 sound at once: is a wait missing between them?",
    ),
    "lists of different sizes": (
        f"for n, b in zip([60, 62, 64, 65, 67, 69, 67, 69, 64, 62, 60], {[1] * 10}):\n    play(n, b)\n",
        "1 difference, at bar 3 beat 3: C4 is missing (after line 2, tenth time round). "
        "Lists of different sizes are gone through together: what only the longer ones have is left out.",
    ),
    "a part that is never called": (
        "def end():\n    play(64, 1)\n    play(62, 1)\n    play(60, 2)\n" + SCALE + ROUND,
        "1 difference, at bar 3 beat 1: bar 3 is missing (after line 9, second time round). "
        "`end` (line 1) is never called. It stops before bar 3 beat 1.",
    ),
    "one item too many": (
        BY_INDEX.format(5) + ROUND + END,
        "1 difference, at bar 2 beat 1: bars 2 to 3 are missing (after line 3, fourth time round). "
        "Line 3: the list has 4 items; item 5 is asked for. It stops before bar 2 beat 1.",
    ),
}


def judged(text: str, name: str = "x.py"):
    source = Source(name, data=text.encode())
    (result,) = dict(judging(MODEL, [source]).results()).values()
    return attempt_of(source, result)


@pytest.mark.parametrize("mistake", PLANTED)
def test_a_planted_mistake_is_named_with_its_line_turn_and_cause(mistake):
    text, sentence = PLANTED[mistake]
    assert judged(text).comparison.sentence == sentence


def test_right_programs_of_every_kind_are_right():
    rights = {
        "x.py": SCALE + ROUND + END,
        "x.js": SCRIPT + "for (let i = 0; i < 2; i++) { play(67, 1); play(69, 1); }\n" + END,
        "x.c": "int main() { for (int i = 0; i < 4; i++) play(60 + 2 * i - i / 3, 1);\n"
        "for (int i = 0; i < 2; i++) { play(67, 1); play(69, 1); } play(64, 1); play(62, 1); play(60, 2); }",
        "x.java": "class X { public static void main(String[] a) { for (int n : new int[] {60, 62, 64, 65}) Boat.play(n, 1);\n"
        "for (int i = 0; i < 2; i++) { Boat.play(67, 1); Boat.play(69, 1); } Boat.play(64, 1); Boat.play(62, 1); Boat.play(60, 2); } }",
        "x.txt": "play C4\nplay D4\nplay E4\nplay F4\nrepeat 2:\n  play G4\n  play A4\nplay E4\nplay D4\nplay C4 for 2\n",
        "y.py": "while True:\n" + "".join(f"    {line}\n" for line in (SCALE + ROUND + END).splitlines()),
    }
    assert {name: judged(text, name).comparison.verdict for name, text in rights.items()} == dict.fromkeys(
        rights, Verdict.RIGHT
    )


def test_seconds_and_beats_are_both_right():
    text = "from time import sleep\nfor n, b in [(60, 1), (62, 1), (64, 1), (65, 1), (67, 1), (69, 1), (67, 1), (69, 1), (64, 1), (62, 1), (60, 2)]:\n    play(n)\n    sleep(b * {})\n"
    assert [judged(text.format(beat)).comparison.verdict for beat in (0.5, 1, 0.65)] == [Verdict.RIGHT] * 3


def test_lengths_that_may_be_parts_of_a_whole_note_are_judged_as_they_are_meant():
    text = "for n, part in [(60, 4), (62, 4), (64, 4), (65, 4), (67, 4), (69, 4), (67, 4), (69, 4), (64, 4), (62, 4), (60, 2)]:\n    play(n, part)\n"
    attempt = judged(text)
    assert attempt.comparison.verdict is Verdict.RIGHT and "parts of a whole note" in attempt.unread[-1].sentence


def test_what_a_program_uses_stands_beside_the_smallest_there_is():
    attempts = [judged(SCALE + ROUND + END), judged("C4 D4 E4 F4 G4 A4 G4 A4 E4 D4 C4=2", "x.txt")]
    assert smallest_of(MODEL) == 10
    heading, program, sheet = csv.reader(io.StringIO(table_of(MODEL, attempts)))
    place = heading.index("language")
    assert heading[place : place + 6] == ["language", "repeats", "parts", "lists", "steps", "smallest"]
    assert program[place : place + 6] == ["python", "2", "0", "1", "9", "10"]
    assert sheet[place : place + 6] == [""] * 6

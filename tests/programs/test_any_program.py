"""Any text at all ends within bounds, in one sentence, and nothing in it is done."""

from __future__ import annotations

import resource
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.files import FileFault
from chickadee.incoming import read as read_any
from chickadee.programs.faults import End
from chickadee.programs.languages import LANGUAGES, language_of
from chickadee.programs.reading import read, sounded

NAMES = [each.name for each in LANGUAGES]
FAULTS = {
    "notes = [60, 62]\nfor i in range(3):\n    play(notes[i], 1)\n": (2, "Line 3: the list has 2 items; item 3 is asked for."),
    "play(60, 1)\npley(62, 1)\n": (1, "Line 2: `pley` is not defined; `play` is near."),
    "play(60, 1)\nplay(62, 1\nplay(64, 1)\n": (1, "Line 2: the bracket `(` is never closed."),
    "play(60, 1)\nfor i in range(3)\n    play(62, 1)\n": (1, "Line 2: `:` is missing at the end."),
    "play('C' + 4, 1)\n": (0, "Line 1: `+` cannot join a text and a number."),
    "play(60, 1)\nplay(1 / 0, 1)\n": (1, "Line 2: a number is divided by zero."),
    "def call(n):\n    play(n, 1)\ncall()\n": (0, "Line 3: `call` is not given its `n`."),
    "play({'a': 60}['b'], 1)\n": (0, "Line 1: the dictionary has nothing for `b`."),
    "play(60, 1)\nraise ValueError('no')\n": (1, "Line 2: the program stops itself here."),
}  # fmt: skip
OURS = {
    "while True:\n    play(60, 1)\n": "Line 1 goes round for ever; the first 8 bars are shown.",
    "i = 0\nwhile i < 5:\n    play(60, 1)\n": "Line 2 goes round for ever; the first 8 bars are shown.",
    "def f():\n    play(60, 1)\n    f()\nf()\n": "Line 3: `f` calls itself without an end.",
    "x = [60]\nfor i in range(40):\n    x = x + x\n": "Line 3: the lists grow beyond a million items.",
    "x = 'a'\nfor i in range(40):\n    x = x + x\n": "Line 3: the texts grow beyond a million characters.",
    "x = [0] * 10 ** 9\n": "Line 1: the lists grow beyond a million items.",
    "x = 9 ** 9 ** 9\n": "Line 1: this number is too large to go on.",
    "play(60, 1)\nif button.pressed():\n    play(62, 1)\n":
        "Line 2: what comes now depends on `button.pressed()`, which only the running program knows.",
    "def f():\n    yield 60\nfor n in f():\n    play(n, 1)\n": "Line 2: `yield` is not understood here.",
}  # fmt: skip


@pytest.mark.parametrize("text", FAULTS)
def test_a_fault_is_the_pupils_and_what_sounded_before_counts(text):
    found = sounded(text, "python")
    count, sentence = FAULTS[text]
    assert found.trace.end is End.FAULT and found.fault is not None
    assert (len(found.timed.events), found.fault.sentence) == (count, sentence)


@pytest.mark.parametrize("text", OURS)
def test_a_bound_is_ours(text):
    found = sounded(text, "python")
    assert found.trace.end is End.BOUND and found.fault is not None and not found.fault.is_of_program
    assert found.fault.sentence == OURS[text]


def test_faults_of_other_languages_name_the_line():
    script = sounded("play(60, 1);\nplay(62, 1;\nplay(64, 1);\n", "javascript")
    assert script.fault is not None and script.fault.line == 2 and len(script.timed.events) == 1
    missed = sounded("const n = [60];\nfor (let i = 0; i < 2; i++) play(n[i], 1);\n", "javascript")
    assert missed.fault is not None and missed.fault.sentence == "Line 2: the list has 1 item; item 2 is asked for."
    steps = sounded("play C4\nplai D4\n", "steps")
    assert steps.fault is not None and steps.fault.sentence == "Line 2: “plai D4” is no step; `play` is near."


def test_a_question_takes_its_answer_or_stops_there():
    text = "n = int(input('Which?'))\nplay(n, 1)\n"
    assert sounded(text, "python").trace.end is End.QUESTION
    (event,) = sounded(text, "python", answers=["64"]).timed.events
    assert event.pitches[0].number == 64


def test_chance_is_the_same_each_time_and_said():
    text = "import random\nfor i in range(8):\n    play(random.choice([60, 62, 64]), 1)\n"
    first, again = (sounded(text, "python") for _ in range(2))
    assert [e.pitches for e in first.timed.events] == [e.pitches for e in again.timed.events]
    assert len({e.pitches for e in first.timed.events}) > 1 and "Chance" in first.trace.said[0]


def test_nothing_of_a_program_is_done(tmp_path):
    goal = tmp_path / "made"
    name = str(goal)
    attacks = {
        "python": f"import os, subprocess\nopen({name!r}, 'w').write('x')\nos.system('touch {name}')\n"
        f"subprocess.run(['touch', {name!r}])\nexec(\"open({name!r}, 'w')\")\neval(\"open({name!r}, 'w')\")\n"
        f"__import__('os').system('touch {name}')\n(lambda: 0).__globals__['x'].system('touch {name}')\n"
        f"''.__class__.__mro__[1].__subclasses__()\nplay(60, 1)\n",
        "javascript": f"require('fs').writeFileSync({name!r}, 'x'); fetch('http://localhost'); eval('1');\n"
        f"process.mainModule.require('child_process').execSync('touch {name}'); play(60, 1);",
        "c": f'#include "{name}"\nint main() {{ system("touch {name}"); fopen("{name}", "w"); play(60, 1); }}',
        "java": f'class A {{ public static void main(String[] a) throws Exception {{ Runtime.getRuntime().exec("touch {name}"); '
        f'new java.io.FileWriter("{name}"); Sound.play(60, 1); }} }}',
    }
    for language, text in attacks.items():
        sounded(text, language)
    assert not goal.exists()


def test_what_is_hostile_ends_in_time_and_in_little_memory():
    texts = [
        "play(" + "(" * 1000 + "60" + ")" * 1000 + ", 1)",
        "f(" * 3000 + ")" * 3000,
        "x = " + "-" * 20_000 + "1\nplay(x, 1)",
        "x = " + "1+" * 20_000 + "1\nplay(60, 1)",
        "for i in range(10 ** 15):\n    play(60, 1)\n",
        "x = ['a' * 900000] * 900\ny = ''.join(x)\n",
        "x = (1,)\nfor i in range(100000):\n    x = (x,)\ny = {x: 1}\n",
        "const f = () => setTimeout(f, 0); f();",
        "let s = 'a'; for (;;) { s += s; play(60, 1); }",
        "class A { static void f() { f(); } public static void main(String[] a) { f(); } }",
        "int main() { for (;;); }",
        "repeat 9:\n" * 300 + "play C4",
    ]
    for text in texts:
        for language in NAMES:
            begun = time.process_time()
            sounded(text, language)
            assert time.process_time() - begun < 6, (language, text[:60])  # far beyond what is allowed
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss < 1_500_000  # kilobytes, with all other tests


WORDS = """play rest ( ) [ ] { } : ; , = + - * / % == < > . " ' \\ # // 60 C4 1/2 x i for in range ( 3 ) while if else def
    function return class new let const => await async int void main print lambda True null repeat end part \n \t
    \n    import from break continue try except switch case"""
PIECES = st.sampled_from(WORDS.split(" "))
TEXTS = st.one_of(st.text(max_size=200), st.lists(PIECES, max_size=60).map(" ".join))


@settings(max_examples=150, deadline=None)
@given(TEXTS, st.sampled_from(NAMES))
def test_any_text_at_all_is_traced_without_an_exception(text, language):
    found = sounded(text, language)
    assert (found.fault is None) == (found.trace.end is End.END)
    if found.fault is not None:
        assert found.fault.sentence.startswith(f"Line {found.fault.line}") and "\n" not in found.fault.sentence


def test_a_text_is_taken_for_a_program_only_where_it_is_one():
    assert read("notes = [60, 62, 64]\nbeats = [1, 2, 1]\n", "x.py") is None  # data is read as lists
    assert read("C4 D4 E4 | F4", "x.txt") is None
    assert read("Dear teacher, the dog (it is big) has it.", "x.txt") is None
    assert read("notes = [60, 62]\nfor n in notes:\n    play(n, 1)\n", "x.txt").program.language == "python"
    assert [language_of(text).name for text in ("play(60, 1);", "let x = 1; play(x);", "#include <a>\nint main() { f(); }",
            "class A { void f() { g(); } }", "play C4\nrest 1\n")] == ["python", "javascript", "c", "java", "steps"]  # fmt: skip


def test_a_program_that_is_too_long_says_so_and_long_lists_are_still_read(tmp_path):
    path = tmp_path / "long.py"
    path.write_text("play(60, 1)\n" * 20_000)
    with pytest.raises(FileFault, match="more than 100,000 signs"):
        read_any(path)
    path.write_text(f"# {'long ' * 20_000}\nnotes = {[60 + i % 12 for i in range(9_000)]}\nprint(notes)\n")
    assert len(read_any(path).song.notes) == 9_000


@pytest.mark.parametrize("encoding", ["utf-16", "utf-8-sig", "cp1252"])
def test_other_encodings_are_read(tmp_path, encoding):
    path = tmp_path / "größer.py"
    path.write_bytes("# größer\nplay(60, 1)\nplay('é', 1)\n".encode(encoding))
    found = read_any(path)
    assert len(found.song.notes) == 1 and "`é` is no pitch" in found.left_out[0]

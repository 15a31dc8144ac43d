"""A tune written as a program sounds the tune: traced, and run by the real interpreters and compilers."""

from __future__ import annotations

import json
import sys
from collections import Counter
from fractions import Fraction
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from interpreters import has, run

import chickadee
from chickadee.programs.languages import language_of
from chickadee.programs.reading import sounded
from chickadee.programs.writing.catalogue import dialect_called, shipped
from chickadee.programs.writing.dialect import DialectFault, Level, read_dialect, written_dialect
from chickadee.programs.writing.written import Writing, WrittenProgram
from chickadee.sheet import Reading, read

SONGS = Path(chickadee.__file__).parent / "songs"
LENGTHS = ("", "", "=2", "=1/2", "=3/2", "=1/3", "=2/7", "=3")
FULL = 7


@st.composite
def tunes(draw):
    """Tunes with phrases, moves, repeats, chords, rests, and voices that sound on while others go on."""
    pitch = st.integers(40, 90).map(str)
    chord = st.sampled_from(["C4&E4&G4", "{Am}", "Bb3&F4"])
    sign = st.tuples(st.one_of(pitch, pitch, chord, st.just("rest")), st.sampled_from(LENGTHS)).map("".join)
    motif = st.lists(sign, min_size=1, max_size=4).map(" ".join)
    uses = ["theme", "theme", "theme up 5", "reply", "reply down 2", "theme backwards", "rest", "[tempo 60]"]
    item = st.one_of(
        motif,
        st.sampled_from(uses),
        st.tuples(motif, st.integers(2, 4)).map(lambda each: f"({each[0]}) x{each[1]}"),
    )
    line = st.lists(item, min_size=1, max_size=5).map(" ".join)
    lines = [f"phrase theme\n{draw(motif)}\n", f"phrase reply\n{draw(motif)} theme {draw(motif)}\n"]
    lines += [f"voice V{place}\n{draw(line)}\n" for place in range(draw(st.integers(1, 2)))]
    return read("\n".join(["tempo: 93\nmeter: 6/8\n", *lines]))


def struck(reading: Reading, voices: list[int], program: WrittenProgram) -> Counter[tuple[object, ...]]:
    """The notes of some voices, in beats, each with the line that is said to sound it."""
    beat = reading.song.meter.beat_ticks
    return Counter(
        (
            Fraction(note.start, beat),
            Fraction(note.length, beat),
            note.number,
            program.performance.lines_of_notes[index],
        )
        for index, note in enumerate(reading.song.notes)
        if note.voice in voices
    )


def check(reading: Reading, voices: list[int], language: str, runs: bool = False) -> None:
    """Trace the programs of all levels: notes, lines and turns are those that were written."""
    writing = Writing(reading, voices, dialect_called(language))
    for level in Level:
        program = writing.program(level, runs)
        found = sounded(program.text, language, exact=True)
        lines = found.trace.lines
        assert found.fault is None, (program.text, found.fault)
        traced = Counter(
            (event.start, event.length, pitch.number, lines.of(event.span[0]))
            for event in found.timed.events
            for pitch in event.pitches
        )
        assert traced == struck(reading, voices, program), program.text
        assert program.steps == writing.steps(level)
        turns = {
            (each.line, tuple(around.turn for around in each.around if not around.part))
            for each in program.performance.performed
            if each.notes
        }
        assert turns == {(lines.of(event.span[0]), event.heard.turns) for event in found.timed.events}
        starts = [each.tick for each in program.performance.performed]
        assert starts == sorted(starts)
    assert writing.steps(Level.REPEATS) <= writing.steps(Level.LINE)


@given(tunes(), st.sampled_from(list(shipped())), st.booleans())
def test_any_tune_sounds_when_its_programs_are_traced(reading, language, merged):
    if any(note.number for note in reading.song.notes):
        voices = list(range(len(reading.song.voices))) if merged else [0]
        if any(note.voice in voices for note in reading.song.notes):
            check(reading, voices, language)


@pytest.mark.parametrize("path", sorted(SONGS.glob("*.chick")), ids=lambda path: path.stem)
def test_the_demo_sounds_when_its_programs_are_traced(path):
    reading = read(path.read_text("utf-8"))
    every = list(range(len(reading.song.voices)))
    for language in shipped():
        for voices in (*([voice] for voice in every), every):
            check(reading, voices, language, runs=language != "steps" and voices == every)


def printed(text: str) -> Counter[tuple[float, float, int]]:
    """The notes that a program printed, in ten-thousandths of a beat."""
    found: Counter[tuple[float, float, int]] = Counter()
    for line in text.splitlines():
        start, length, *numbers = line.split()
        found.update((round(float(start), 4), round(float(length), 4), int(number)) for number in numbers)
    return found


def run_python(texts: list[str], folder: Path) -> list[str]:
    return [run([sys.executable, "-I", "-"], text) for text in texts]


NODE = """
const vm = require("vm");
const texts = JSON.parse(require("fs").readFileSync(0, "utf8"));
const all = texts.map((text) => {
  const lines = [];
  vm.runInNewContext(text, {console: {log: (line) => lines.push(line)}});
  return lines.join("\\n");
});
console.log(JSON.stringify(all));
"""


def run_node(texts: list[str], folder: Path) -> list[str]:
    return json.loads(run(["node", "-e", NODE], json.dumps(texts)))


def run_c(texts: list[str], folder: Path) -> list[str]:
    found = []
    for text in texts:
        (folder / "tune.c").write_text(text)
        run(["gcc", "-std=c99", "-Wall", "-Werror", "-o", "tune", "tune.c"], folder=folder)
        found.append(run(["./tune"], folder=folder))
    return found


def run_java(texts: list[str], folder: Path) -> list[str]:
    """Run all in one go, each as a class of its own name."""
    for place, text in enumerate(texts):
        (folder / f"Tune{place}.java").write_text(text.replace("class Tune {", f"class Tune{place} {{"), "utf-8")
    calls = " ".join(f'Tune{place}.main(given); System.out.println("----");' for place in range(len(texts)))
    (folder / "All.java").write_text(f"class All {{ public static void main(String[] given) {{ {calls} }} }}")
    run(["javac", "-encoding", "UTF-8", *(each.name for each in folder.glob("*.java"))], folder=folder)
    return run(["java", "-cp", ".", "All"], folder=folder).split("----\n")[:-1]


RUNNERS = {
    "python": (("python3",), run_python),
    "javascript": (("node",), run_node),
    "c": (("gcc",), run_c),
    "java": (("javac", "java"), run_java),
}


@pytest.mark.parametrize("language", RUNNERS)
def test_programs_that_run_by_themselves_print_the_tune(language, tmp_path):
    commands, runner = RUNNERS[language]
    if not has(*commands):
        pytest.skip(f"this machine has no {' and '.join(commands)}")
    readings = [read(path.read_text("utf-8")) for path in sorted(SONGS.glob("*.chick"))]
    pairs = [(reading, level) for reading in [*readings, ODD] for level in Level][: 4 * FULL]
    texts = []
    wanted = []
    for reading, level in pairs:
        song = reading.song
        voices = list(range(len(song.voices)))
        texts.append(Writing(reading, voices, dialect_called(language)).program(level, runs=True).text)
        beat = song.meter.beat_ticks
        wanted.append(
            Counter((round(note.start / beat, 4), round(note.length / beat, 4), note.number) for note in song.notes)
        )
    assert [printed(each) for each in runner(texts, tmp_path)] == wanted


ODD = read(
    "title: An *odd* \\u0022one */ // {0}\ntempo: 93\n\nphrase for\n  C4=1/3 E4=2/3\n\nphrase été\n  G4&B4\n\n"
    "voice V\n  for for up 3 été rest for été (C4 D4) x3\n\nvoice W\n  C3=2 - E3=1/7\n"
)
"""A tune whose names would be taken for something else."""


@pytest.mark.parametrize("language", shipped())
def test_names_that_a_language_has_other_uses_for_are_changed(language):
    assert not ODD.has_errors
    check(ODD, [0], language)
    text = Writing(ODD, [0], dialect_called(language)).program(Level.PARTS).text
    assert "for_part" in text


def test_phrases_are_parts_by_their_names():
    reading = read((SONGS / "gull-point.chick").read_text("utf-8"))
    writing = Writing(reading, [0], dialect_called("steps"))
    text = writing.program(Level.PARTS).text
    assert text.startswith("part call:\n  play G4 for 1\n  play B4 for 1\n")
    assert text.endswith("tempo 92\ncall\nreply\n")
    assert [writing.steps(level) for level in Level] == [20, 20, 24, 5]


def test_what_is_moved_and_comes_again_is_one_part():
    reading = read("voice V\n  C4 D4 E4 G4=2 F4 G4 A4 C5=2 C4 D4 E4 G4=2 rest\n")
    text = Writing(reading, [0], dialect_called("python")).program(Level.PARTS).text
    assert "def theme(up):\n    play(60 + up, 1)" in text
    assert text.endswith("theme(0)\ntheme(5)\ntheme(0)\nrest(1)\n")


def test_rests_stand_as_they_are_written():
    text = Writing(read("voice V\n  C4 rest rest=1/2 E4\n"), [0], dialect_called("steps")).program(Level.LINE).text
    assert text == "tempo 120\nplay C4 for 1\nrest 1\nrest 1/2\nplay E4 for 1\n"


def test_a_phrase_in_a_phrase_is_a_part_in_a_part_wherever_it_is_first_used():
    sheet = "phrase call\n  C4 E4 G4\n\nphrase song\n  call D4 call\n\nvoice V\n  F4 (song) backwards F4 song song\n"
    text = Writing(read(sheet), [0], dialect_called("steps")).program(Level.PARTS).text
    assert "part song:\n  call\n  play D4 for 1\n  call\n" in text and text.endswith("song\nsong\n")


def test_lines_lead_to_notes_and_heads_to_all_that_is_in_them():
    reading = read("voice V\n  (C4 E4) x3 G4\n")
    program = Writing(reading, [0], dialect_called("steps")).program(Level.REPEATS)
    assert program.text == "tempo 120\nrepeat 3:\n  play C4 for 1\n  play E4 for 1\nplay G4 for 1\n"
    assert program.performance.notes_of_lines[2] == (0, 1, 2, 3, 4, 5)
    assert program.performance.notes_of_lines[4] == (1, 3, 5)
    assert program.performance.lines_of_notes[6] == 5
    beat = reading.song.meter.beat_ticks
    here = program.performance.performed[program.performance.sounding(3.5 * beat)[0]]
    assert (here.line, here.around[0].turn, here.around[0].turns) == (4, 2, 3)


@pytest.mark.parametrize("language", shipped())
def test_a_dialect_is_read_back_as_it_was_written(language):
    dialect = dialect_called(language)
    again = read_dialect(written_dialect(dialect), language)
    assert written_dialect(again) == written_dialect(dialect)
    reading = read("voice V\n  (C4 E4&G4) x2 rest\n")
    assert (
        [Writing(reading, [0], each).program(Level.PARTS, True).text for each in (dialect, again)]
        == [Writing(reading, [0], dialect).program(Level.PARTS, True).text] * 2
        if dialect.runs
        else True
    )


BAD = {
    'title = "x"\ntempo = "t {tempo}"\nplay = "p {beats}"': "The dialect has no rest, which it needs.",
    'title = "x"\ntempo = "t"\nplay = "p {beats}"\nrest = "r {beats}"': "Line 2: tempo is to name {tempo}.",
    'title = "x"\ntempo = "t {tempo}"\nplay = "p {beats} {hue}"\nrest = "r {beats}"': "Line 3: play names {hue}",
    'title = "x"\ntempo = "t {tempo}"\nplay = "p {beats}"\nrest = "r {beats}"\npart = "P {part}"': "Line 5: part needs call",
    'title = "x"\nsuffx = ".y"': "Line 2: suffx is not a key; there are title, ",
}


@pytest.mark.parametrize("text", BAD)
def test_a_dialect_that_cannot_be_is_refused_in_a_sentence(text):
    with pytest.raises(DialectFault) as refused:
        read_dialect(text)
    assert str(refused.value).startswith(BAD[text])


def test_a_language_without_a_way_to_ring_on_is_told_so():
    plain = read_dialect('title = "Beeps"\ntempo = "T {tempo}"\nplay = "B {pitch} {beats}"\nrest = "R {beats}"')
    one = read("voice V\n  C4 rest E4=1/3\n")
    assert Writing(one, [0], plain).program(Level.LINE).text == "T 120\nB 60 1\nR 1\nB 64 1/3\n"
    with pytest.raises(DialectFault, match="no key `ring` for notes that sound on; choose a single voice"):
        Writing(read("voice V\n  C4&E4\n"), [0], plain)


def test_what_is_not_in_the_program_is_said():
    reading = read("tempo: 60\nvoice V\n[f] 'C4 [pp] C-1 [slow to 40 over 2] E4\n")
    said = Writing(reading, [0], dialect_called("python")).program(Level.LINE).left_out
    assert len(said) == 4 and said[-1] == "The lowest note has the number 0, which programs take for a rest."
    assert Writing(read("C4 E4\n"), [0], dialect_called("python")).program(Level.LINE).left_out == ()


def test_steps_are_known_for_steps():
    reading = read("voice V\n  (C4 E4) x3 G4=2 D4 E4 D4=1/2 rest\n\nvoice W\n  C3=8\n")
    for level in Level:
        text = Writing(reading, [0, 1], dialect_called("steps")).program(level).text
        assert language_of(text).name == "steps"

"""What the calls of a program mean: pitches, lengths, units, and whether a strike holds the program."""

from __future__ import annotations

import pytest

from chickadee.programs.corrections import Correction, Corrections
from chickadee.programs.reading import sounded
from chickadee.programs.vocabulary import Verb, verb_of

SLEEP = "from time import sleep\n"
PROGRAMS = {
    # strikes with lengths and no waits hold
    "play(60, 1)\nplay(62, 2)": "0 1 C4, 1 2 D4",
    "play(60, beats=0.5)\nrest(1)\nplay(62, beats=1)": "0 1/2 C4, 3/2 1 D4",
    # lengths by name and by size
    "play(60, 500)\nplay(62, 250)": "0 1 C4, 1 1/2 D4",
    "play(note=60, ms=250)\nplay(note=62, ms=500)": "0 1/2 C4, 1/2 1 D4",
    "play('C4', seconds=0.25)\nplay('D4', seconds=1)": "0 1/2 C4, 1/2 2 D4",
    # strikes without lengths go on at once, and the waits make the time
    "play(60)\nwait(1)\nplay(64)\nplay(67)\nwait(2)": "0 1 C4, 1 2 E4, 1 2 G4",
    SLEEP + "play(60)\nsleep(0.5)\nplay(62)\nsleep(1)": "0 1 C4, 1 2 D4",
    # a length that comes again in the wait right after goes on at once
    "play(60, 1)\nwait(1)\nplay(62, 0.5)\nwait(0.5)\nplay(64, 1)\nwait(1)": "0 1 C4, 1 1/2 D4, 3/2 1 E4",
    "play(60, 400)\nwait(400)\nplay(62, 200)\nwait(200)": "0 4/5 C4, 4/5 2/5 D4",
    # a chord, at once, and one wait for all of it
    "play(60, 1)\nplay(64, 1)\nwait(1)\nplay(62, 1)\nplay(65, 1)\nwait(1)\nplay(60, 2)\nplay(64, 2)\nwait(2)":
        "0 1 C4, 0 1 E4, 1 1 D4, 1 1 F4, 2 2 C4, 2 2 E4",
    # rests between strikes that hold stay rests
    "play(60, 1)\nrest(1)\nplay(62, 1)\nplay(64, 1)\nplay(65, 1)": "0 1 C4, 2 1 D4, 3 1 E4, 4 1 F4",
    # a breath after each note is part of it
    "play(60, 90)\nwait(100)\nplay(62, 180)\nwait(200)\nplay(64, 90)\nwait(100)": "0 1/5 C4, 1/5 2/5 D4, 3/5 1/5 E4",
    # tempo: a call, a variable, and what the waits show
    "set_tempo(60)\nplay(60, ms=1000)": "0 1 C4",
    SLEEP + "bpm = 92\nplay(60)\nsleep(60 / bpm)\nplay(62)\nsleep(2 * 60 / bpm)": "0 1 C4, 1 2 D4",
    SLEEP + "for n, b in [(60, 1), (62, 2), (64, 1)]:\n    play(n, b)\n    sleep(b * 0.65)": "0 1 C4, 1 2 D4, 3 1 E4",
    # which argument is what
    "play(0.5, 60)\nplay(1, 62)": "0 1/2 C4, 1/2 1 D4",
    "play('C', 5, 1)\nplay('D', 4, 2)": "0 1 C5, 1 2 D4",
    "tone(8, 440, 500)\ntone(8, 494, 250)": "0 1 A4, 1 1/2 B4",
    "note_on(60)\nwait(1)\nnote_off(60)\nwait(1)\nnote_on(62)\nwait(2)\nnote_off(62)": "0 1 C4, 2 2 D4",
    "play([60, 64, 67], 2)\nplay(('D4', 'F4'), 1)": "0 2 C4&E4&G4, 2 1 D4&F4",
    "play({'note': 60, 'beats': 2})\nplay({'note': 62, 'beats': 1})": "0 2 C4, 2 1 D4",
    "play(0, 1)\nplay(60, 1)\nplay(None, 1)\nplay(62, 1)": "1 1 C4, 3 1 D4",
    "play(NOTE_C4, QUARTER)\nplay(NOTE_FS4, HALF)": "0 1 C4, 1 2 F#4",
    "play([(60, 1), (62, 0.5)])": "0 1 C4, 1 1/2 D4",
    "play('C4:1 D4:0.5')\nplay('E4 F4')": "0 1 C4, 1 1/2 D4, 3/2 1 E4, 5/2 1 F4",
    "play_song([60, 62], [1, 2])": "0 1 C4, 1 2 D4",
    # names of other languages, of others' making, and functions that stand for a verb
    "spiele('C4', 1)\npause(1)\nspiele('D4', 1)": "0 1 C4, 2 1 D4",
    "quack(60, 2)\nquack(62, 1)\nlog(1)": "0 2 C4, 2 1 D4",
    "quack(60)\nquack('a pond')\nquack('a reed')": "",
    "play('C', 2, 1)\nplay('D', 8, 2)": "0 1 C2, 1 2 D8",
    "play('C', 1)\nplay('D', 2)": "0 1 C4, 1 2 D4",
    "def play(note, seconds):\n    print(note)\nplay(60, 0.5)\nplay(62, 1)": "0 1 C4, 1 2 D4",
    "def ring(n):\n    bell.strike(n, 1)\nring(60)\nring(62)": "0 1 C4, 1 1 D4",
    "def play(n, b):\n    synth.on(n)\n    time.sleep(b)\n\nplay(60, 1)\nplay(62, 2)": "0 1 C4, 1 2 D4",
    "turtle.note_name(60)\nset_sound('bell')\nplay(62, 1)": "0 1 D4",
}  # fmt: skip


def events(text: str, language: str = "python", corrections: Corrections | None = None) -> str:
    found = sounded(text, language, corrections or Corrections())
    return ", ".join(
        f"{each.start} {each.length} {'&'.join(pitch.text for pitch in each.pitches)}"
        for each in sorted(found.timed.events, key=lambda each: each.start)
    )


@pytest.mark.parametrize("text", PROGRAMS)
def test_a_program_sounds_as_it_was_meant(text):
    assert events(text) == PROGRAMS[text]


def test_timers_threads_and_what_is_asynchronous_go_on_beside_the_rest():
    later = "for (let i = 0; i < 3; i++) setTimeout(() => play(60 + i), i * 500);"
    assert events(later, "javascript") == "0 1 C4, 1 1 C#4, 2 1 D4"
    promised = (
        "const wait_ms = ms => new Promise(done => setTimeout(done, ms));\n"
        "async function line(n) { for (let i = 0; i < 2; i++) { play(n + i); await wait_ms(500); } }\n"
        "line(60);\nline(72);\n"
    )
    assert events(promised, "javascript") == "0 1 C4, 0 1 C5, 1 1 C#4, 1 1 C#5"
    threads = (
        "import threading, time\n"
        "def line(n):\n    for i in range(2):\n        play(n + i)\n        time.sleep(0.5)\n"
        "one = threading.Thread(target=line, args=(60,))\none.start()\nline(72)\n"
    )
    assert events(threads) == "0 1 C4, 0 1 C5, 1 1 C#4, 1 1 C#5"


def test_how_calls_are_understood_is_said_and_can_be_put_right():
    text = "play(60, 2)\nhush(1)\nplay(62, 1)\n"
    found = sounded(text, "python")
    assert found.meaning.sentences == (
        "play(pitch, beats): a strike that holds the program.",
        "hush(beats): lets time pass.",
    )
    other = Corrections({"play": Correction(Verb.STRIKE, holds=False), "hush": Correction(is_nothing=True)})
    assert events(text, corrections=other) == "0 2 C4, 0 1 D4"
    in_ms = Corrections({"play": Correction(unit="seconds")})
    assert events("play(60, 2)\nplay(62, 1)\n", corrections=in_ms) == "0 4 C4, 4 2 D4"


def test_verbs_are_known_as_parts_of_names():
    strikes = (
        "play play_note playNote beep strikeBell sing note_on startTone spieleTon jouer play_until_done playnote"
    )
    silences = "rest wait sleep_ms usleep delayMicroseconds pause Warte attendre"
    others = "note_name set_sound display replay notebook stop_tone noteToFreq player load_sound print"
    assert {name for name in strikes.split() if verb_of(name) is not Verb.STRIKE} == set()
    assert {name for name in silences.split() if verb_of(name) is not Verb.SILENCE} == set()
    assert {name for name in others.split() if verb_of(name) is not None} == set()
    assert verb_of("set_tempo") is verb_of("BPM") is Verb.TEMPO


def test_times_are_exact():
    text = "for i in range(9):\n    play(60, 1 / 3)\nplay(62, 0.1 + 0.2)\nplay(64, 1)\n"
    found = sounded(text, "python").timed.events
    assert [str(each.start) for each in found[-3:]] == ["8/3", "3", "33/10"]


STEPS = {
    "1. tempo 100\n2. Play C4 for 1 beat\n3. Play D4 for half a beat\n4. 2 times\n5. play E4 1/2\n6. end\n7. wait 1.2 seconds\n8. play G4":
        "0 1 C4, 1 1/2 D4, 3/2 1/2 E4, 2 1/2 E4, 9/2 1 G4",
    "repeat 2 {\nnote 60\nrest 1/2\n}\nPLAY C4 AND E4 FOR TWO BEATS;": "0 1 C4, 3/2 1 C4, 3 2 C4&E4",
    "part call\n  play C4\n  play D4 for a half\nend\ncall\ndo call": "0 1 C4, 1 2 D4, 3 1 C4, 4 2 D4",
    "repeat 2:\n  repeat 2 times:\n    play C4, 0.5\n  play D4": "0 1/2 C4, 1/2 1/2 C4, 1 1 D4, 2 1/2 C4, 5/2 1/2 C4, 3 1 D4",
    "tempo: 60\nplay C4 for 500 ms\n# a comment\n- play D4 // another": "0 1/2 C4, 1/2 1 D4",
}  # fmt: skip


@pytest.mark.parametrize("text", STEPS)
def test_steps_are_read_generously(text):
    assert events(text, "steps") == STEPS[text]


def test_what_comes_from_elsewhere_is_no_fault():
    assert events("const synth = new Synth();\nsynth.play('C4', 1);", "javascript") == "0 1 C4"
    found = sounded("void setup() { play(60, 1); }\nvoid loop() {}\n", "c")
    assert found.fault is None and len(found.timed.events) == 1
    again = sounded("void loop() { play(60, 1); play(62, 1); }\n", "c")
    assert again.fault is not None and "the first 8 bars" in again.fault.sentence


def test_every_event_knows_its_line_and_its_turns():
    text = "for a in range(2):\n    for b in [60, 62]:\n        play(b, 1)\nplay(64, 1)\n[play(n, 1) for n in (65, 67)]\n"
    found = sounded(text, "python")
    places = [(found.trace.lines.of(each.span[0]), each.heard.turns) for each in found.timed.events]
    assert places == [(3, (1, 1)), (3, (1, 2)), (3, (2, 1)), (3, (2, 2)), (4, ()), (5, (1,)), (5, (2,))]
    assert [span[0] for span in found.timed.events[0].heard.loops] == [0, text.index("for b")]

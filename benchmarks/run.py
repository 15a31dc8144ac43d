"""Print the numbers that bind, each as a ratio against a baseline of the same run: ``make bench``."""

from __future__ import annotations

import ast
import gc
import io
import os
import platform
import random
import resource
import statistics
import subprocess
import sys
import tempfile
import time
import tokenize
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np

import chickadee
from chickadee.attempts import judging
from chickadee.comparison import Model
from chickadee.demo import demo_folder
from chickadee.formats import smf
from chickadee.formats.arranging import arranged
from chickadee.handed_in import handed_in
from chickadee.handout.pages import class_set
from chickadee.handout.request import Request
from chickadee.hearing.playable import InMemory
from chickadee.hearing.stretching import stretched
from chickadee.hearing.worker import Listening
from chickadee.programs.languages import read_program
from chickadee.programs.tracing import traced
from chickadee.sheet import read
from chickadee.song import Song
from chickadee.sound import Renderer, rendered
from chickadee.web.page import playing_page
from comparing import lay_out
from faulty import KINDS, growth
from importing import events_in, large_file
from worst import WORST, seconds_at

RATE = 48_000
_LOOP_STEPS = 180_000  # of the program that is measured: two statements and a turn, 60,000 times


def best(work: Callable[[], object], times: int = 7) -> float:
    """The shortest of some runs, in seconds."""
    found = []
    for _ in range(times):
        gc.collect()
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return min(found)


def sheet(notes: int, seed: int = 1) -> str:
    """A sheet of random notes, four bars a line."""
    chance = random.Random(seed)
    bars = [
        " ".join(
            f"{chance.choice('CDEFGAB')}{chance.choice('345')}{chance.choice(['', '', '=1', '=1/1'])}"
            for _ in range(4)
        )
        for _ in range(notes // 4)
    ]
    lines = [" | ".join(bars[place : place + 4]) + " |" for place in range(0, len(bars), 4)]
    return "title: Bench\nvoice A\n  " + "\n  ".join(lines) + "\n"


def reading() -> None:
    """Each run reads a sheet it has not met, so that nothing is remembered but single words."""
    texts = [sheet(5000, seed) for seed in range(7)]
    left = list(texts)
    ours = best(lambda: chickadee.read(left.pop()))
    left = list(texts)
    theirs = best(lambda: list(tokenize.generate_tokens(io.StringIO(left.pop()).readline)))
    print(
        f"reading and checking 5,000 notes       {ours * 1e3:8.1f} ms   {ours / theirs:5.2f} x tokenize (at most 2)"
    )
    edited = [f"{texts[0]}  C4{'=2' * (turn % 2)}{' ' * turn}" for turn in range(7)]
    again = best(lambda: chickadee.read(edited.pop()))
    print(f"the same once more, as an editor does  {again * 1e3:8.1f} ms   {again / theirs:5.2f} x tokenize")
    runs = iter(range(3))
    many = best(lambda: read(f"(C4 D4 E4 F4) x25000 // {next(runs)}"), 3)
    print(f"expanding 100,000 notes                {many:8.2f} s (at most 1)")


def proportion() -> None:
    """Ten times as many notes, each kind of fault: at most twelve times as long."""
    ratios = {kind: growth(kind) for kind in KINDS}
    worst = max(ratios, key=lambda kind: ratios[kind])
    print(f"ten times the faults ({len(ratios)} kinds)        {statistics.median(ratios.values()):8.1f} x   "
          f"{ratios[worst]:5.1f} x at worst, {worst} (at most 12)")  # fmt: skip


def worst_inputs() -> None:
    """Print the worst of what comes from outside: each reader's time for a thousand, ten thousand and a hundred thousand
    lines; what it would not be done with in two seconds it refuses."""
    for reader in WORST:
        found = [seconds_at(reader, lines) for lines in (1_000, 10_000, 100_000)]
        print(f"{reader:<39}{'   '.join(f'{seconds:5.2f} s ({name})' for seconds, name in found)} (at most 2)")


def long_line() -> None:
    """Measure what 500 key presses in a tune of 2,000 notes on one line leave in memory."""
    code = (
        "import gc, os, chickadee\n"
        "line = 'C4 D4 E4 F4 | ' * 500\n"
        "def held(): gc.collect(); return int(open('/proc/self/statm').read().split()[1]) * os.sysconf('SC_PAGE_SIZE') / 2**20\n"
        "for turn in range(20): chickadee.read(line + 'G4 ' * turn)\n"
        "before = held()\n"
        "for turn in range(500): chickadee.read(line + 'A4 B4'[: turn % 6] + ' C4' * (turn // 6))\n"
        "print(held() - before)"
    )
    grown = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    print(f"500 key presses in one line of 2,000   {float(grown):8.1f} MB more")


def at_the_bound() -> None:
    """The memory that tunes of about a million signs take."""
    kinds = {
        "one line": "'C4 ' * 990_000", "many lines": "'C4 D4 E4 F4 |\\n' * 198_000", "repeats": "'(C4 D4 E4 F4) x249000'",
        "five voices": "'\\n'.join(f'voice V{n}\\n(C4 D4 E4 F4) x49000' for n in range(5))", "unknown words": "'zz ' * 990_000",
    }  # fmt: skip
    code = (
        "import resource, chickadee\nchickadee.read('tempo: 1000\\n' + {text})\n"
        "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)"
    )
    peaks = {}
    for kind, text in kinds.items():
        run = [sys.executable, "-c", code.format(text=text)]
        peaks[kind] = int(subprocess.run(run, capture_output=True, text=True, check=True).stdout) / 1024
    worst = max(peaks, key=lambda kind: peaks[kind])
    print(f"memory to read a million signs         {peaks[worst]:8.0f} MB, {worst} (at most 1,000)")


def rendering() -> None:
    voices = [
        ("flute", "C5 E5 G5 E5 |"),
        ("glass bell", "G4=2 E4=2 |"),
        ("plucked string", "C4 G4 E4 G4 |"),
        ("sine", "C3=4 |"),
    ]
    text = "tempo: 120\n" + "\n".join(f"voice {name}\nsound: {name}\n" + bar * 30 for name, bar in voices)
    song = chickadee.read(text).song
    varied = chickadee.read(
        text.replace("\nsound", "\nstress: 90 70 80 60\nsound").replace("C5", "[vary 20] C5")
    ).song

    def whole(song: Song) -> None:
        renderer = Renderer(song, RATE)
        while len(renderer.read(16_384)):
            pass

    ours = best(lambda: whole(song), 3)
    theirs = best(lambda: whole(varied), 3)
    partials = 7 + 5 + 26 + 1
    phase = np.arange(RATE) / RATE
    second = best(lambda: [np.sin(2 * np.pi * 100.0 * k * phase) for k in range(1, partials + 1)], 3)
    print(f"rendering four voices                  {song.seconds / ours:8.0f} x real time (at least 100)   "
          f"{ours / (second * song.seconds):5.2f} x NumPy's sines (at most 6)")  # fmt: skip
    print(f"the same, with loudness that varies    {song.seconds / theirs:8.0f} x real time")


def playback() -> None:
    """A minute of four voices in the desk's window, recorded, while the sheet is edited twice a second."""
    from null_sink import NullSink, StallWatch, disturb, lags, murmur

    if not NullSink.available:
        print("playback                               PulseAudio is not installed")
        return
    sink = NullSink()
    sink.start()
    os.environ |= sink.environment
    from PyQt6.QtCore import QTimer
    from PyQt6.QtTest import QTest

    from chickadee.desk.app import application, destroy, furnish, shown_window

    app = application()
    window = shown_window()
    desk = furnish(window)
    window.resize(1280, 800)
    app.processEvents()
    desk.player.wait_until_ready()
    QTest.qWait(3000)
    bars = (
        ("plucked string", "C5 E5=1/2 G5=1/2 A5 G5 |"), ("glass bell", "rest=1/2 C6 G5=3/2 E5 |"),
        ("wood bars", "C3 G3 E3 G3 |"), ("drum kit", "kick hat=1/2 hat=1/2 snare hat |"),
    )  # fmt: skip
    text = (
        "tempo: 120\n" + "\n".join(f"voice {name}\n sound: {name}\n ({bar}) x30" for name, bar in bars) + murmur(30)
    )
    desk.document.text_document.setPlainText(text)
    song = desk.document.reading.song
    score = np.concatenate(list(rendered(song)))[:, 0]
    onsets = sorted({round(float(song.tempo.seconds(note.start)) * RATE) for note in song.notes})
    turns = iter(range(1_000_000))

    timer = QTimer()
    timer.timeout.connect(lambda: disturb(desk, next(turns)))
    sink.record()
    with StallWatch() as watch:
        desk.playback.play_all()
        timer.start(500)
        while desk.player.playing:
            QTest.qWait(100)
    timer.stop()
    late = lags(sink.recorded(), score, onsets)
    print(
        f"a minute's playing while editing       {late.std():8.3f} ms rms late, {len(late)} onsets (at most 1); "
        f"the machine stood still for {1000 * watch.worst:.0f} ms at worst"
    )
    desk.player.close()
    destroy(window)
    sink.close()


def memory() -> None:
    code = (
        "import chickadee, resource; from chickadee.sound import rendered\n"
        "song = chickadee.read('tempo: 120\\n' + 'C4 E4 G4 E4 | ' * {bars}).song\n"
        "before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss\n"
        "for block in rendered(song): pass\n"
        "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)"
    )
    for bars, name in ((30, "1 minute"), (900, "30 minutes")):
        grown, peak = subprocess.run(
            [sys.executable, "-c", code.format(bars=bars)], capture_output=True, text=True, check=True
        ).stdout.split()
        print(
            f"memory to render {name:<10}            {int(grown) / 1024:8.1f} MB more, {int(peak) / 1024:.0f} MB at most"
        )


_EMPTY = """
from PyQt6.QtWidgets import QApplication, QMainWindow
class Window(QMainWindow):
    seen = False
    def paintEvent(self, event):
        self.seen = True
application, window = QApplication([]), Window()
window.resize(1280, 800)
window.show()
while not window.seen:
    application.processEvents()
"""
_UP = """
import chickadee.cli.main
from chickadee.desk.app import application, furnish, shown_window
from chickadee.demo import demo_folder
running, tune = application(), demo_folder() / "gull-point.chick"
window = shown_window(tune)
"""
_WHOLE = """
furnish(window).files.open_path(tune)
window.repaint()
running.processEvents()
"""


def window() -> None:
    environment = os.environ | {"PYTHONDONTWRITEBYTECODE": ""}  # compiled beforehand, as make demo and pip do

    def start(code: str) -> float:
        run = [sys.executable, "-c", code + "import os; os._exit(0)"]
        return best(lambda: subprocess.run(run, env=environment, capture_output=True, check=True), 6)

    bare = start(_EMPTY)
    up = start(_UP)
    whole = start(_UP + _WHOLE)
    print(
        f"window up and painted                  {up * 1e3:8.0f} ms   {up / bare:5.2f} x an empty window (at most 2)"
    )
    print(f"the desk and its tune laid into it     {whole * 1e3:8.0f} ms   {whole / bare:5.2f} x an empty window")


def editing() -> None:
    from PyQt6.QtCore import Qt
    from PyQt6.QtTest import QTest

    from chickadee.desk.app import application, destroy, furnish, shown_window

    app = application()
    window = shown_window()
    desk = furnish(window)
    window.resize(1280, 800)
    desk.editor.insertPlainText(sheet(2000))
    app.processEvents()

    def pressed() -> float:
        times = []
        for press in range(60):
            start = time.perf_counter()
            QTest.keyClick(desk.editor, Qt.Key.Key_4 if press % 2 else Qt.Key.Key_C)
            desk.timeline.viewport().repaint()
            times.append(time.perf_counter() - start)
        return 1e3 * statistics.quantiles(times, n=20)[-1]

    def scrolled() -> float:
        frames = []
        for _ in range(100):
            start = time.perf_counter()
            desk.timeline.horizontalScrollBar().setValue(desk.timeline.horizontalScrollBar().value() + 37)
            desk.timeline.viewport().repaint()
            frames.append(time.perf_counter() - start)
        return 1e3 * statistics.quantiles(frames, n=20)[-1]

    print(f"key press to painted roll, 2,000 notes {pressed():8.1f} ms p95 (at most 50)")
    desk.working.turn_to("programs")
    QTest.qWait(4000)
    print(f"the same with Programs open            {pressed():8.1f} ms p95 (at most 50)")
    desk.working.turn_to("findings")
    desk.actions_by_id["row.staff"].setChecked(True)
    print(f"the same with the row Staff            {pressed():8.1f} ms p95 (at most 50)")
    desk.actions_by_id["row.staff"].setChecked(False)
    desk.document.new()
    desk.editor.insertPlainText(sheet(20_000))
    desk.timeline.zoom(0.2)
    print(f"a frame of the roll, 20,000 notes      {scrolled():8.1f} ms p95 (at most 16)")
    desk.timeline.horizontalScrollBar().setValue(0)
    desk.actions_by_id["row.staff"].setChecked(True)
    desk.timeline.viewport().repaint()
    print(f"the same with the row Staff            {scrolled():8.1f} ms p95 (at most 16)")
    desk.timeline.horizontalScrollBar().setValue(0)
    desk.timeline.zoom(5)
    desk.timeline.viewport().repaint()
    print(f"the same, zoomed to stems and beams    {scrolled():8.1f} ms p95 (at most 16)")
    desk.actions_by_id["row.staff"].setChecked(False)
    destroy(window)


def worksheets() -> None:
    """Thirty worksheets on staves, each another."""
    song = chickadee.open(demo_folder() / "night-boat.chick").song
    for task in ("names", "match"):
        made = best(lambda task=task: class_set(song, Request(task=task), 30, 5, "staff-worksheet"), 3)  # type: ignore[misc]
        print(f"thirty worksheets on staves, {task:<9} {made:8.2f} s (at most 2)")


def programs() -> None:
    """A program of 2,000 lines in its panel: scrolled and lit, and a copy of a pupil's program that is typed in."""
    from PyQt6.QtTest import QTest

    from chickadee.desk.app import application, destroy, furnish, shown_window
    from chickadee.desk.working.spec import PanelSize
    from chickadee.handed_in import Source

    app = application()
    window = shown_window()
    desk = furnish(window)
    window.resize(1280, 800)
    desk.editor.insertPlainText(sheet(2000))
    app.processEvents()
    desk.working.turn_to("programs")
    desk.working.set_size(PanelSize.OVER)
    desk.program_choice.choose("steps", "line", "")
    panel = desk.panel("programs")
    while panel.tune.program is None:
        QTest.qWait(50)
    tune = panel.tune
    frames = []
    for _ in range(200):
        start = time.perf_counter()
        place = tune.walk.step()
        tune.code.show_line(tune.walk.performance.performed[place].line * 9 % tune.code.blockCount() + 1)
        tune.code.viewport().repaint()
        frames.append(time.perf_counter() - start)
    p95 = statistics.quantiles(frames, n=20)[-1]
    print(f"a frame of a program, {tune.code.blockCount():,} lines       {p95 * 1e3:8.1f} ms p95 (at most 16)")
    text = "for n in [60, 62, 64, 65]:\n    play(n, 1)\n    rest(1)\n" * 20
    panel.pupil.open_source(Source("Pasted", data=text.encode()))
    while desk.program.is_tracing:
        QTest.qWait(10)
    panel.pupil.try_out.setChecked(True)
    while desk.program.is_tracing:
        QTest.qWait(10)
    typed = []
    for _ in range(20):
        start = time.perf_counter()
        panel.pupil.code.textCursor().insertText("#")
        while desk.program.is_tracing:
            app.processEvents()
        typed.append(time.perf_counter() - start)
    p95 = statistics.quantiles(typed, n=20)[-1]
    destroy(window)
    print(f"a key in a pupil's program, traced     {p95 * 1e3:8.1f} ms p95")


def importing() -> None:
    """A file of 30,000 notes, read and written as a sheet."""
    for played, how in ((False, "exact"), (True, "played by hand")):
        data = large_file(played)
        baseline = best(lambda data=data: events_in(data), 5)  # type: ignore[misc]
        ours = best(lambda data=data: arranged(smf.read(data)), 3)  # type: ignore[misc]
        print(f"30,000 MIDI notes to a sheet, {how:<14} {ours / baseline:6.1f} x tokenizing (at most 20)")


def listening() -> None:
    """A recording of five minutes, read and listened to in a process of its own, on one core."""
    notes = " ".join(random.Random(2).choice(("60", "64", "67", "72", "69")) for _ in range(600))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "long.wav"
        chickadee.write(chickadee.read(f"tempo: 120\n{notes}"), path)
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        heard = Listening(path).heard()
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
    assert heard is not None
    took = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
    print(f"a recording of five minutes, heard      {heard.seconds / took:7.1f} x real time (at least 20), "
          f"{len(heard.notes)} of 600 notes")  # fmt: skip


def stretching() -> None:
    """A minute of four voices, made half as fast at its own pitch in blocks as the player does."""
    bars = "\n".join(f"voice V{number}\n (C4 E4=1/2 G4=1/2 C5 G4 |) x30" for number in range(4))
    sound = np.concatenate(list(rendered(read(f"tempo: 120\n{bars}").song))).mean(axis=1)
    source = InMemory(sound, RATE)
    taken = best(lambda: stretched(source, 0.5), 2)
    print(f"a minute stretched to 50 %              {2 * len(sound) / RATE / taken:7.1f} x real time as it is heard")


def comparing() -> None:
    """A class of a thousand, read and judged in processes of their own."""
    with tempfile.TemporaryDirectory() as folder:
        model = Model(read(lay_out(Path(folder), 1000)).song)
        start = time.perf_counter()
        done = list(judging(model, handed_in([folder]).sources).results())
        taken = time.perf_counter() - start
        work = judging(model, handed_in([folder]).sources)
        results = work.results()
        next(results)
        start = time.perf_counter()
        work.stop()
        list(results)
        stopped = time.perf_counter() - start
    print(f"1,000 attempts of 200 notes, compared  {taken:8.1f} s (at most 10), {len(done)} judged")
    print(f"comparing them, cancelled              {stopped * 1e3:8.0f} ms (at most 500)")


def tracing() -> None:
    """A long program beside Python's own parser, many steps, and thirty programs of a class."""
    text = "".join(f"play({60 + line % 12}, 1)\nn{line} = [{line}, 2, 3]\n" for line in range(1000))
    parsed = best(lambda: ast.parse(text))
    traced_whole = best(lambda: traced(read_program(text, "python")), 3)
    loop = "t = 0\nfor i in range(60000):\n    t = t + i * 2\n    if t > 9:\n        t = 0\n"
    program = read_program(loop, "python")
    taken = best(lambda: traced(program), 3)
    print(f"a program of 2,000 lines, traced       {traced_whole / parsed:8.1f} x ast.parse (at most 20)")
    print(
        f"steps of a program                     {_LOOP_STEPS / taken / 1000:8.0f} thousand a second (at least 300)"
    )
    songs = Path(chickadee.__file__).parent / "songs"
    model = Model(read((songs / "fogbank-round.chick").read_text("utf-8")).song, (0,))
    sources = handed_in([songs / "classes" / "fogbank-round"]).sources * 2
    start = time.perf_counter()
    done = list(judging(model, sources).results())
    print(f"{len(done)} programs, compared                  {time.perf_counter() - start:8.1f} s (at most 3)")


def page() -> None:
    """A page that plays, of four voices of two minutes."""
    voices = (("flute", 67), ("reed pipe", 60), ("plucked string", 55), ("bowed string", 43))
    text = "tempo: 120\n" + "\n".join(
        f"voice Voice {place}\n  sound: {sound}\n  {' '.join(str(low + step) for step in (0, 4, 7, 5, 9, 12, 11, 2) * 30)}"
        for place, (sound, low) in enumerate(voices)
    )
    reading = read(text)
    start = time.perf_counter()
    written = playing_page(reading)
    taken = time.perf_counter() - start
    print(
        f"a page that plays, four voices of 2 min {taken:8.2f} s, {len(written.encode()) / 1e6:.2f} MB (at most 2 s, 1 MB)"
    )


MEASURES = {
    "comparing": comparing,
    "tracing": tracing,
    "importing": importing,
    "listening": listening,
    "reading": reading,
    "stretching": stretching,
    "proportion": proportion,
    "worst_inputs": worst_inputs,
    "long line": long_line,
    "the bound": at_the_bound,
    "rendering": rendering,
    "memory": memory,
    "playback": playback,
    "window": window,
    "editing": editing,
    "worksheets": worksheets,
    "programs": programs,
    "page": page,
}

if __name__ == "__main__":
    if sys.argv[1:]:
        for name in sys.argv[1:]:
            MEASURES[name]()
    else:
        print(
            f"{platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}, NumPy {np.__version__}",
            flush=True,
        )
        for name in MEASURES:  # each in a process of its own, so that none leaves work to another
            subprocess.run([sys.executable, __file__, name], check=True)

"""Take the pictures in docs/screenshots from the demo tunes: ``make shots``."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.append(str(Path(__file__).parent.parent / "benchmarks"))  # for browser

from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

import browser
import chickadee
from chickadee.demo import demo_folder
from chickadee.desk.app import application, destroy, furnish, shown_window
from chickadee.desk.desk import Desk
from chickadee.desk.handout.files import page_image
from chickadee.desk.mix import Mark
from chickadee.desk.working.spec import PanelSize
from chickadee.formats.arranging import arranged
from chickadee.formats.imported import Form, Imported
from chickadee.handout.canvas import Canvas
from chickadee.handout.pages import PAGES, pages_of
from chickadee.handout.request import Gaps, Request
from chickadee.handout.shapes import Paper
from chickadee.handout.staff_score import add_systems, staff_engraver
from chickadee.incoming import Brought
from chickadee.program_sheets import program_sheet
from chickadee.programs.writing.catalogue import shipped
from chickadee.programs.writing.dialect import Level
from chickadee.web.page import PageChoices, playing_page

GOAL = Path(__file__).parent.parent / "docs" / "screenshots"
FAULTY = """title: A tune with findings
tempo: 92
meter: 3/4
key: G major

voice Whistle
  sound: flute
  range: D4 to B4
  G4 B4 A4 | E4=2 D4 | G4 A4 C5 | B4=3 |
  69 71 H4 | 67=2 64 | 62=1/2 64=1/2 67 66 69 | 67=0.33 |
"""


def choose(index: int) -> Callable[[Desk], None]:
    return lambda desk: desk.selection.choose_note(index)


def put(text: str) -> Callable[[Desk], None]:
    def fill(desk: Desk) -> None:
        desk.document.new()
        desk.editor.insertPlainText(text)
        desk.editor.select(0, 0)
        desk.editor.verticalScrollBar().setValue(0)
        desk.timeline.show_tune_from_start()

    return fill


def switch(*actions: str) -> Callable[[Desk], None]:
    def turn_on(desk: Desk) -> None:
        for action in actions:
            desk.actions_by_id[action].trigger()
        melody = [index for index, note in enumerate(desk.document.reading.song.notes) if note.voice == 0]
        desk.selection.choose_note(melody[6])

    return turn_on


def wave(desk: Desk) -> None:
    desk.working.turn_to("wave")
    desk.selection.choose_note(6)
    desk.working.set_size(PanelSize.OVER)


def voices(desk: Desk) -> None:
    desk.working.turn_to("voices")
    desk.panel("voices").rows[1].marks[Mark.MUTE].setChecked(True)
    desk.selection.choose_note(4)


def rows(desk: Desk) -> None:
    for title in ("Staff", "Step", "Interval"):
        desk.actions_by_id[f"row.{title.lower().replace(' ', '-')}"].trigger()
    desk.actions_by_id["keyboard.show"].trigger()
    desk.selection.choose_note(4)
    desk.timeline.edit_cell("Name")


def transpose(desk: Desk) -> None:
    desk.selection.bring_forward(0)
    desk.working.turn_to("transpose")
    desk.panel("transpose").set_values("by an interval", "up", "major sixth")


def facts(desk: Desk) -> None:
    desk.selection.choose_note(4)
    desk.working.turn_to("facts")
    desk.working.set_size(PanelSize.ACROSS)


def found(desk: Desk) -> None:
    """A tune as it is played by hand, a little early and late, as a MIDI file that comes in."""
    song = desk.document.reading.song
    away = (0, 9, -14, 21, -6, 17, -25, 4, 12, -9)
    notes = [
        note._replace(start=max(0, note.start + away[place % 10] * 16_800), length=note.length * 9 // 10)
        for place, note in enumerate(song.notes)
    ]
    played = replace(song, notes=tuple(sorted(notes, key=lambda note: (note.start, note.voice, note.number))))
    found = Imported(played, Form.MIDI)
    desk.arrivals.bring(Brought(found, arranged(found)), "night-boat.mid")
    desk.timeline.show_tune_from_start()


def compare(desk: Desk) -> None:
    desk.working.turn_to("compare")
    panel = desk.panel("compare")
    panel.what.setCurrentText("the voice Whistle")
    desk.panel("compare").work.add_paths([desk.files.folder / "classes" / "gull-point"])
    while not desk.panel("compare").work.attempts or desk.panel("compare").work.of:
        QTest.qWait(50)
    QTest.qWait(150)
    desk.actions_by_id["view.narrower"].trigger()
    panel.choose(next(each for each in desk.panel("compare").work.attempts if "dippers" in each.source.name))


def programs(desk: Desk) -> None:
    """The wheel of Mill Reach as a program with parts, gone through to its third turn."""
    desk.working.turn_to("programs")
    desk.program_choice.choose("python", "parts", "Wheel")
    tune = desk.panel("programs").tune
    while tune.program is None or tune.program.level.value != "parts":
        QTest.qWait(50)
    for _ in range(16):
        tune.step.click()
    QTest.qWait(150)


def pupil(desk: Desk) -> None:
    """A class of programs, one of them opened with its fault and its difference."""
    desk.working.turn_to("compare")
    panel = desk.panel("compare")
    panel.what.setCurrentText("the voice First boat")
    panel.work.add_paths([desk.files.folder / "classes" / "fogbank-round"])
    while not panel.work.attempts or panel.work.of:
        QTest.qWait(50)
    panel.choose(next(each for each in panel.work.attempts if each.source.label == "shrews"))
    panel.show_program()
    while desk.program.view is None:
        QTest.qWait(50)
    QTest.qWait(150)


def boards(desk: Desk) -> None:
    desk.working.turn_to("send")
    desk.panel("send").targets.setCurrentText("lantern")
    QTest.qWait(200)
    desk.selection.choose_note(9)


def handout(desk: Desk) -> None:
    desk.working.turn_to("handout")
    panel = desk.panel("handout")
    panel.kinds.setCurrentRow(list(PAGES).index("worksheet"))
    panel.group_line.setText("Class of the ferry")
    QTest.qWait(300)


def ideas(desk: Desk) -> None:
    desk.working.turn_to("ideas")
    panel = desk.panel("ideas")
    while panel.gallery.count() < 10:
        QTest.qWait(50)
    panel.gallery.setCurrentRow(4)
    panel.lock.click()


def recording(desk: Desk) -> None:
    """Gull Point's whistle, sung by ourselves with one note other than it is written, under the tune."""
    sheet = desk.document.text.split("voice Buoys")[0].replace("A4 C5", "A4 D5")
    path = desk.files.folder / "gull-point.wav"
    chickadee.write(chickadee.read(sheet), path)
    desk.working.turn_to("recording")
    panel = desk.panel("recording")
    panel.listen_to(path)
    while panel.heard is None:
        QTest.qWait(50)
    QTest.qWait(400)
    panel.table.selectRow(0)


def draw_pages(shelf: Path) -> None:
    """Pictures of some kinds of page, several in each."""
    for goal, (tune, names) in DRAWN.items():
        reading = chickadee.open(shelf / f"{tune}.chick")
        program = program_sheet(reading, [len(reading.song.voices) - 1], shipped()["steps"], Level.PARTS)
        request = Request(group="Class of the ferry", program=program, gaps=Gaps("every", 2))
        pages = [page_image(pages_of(name, reading.song, request)[0], PAGE_WIDTH) for name in names]
        side_by_side(pages, GOAL / f"{goal}.png")


def draw_notation() -> None:
    """Each rule of notation once, in two columns."""
    columns = []
    for examples in (EXAMPLES[:7], EXAMPLES[7:]):
        canvas = Canvas(Request(COLUMN, for_pupils=False), "", with_head=False)
        canvas.begin_page()
        for caption, text in examples:
            song = chickadee.read(text).song
            canvas.heading(caption)
            voices = [0] if "one staff" in caption else range(len(song.voices))
            engraver = staff_engraver(song, voices, beside=1 if "one staff" in caption else None)
            add_systems(canvas, replace(engraver, tempo=""), 1.6)
        columns.append(page_image(canvas.pages()[0], COLUMN_WIDTH))
    side_by_side(columns, GOAL / "notation.png", columns=2)


def side_by_side(pictures: list[QImage], path: Path, columns: int = 4) -> None:
    """Several pictures of one size in one, in so many columns."""
    wide = pictures[0].width() + GAP
    high = pictures[0].height() + GAP
    rows = -(-len(pictures) // columns)
    whole = QImage(wide * columns - GAP, high * rows - GAP, QImage.Format.Format_RGB32)
    whole.fill(QColor("#9aa4ab"))
    painter = QPainter(whole)
    for place, each in enumerate(pictures):
        painter.drawImage(place % columns * wide, place // columns * high, each)
    painter.end()
    whole.save(str(path))


SHOTS: dict[str, tuple[str, Callable[[Desk], QWidget | None]]] = {
    "desk": ("gull-point", choose(4)),
    "rows": ("gull-point", rows),
    "evening": ("night-boat", switch("look.evening")),
    "projector": ("orrin-quay", switch("look.projector")),
    "transpose": ("gull-point", transpose),
    "found": ("night-boat", found),
    "compare": ("gull-point", compare),
    "programs": ("mill-reach", programs),
    "pupil": ("fogbank-round", pupil),
    "boards": ("gull-point", boards),
    "handout": ("gull-point", handout),
    "ideas": ("gull-point", ideas),
    "recording": ("gull-point", recording),
}
PANELS: dict[str, tuple[str, Callable[[Desk], QWidget | None]]] = {
    "findings": ("gull-point", put(FAULTY)),
    "facts": ("night-boat", facts),
    "voices": ("gull-point", voices),
    "wave": ("gull-point", wave),
}
"""Panels that share a picture."""
DRAWN = {
    "pages": ("gull-point", ("tune", "worksheet", "keys", "song")),
    "pages-on-staves": ("gull-point", ("staff", "staff-worksheet", "flashcards", "chart")),
    "pages-of-programs": ("mill-reach", ("program", "puzzle", "gaps", "trace")),
}
"""Kinds of page that share a picture, by its name, and the tune that they are made from."""
PAGE_WIDTH = 640
COLUMN = Paper(150.0, 240.0, 8.0)
COLUMN_WIDTH = 900
EXAMPLES = (
    (
        "Syncopation, and a tie that shows the middle of the bar",
        "C5=1/2 A4 C5=1/2 B4 A4 | G4 A4=2 G4 | E4=1/2 G4=3/2 A4=2 |",
    ),
    (
        "Dotted notes, beams by the beat, rests",
        "G4=3/2 A4=1/2 B4=3/4 C5=1/4 D5=1/4 C5=1/2 B4=1/4 | A4=1/2 rest=1/2 G4 E4=7/4 D4=1/4 | rest=4 |",
    ),
    (
        "6/8, and 7/8 as 2 + 2 + 3, with a pickup",
        "meter: 6/8\npickup: 1\nD4 | G4 A4 B4 C5=2 B4 | [meter 7/8] A4 B4 C5 D5 C5 B4 A4 | G4=4 D4=3 |",
    ),
    (
        "Tuplets, over a rest, of five and six, across a beat",
        "(C5 rest A4)=1 (G4 A4 B4 C5 D5)=1 (E5 D5 C5 B4 A4 G4)=1 (G4 A4 B4)=1 | (C5 B4 A4)=2 G4=1/3 E4=5/3 |",
    ),
    (
        "Accidentals and courtesy ones; double sharps and flats",
        "key: D major\nF#4 F4 F#4 G#4 | G4 F#4 C5 B4 | F##4 G4 Bbb4 A4 |",
    ),
    (
        "Key and meter changes",
        "key: Eb major\nEb4 F4 G4 Bb4 | [key G major] [meter 3/4] B4 A4 G4 | [key C major] E4 F4 G4 |",
    ),
    ("Ledger lines, and clefs by the range", "voice High\n  C7 A6 G6 E6\nvoice Low\n  C2 E2 A2 D4"),
    (
        "Chords with seconds, unisons, accidentals in columns",
        "C4&D4&E4 F#4&G#4&Bb4 {Am} {G7} | E4&F4&G4&A4=2 C5&C#5=2 |",
    ),
    (
        "Two voices on one staff",
        "voice High\n  E5=2 D5=1/2 C5=1/2 B4 | C5 B4 A4 rest | A4=4 |\nvoice Low\n  C4=2 F4 G4 | A4=2 rest F4 | G4=1/2 F4=1/2 E4 F4=2 |",
    ),
    ("Two hands", "voice Piano\n  C3&G4 G3&A4=1/2 G3&B4=1/2 C3&C5=2 | F2&C3&A4=2 G2&B4=2 | C2&G2&E4&C5=4 |"),
    (
        "Drums",
        "voice Kit\n  sound: drum kit\n  kick&hat hat=1/2 hat=1/2 snare&hat open-hat | crash&kick high-tom=1/2 mid-tom=1/2 low-tom ride |",
    ),
    (
        "Words, chord symbols, loudness, accents, short notes",
        "voice Song\n  level: p\n  G4 B4 'A4 >G4 | [f] E4=2 D4=2 |\n  words: gulls come down to land- ing\nvoice Chords\n  {G}=4 | {C}=2 {D}=2 |",
    ),
)
"""Captions and sheets of what the picture of notation shows."""
SMALL = (900, 600)
"""Pixels of a window that shares a picture with others."""
GAP = 24


def main(names: list[str]) -> None:
    app = application()  # kept alive as long as the windows
    GOAL.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as home:
        os.environ |= {f"XDG_{name}_HOME": home for name in ("DATA", "STATE", "CONFIG", "CACHE")}
        shelf = demo_folder()
        draw_pages(shelf)
        draw_notation()
        if not names or "page" in names:
            photograph_page(home, shelf)
        if not names or "panels" in names:
            panels = [taken(home, shelf, name, *PANELS[name], over) for name in PANELS]
            side_by_side(panels, GOAL / "panels.png", columns=2)
        for name in [each for each in names or SHOTS if each in SHOTS]:
            taken(home, shelf, name, *SHOTS[name]).save(str(GOAL / f"{name}.png"))
    del app


def photograph_page(home: str, shelf: Path) -> None:
    """Take a page that plays in a browser, where there is one, in the middle of its tune."""
    if not browser.available():
        print("Chromium is not installed: page.png stays as it is.")
        return
    path = Path(home) / "page.html"
    tune = chickadee.open(shelf / "gull-point.chick")
    path.write_text(playing_page(tune, PageChoices(gaps=Gaps("every", 4))), encoding="utf-8")
    driver = browser.started(Path(home) / "profile")
    driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride", {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    )
    driver.get(path.as_uri())
    QTest.qWait(1500)
    fill = "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('change'))"
    first, second = driver.find_elements("css selector", ".gap input")[:2]
    driver.execute_script(fill, first, first.get_attribute("data-answer"))
    driver.execute_script(fill, second, "B4")
    driver.find_element("id", "play").click()
    QTest.qWait(1500)
    driver.save_screenshot(str(GOAL / "page.png"))
    driver.quit()


def over(desk: Desk) -> None:
    """Lay the panel over everything, in a small window."""
    desk.window().resize(*SMALL)
    desk.working.set_size(PanelSize.OVER)


def taken(
    home: str,
    shelf: Path,
    name: str,
    tune: str,
    prepare: Callable[[Desk], QWidget | None],
    finish: Callable[[Desk], None] | None = None,
) -> QImage:
    """A picture of the window."""
    os.environ["XDG_CONFIG_HOME"] = f"{home}/{name}"  # no shot remembers another's switches
    window = shown_window()
    window.resize(1280, 800)
    desk = furnish(window, shelf)
    desk.files.open_path(shelf / f"{tune}.chick")
    desk.shelf.read_all()
    shown = prepare(desk) or window
    if finish is not None:
        finish(desk)
    QTest.qWait(150)  # some things follow a little later
    picture = shown.grab().toImage()
    desk.keyboard.play_on_keys(False)
    desk.player.close()
    desk.stop_work()
    desk.recovery.close()
    destroy(window)
    return picture


if __name__ == "__main__":
    main(sys.argv[1:])

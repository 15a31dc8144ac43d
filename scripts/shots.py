"""Take the pictures in docs/screenshots from the demo tunes: ``make shots``."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

import chickadee
from chickadee.demo import demo_folder
from chickadee.desk.app import application, destroy, furnish, shown_window
from chickadee.desk.desk import Desk
from chickadee.desk.handout.files import page_image
from chickadee.desk.mix import Mark
from chickadee.desk.working.spec import PanelSize
from chickadee.formats.arranging import arranged
from chickadee.formats.imported import Form, Imported
from chickadee.handout.pages import PAGES, pages_of
from chickadee.handout.request import Request
from chickadee.incoming import Brought

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
    for title in ("Step", "Interval", "Frequency"):
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
    """Pictures of some kinds of page, made from Gull Point, two in each."""
    song = chickadee.open(shelf / "gull-point.chick").song
    for names in DRAWN:
        pages = [
            page_image(pages_of(name, song, Request(group="Class of the ferry"))[0], PAGE_WIDTH) for name in names
        ]
        both = QImage(2 * PAGE_WIDTH + GAP, max(page.height() for page in pages), QImage.Format.Format_RGB32)
        both.fill(QColor("#9aa4ab"))
        painter = QPainter(both)
        for place, page in enumerate(pages):
            painter.drawImage(place * (PAGE_WIDTH + GAP), 0, page)
        painter.end()
        both.save(str(GOAL / f"pages-{'-'.join(names)}.png"))


SHOTS: dict[str, tuple[str, Callable[[Desk], QWidget | None]]] = {
    "desk": ("gull-point", choose(4)),
    "findings": ("gull-point", put(FAULTY)),
    "wave": ("gull-point", wave),
    "voices": ("gull-point", voices),
    "rows": ("gull-point", rows),
    "evening": ("night-boat", switch("look.evening")),
    "projector": ("orrin-quay", switch("look.projector")),
    "transpose": ("gull-point", transpose),
    "facts": ("night-boat", facts),
    "found": ("night-boat", found),
    "compare": ("gull-point", compare),
    "programs": ("fogbank-round", programs),
    "boards": ("gull-point", boards),
    "handout": ("gull-point", handout),
    "ideas": ("gull-point", ideas),
    "recording": ("gull-point", recording),
}
DRAWN = (("tune", "worksheet"), ("keys", "song"))
"""Kinds of page that share a picture."""
PAGE_WIDTH = 900
GAP = 24


def main(names: list[str]) -> None:
    app = application()  # kept alive as long as the windows
    GOAL.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as home:
        os.environ |= {f"XDG_{name}_HOME": home for name in ("DATA", "STATE", "CONFIG", "CACHE")}
        shelf = demo_folder()
        draw_pages(shelf)
        for name in names or SHOTS:
            tune, prepare = SHOTS[name]
            os.environ["XDG_CONFIG_HOME"] = f"{home}/{name}"  # no shot remembers another's switches
            window = shown_window()
            window.resize(1280, 800)
            desk = furnish(window, shelf)
            desk.files.open_path(shelf / f"{tune}.chick")
            desk.shelf.read_all()
            shown = prepare(desk) or window
            app.processEvents()
            QTest.qWait(150)  # some things follow a little later
            shown.grab().save(str(GOAL / f"{name}.png"))
            desk.keyboard.play_on_keys(False)
            desk.player.close()
            desk.recovery.close()
            destroy(window)


if __name__ == "__main__":
    main(sys.argv[1:])

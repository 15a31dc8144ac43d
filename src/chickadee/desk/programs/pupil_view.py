"""A pupil's program: its faults and differences, how it was understood, and a copy of it to try things out in."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QHideEvent, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...comparison.model import Model
from ...display import words
from ...display.program_view import Mark, ProgramView, Wanted
from ...formats.arranging import arranged
from ...handed_in import Source
from ...incoming import Brought
from ...programs.corrections import UNITS, Correction
from ...programs.meaning import Understood
from ...programs.vocabulary import Verb
from ...programs.writing.program_text import Performance
from ..clicks import on_click
from ..clipboard import copy_text
from ..eliding import ElidedLabel
from ..flowing_row import FlowingRow
from ..parts import describe, plain_box
from ..plain_text import PlainLabel, hint_of
from ..theme import Look
from ..working.panel import PanelContext
from .code_view import CodeView
from .walk import Walk

__all__ = ["PupilView"]

_EMPTY = (
    "No program is open. Choose a pupil’s program in Compare and press “Open the program”, "
    "or drop or paste one here: Python, JavaScript, C, C++, Java or plain steps."
)
# pixels at scale 1
_WIDE = 760
_LEAST_HEIGHT = 34
_LEAST_CODE = 120
_MEANINGS: tuple[tuple[str, Verb | None, bool | None], ...] = (
    ("note that holds", Verb.STRIKE, True),
    ("note, at once", Verb.STRIKE, False),
    ("lets time pass", Verb.SILENCE, None),
    ("sets the tempo", Verb.TEMPO, None),
    ("not in the tune", None, None),
)
_UNIT_NAMES = {"beats": "in beats", "ms": "in milliseconds", "seconds": "in seconds"}


class PupilView(QWidget):
    """Shows the opened program; what is put right about its calls is kept for the folder."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__()
        self.context = context
        self.program = context.program
        self.title = ElidedLabel("")
        self.code = CodeView(context.appearance.look)
        self.marks = QListWidget()
        self.marks.setAccessibleName("Faults and differences")
        self.marks.setWordWrap(True)
        self.back = QPushButton("‹ The tune")
        self.try_out = QPushButton("Try out")
        self.try_out.setCheckable(True)
        self.try_out.setObjectName("choice")
        self.step = QPushButton("Step")
        self.hear = QPushButton("Hear")
        self.take = QPushButton("Take it as a new tune")
        self.copy = QPushButton("Copy")
        self.paste = QPushButton("Paste")
        describe(
            (self.back, "Back to the tune as a program"),
            (self.try_out, "Change a copy of the text and see at once what it sounds; the file stays as it is"),
            (self.step, "Go to the next strike and sound it"),
            (self.hear, "Hear what the program sounds, from its start; the lines that sound are lit"),
            (self.take, "Begin a tune with what it sounds, its repeats and parts as they are"),
            (self.copy, "Copy the program's text"),
            (self.paste, "Take what is in the clipboard as a program"),
        )
        self._rows = QWidget()
        self._grid = QGridLayout(self._rows)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setWidget(self._rows)
        self.choices: dict[str, tuple[QComboBox, QComboBox]] = {}
        """For each call the boxes of what it does and of its unit."""
        self.walk = Walk(self.code, self)
        self._played = False  # whether it is this program that is heard
        self._lay_out()
        self._connect()
        self.show_program()

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        head = QHBoxLayout()
        head.addWidget(self.back)
        head.addWidget(self.title, 1)
        feet = FlowingRow(self.step, self.hear, self.try_out, self.copy, self.paste, self.take)
        feet.setSpacing(6)
        self._body = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        side = QVBoxLayout()
        self._how = PlainLabel("How it was understood")
        self._what = PlainLabel("Faults and differences")
        side.addWidget(self._how)
        side.addWidget(self._scroll, 2)
        side.addWidget(self._what)
        side.addWidget(self.marks, 3)
        text = QVBoxLayout()
        text.addWidget(self.code, 1)
        text.addLayout(feet)
        self._body.addLayout(text, 3)
        self._body.addLayout(side, 2)
        self._column.addLayout(head)
        self._column.addLayout(self._body, 1)

    def _connect(self) -> None:
        self.program.changed.connect(self.show_program)
        self.program.faulty.connect(self.context.notice.say)
        self.try_out.toggled.connect(self._try_out)
        self.code.textChanged.connect(self._follow_text)
        self.code.line_chosen.connect(self.walk.go_to_line)
        player = self.context.playback.player
        player.moved.connect(self._follow_sound)
        player.stopped.connect(self._end_sound)
        on_click(self.step, self.next_step)
        self.marks.itemActivated.connect(self._go_to)
        self.marks.itemClicked.connect(self._go_to)
        on_click(self.hear, self.hear_program)
        on_click(self.take, self._take_as_tune)
        on_click(self.copy, self._copy)
        on_click(self.paste, self.paste_program)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._column.setContentsMargins(*(look.px(side) for side in (12, 6, 12, 8)))
        self._column.setSpacing(look.px(6))
        self._body.setSpacing(look.px(10))
        self._grid.setContentsMargins(0, 0, look.px(4), 0)
        self._grid.setSpacing(look.px(4))
        for view in (self.code, self._scroll, self.marks):
            view.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)  # they scroll
            view.setMinimumHeight(look.px(_LEAST_HEIGHT))
        self.code.setMinimumHeight(look.px(_LEAST_CODE))
        for label in (self._how, self._what):
            label.setFont(look.font(12, bold=True))
        self.code.set_look(look)

    @property
    def look(self) -> Look:
        """The look to draw with."""
        return self.context.appearance.look

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The sentences stand under the text where it is narrow."""
        wide = self.width() > self.look.px(_WIDE)
        self._body.setDirection(QBoxLayout.Direction.LeftToRight if wide else QBoxLayout.Direction.TopToBottom)

    # What is shown

    def show_program(self) -> None:
        """Show the program as it was traced last."""
        view = self.program.view
        self.title.show_words(self._titled(view))
        trying = self.program.copy is not None
        if not trying:
            self.try_out.setChecked(False)
        if view is None or not trying or view.text == self.code.toPlainText():
            self._show_view(view)

    def _show_view(self, view: ProgramView | None) -> None:
        is_other = self.code.show_text(view.text if view else "", view.marks if view else ())
        if is_other and view is not None and view.marks:
            self.code.reveal(next((mark for mark in view.marks if mark.is_fault), view.marks[0]))
        self.code.setPlaceholderText("" if self.program.is_tracing else _EMPTY)
        self.walk.show(view.performance if view else Performance())
        self.marks.clear()
        for mark in view.marks if view else ():
            item = QListWidgetItem(_sentence(mark))
            item.setData(Qt.ItemDataRole.UserRole, mark)
            self.marks.addItem(item)
        for sentence in view.said if view else ():
            self.marks.addItem(QListWidgetItem(sentence))
        if view is not None and view.judgement and not view.differences:
            self.marks.addItem(QListWidgetItem(view.judgement))
        self._show_understood(view)
        sounds = view is not None and view.found is not None
        for button in (self.hear, self.take, self.step):
            button.setEnabled(sounds)
        for button in (self.copy, self.try_out):
            button.setEnabled(view is not None)
        for widget in (self._how, self._scroll, self._what, self.marks):
            widget.setVisible(view is not None and not view.failure)
        self.lay_over()

    def lay_over(self) -> None:
        """Lay its notes over the tune while it is seen."""
        view = self.program.view
        if view is not None and view.beside and self.isVisible():
            self.context.overlay.lay(view.name, view.beside, view.differences)
        elif self.isVisible():
            self.context.overlay.clear()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Its notes are taken off the tune."""
        self.context.overlay.clear()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Its notes lie over the tune again."""
        self.lay_over()

    def _titled(self, view: ProgramView | None) -> str:
        if self.program.is_tracing:
            return "Tracing…"
        if view is None:
            return ""
        if view.failure:
            return f"{view.name}: {view.failure}"
        notes = words.counted(len(view.found.song.notes), "note") if view.found is not None else "no notes"
        return f"{view.name} · {view.language} · {notes} · {view.uses}"

    def _show_understood(self, view: ProgramView | None) -> None:
        """A row for each verb, and for each other call that may be one after all."""
        for row in reversed(range(self._grid.count())):
            item = self._grid.takeAt(row)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        self.choices = {}
        for each in view.understood if view else ():
            self._add_row(each.call, f"{each.call}({each.arguments})", each.sentence, _meaning_of(each), each)
        for name in view.others if view else ():
            said = f"{name}(…) was taken to be no part of the tune."
            self._add_row(name, f"{name}(…)", said, len(_MEANINGS) - 1, None)
        self._grid.setColumnStretch(1, 1)
        self._grid.setRowStretch(len(self.choices), 1)

    def _add_row(self, call: str, shown: str, sentence: str, meaning: int, understood: Understood | None) -> None:
        name = PlainLabel(shown)
        name.setToolTip(hint_of(sentence))
        kind = plain_box(QComboBox())
        kind.setAccessibleName(f"What {call} does")
        kind.setToolTip(hint_of(sentence))
        for text, _, _ in _MEANINGS:
            kind.addItem(text)
        kind.setCurrentIndex(meaning)
        kind.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        kind.setMinimumContentsLength(16)
        unit = plain_box(QComboBox())
        unit.setAccessibleName(f"How {call} counts time")
        for name_of_unit in UNITS:
            unit.addItem(_UNIT_NAMES[name_of_unit], name_of_unit)
        is_timed = understood is not None and understood.verb is not Verb.TEMPO
        unit.setCurrentIndex(UNITS.index(understood.unit) if understood is not None else 0)
        unit.setEnabled(is_timed and understood is not None and understood.roles.length is not None)
        row = len(self.choices)
        for column, widget in enumerate((name, kind, unit)):
            self._grid.addWidget(widget, row, column)
        kind.activated.connect(partial(self._correct, call))
        unit.activated.connect(partial(self._correct, call))
        self.choices[call] = (kind, unit)

    def _correct(self, call: str, chosen: int) -> None:
        kind, unit = self.choices[call]
        meaning = _MEANINGS[kind.currentIndex()]
        verb = meaning[1]
        wanted = unit.currentData() if unit.isEnabled() else None
        self.program.correct(call, Correction(verb, verb is None, meaning[2], wanted))

    def _go_to(self, item: QListWidgetItem) -> None:
        mark = item.data(Qt.ItemDataRole.UserRole)
        if isinstance(mark, Mark):
            self.code.go_to(mark)

    # What is done with it

    def hear_program(self) -> None:
        """Hear what the program sounds."""
        view = self.program.view
        if view is not None and view.found is not None:
            self.context.playback.play_in_turn((view.found.song, 0, None))
            self._played = True

    def next_step(self) -> None:
        """Go to the next strike, and sound it."""
        view = self.program.view
        place = self.walk.step()
        if place >= 0 and view is not None and view.found is not None:
            song = view.found.song
            numbers = [song.notes[note].number for note in self.walk.performance.performed[place].notes]
            self.context.audition.notes(numbers)

    def _follow_sound(self, tick: float) -> None:
        if self._played and self.isVisible():
            self.walk.follow(tick)

    def _end_sound(self) -> None:
        if self._played:
            self._played = False
            self.walk.follow(-1)

    def _try_out(self, on: bool) -> None:
        """Let a copy of the text be changed, or show the program's own again."""
        self.code.set_editable(on)
        if on:
            self.code.setFocus()
        self.program.try_out(self.code.toPlainText() if on else None)

    def _follow_text(self) -> None:
        if self.try_out.isChecked():
            self.program.try_out(self.code.toPlainText())

    def _copy(self) -> None:
        copy_text(self.code.toPlainText())
        self.context.notice.say("The program's text is in the clipboard.", good=True)

    def _take_as_tune(self) -> None:
        view = self.program.view
        if view is not None and view.found is not None and self.context.files.may_leave():
            self.context.arrivals.bring(Brought(view.found, arranged(view.found)), Path(view.name).name)

    def paste_program(self) -> None:
        """Look at the program in the clipboard."""
        from PyQt6.QtGui import QGuiApplication

        clipboard = QGuiApplication.clipboard()
        text = clipboard.text() if clipboard is not None else ""
        if text.strip():
            self.open_text(text)

    def open_text(self, text: str) -> None:
        """Look at a program that is in no file."""
        self.open_source(Source("Pasted", data=text.encode("utf-8", "replace"), beside=self._folder))

    def open_source(self, source: Source) -> None:
        """Look at a program, compared with the voice that is written as a program, or with all of the tune."""
        song = self.context.document.reading.song
        chosen = self.context.program_choice.voice
        voices = tuple(place for place, voice in enumerate(song.voices) if voice.name == chosen)
        self.program.open(Wanted(source, Model(song, voices[:1]) if song.notes else None))

    @property
    def _folder(self) -> Path | None:
        path = self.context.document.path
        return path.parent if path is not None else None


def _sentence(mark: Mark) -> str:
    return mark.sentence if mark.sentence.startswith("Line ") else f"Line {mark.line}: {mark.sentence}"


def _meaning_of(understood: Understood) -> int:
    for place, (_, verb, holds) in enumerate(_MEANINGS):
        if verb is understood.verb and holds in (None, understood.holds):
            return place
    return len(_MEANINGS) - 1

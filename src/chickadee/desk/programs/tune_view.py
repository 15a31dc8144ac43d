"""The tune as a program: its text at the lesson's level, lit while it sounds, with the values of now beside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QBoxLayout,
    QButtonGroup,
    QCheckBox,
    QComboBox,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...display.scene import Scene
from ...display.written_view import (
    LEVEL_NAMES,
    WrittenView,
    WrittenWish,
    said_of_line,
    values_at,
    written_view,
)
from ...faults import InputFault
from ...files import FileFault, write_text
from ...programs.writing.catalogue import dialect_called
from ...programs.writing.dialect import Dialect, Level
from ...programs.writing.program_text import Performance, Role
from ...programs.writing.written import WrittenProgram
from ...song import Song
from ..clicks import on_click
from ..clipboard import copy_text
from ..dialect_box import fill_dialects
from ..flowing_row import FlowingRow
from ..goals import ask_for_goal
from ..newest_work import NewestWork
from ..parts import describe, plain_box
from ..pauses import after_pause
from ..plain_text import PlainLabel
from ..theme import Look
from ..working.panel import PanelContext
from .code_view import CodeView
from .values_view import ValuesView
from .walk import Walk

__all__ = ["LEAD_SECONDS", "TuneView"]

_PAUSE_MILLISECONDS = 120
_ALL = "all voices"
_EMPTY = "The tune has no notes yet. Write some, and they stand here as a program."
_HOW = "Choose a line to select the notes that it makes."
LEAD_SECONDS = 0.008
"""A line is lit so long before its note: half the time until the next look and its drawing."""
# pixels at scale 1
_WIDE = 760
_LEAST_HEIGHT = 60
_LEAST_CODE = 120


class TuneView(QWidget):
    """Shows the tune as a program."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__()
        self.context = context
        self.view: WrittenView | None = None
        self._scene = Scene(context.document.reading)
        self._path: Path | None = Path()  # of the tune whose voices are offered
        self._wish: WrittenWish | None = None  # that was asked for last
        self._played = False  # whether it is this program's voices alone that are heard
        self.levels: dict[Level, QPushButton] = {}
        self._group = QButtonGroup(self)
        for level, name in LEVEL_NAMES.items():
            button = QPushButton(name)
            button.setObjectName("choice")
            button.setCheckable(True)
            self._group.addButton(button)
            self.levels[level] = button
        self.choice = context.program_choice
        self.languages = plain_box(QComboBox())
        self.voices = plain_box(QComboBox())
        self.runs = QCheckBox("runs by itself")
        self.counter = QCheckBox("with a counter")
        self.own = QPushButton("Language…")
        self.code = CodeView(context.appearance.look)
        self.values = ValuesView(context.appearance.look)
        self.walk = Walk(self.code, self)
        self.walk.items_of = self._items_of
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.left_out = PlainLabel()
        self.left_out.setWordWrap(True)
        self.step = QPushButton("Step")
        self.hear = QPushButton("Hear")
        self.copy = QPushButton("Copy")
        self.save = QPushButton("Save…")
        self.hand_out = QPushButton("Hand out…")
        self.open = QPushButton("Open a pupil’s program…")
        self._work = NewestWork(written_view, self)
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self._write)
        self._describe()
        self._lay_out()
        self._connect()

    # Building

    def _describe(self) -> None:
        describe(
            (self.levels[Level.LINE], "A step for each note and rest"),
            (self.levels[Level.REPEATS], "The smallest program with repeats inside one another"),
            (self.levels[Level.PARTS], "Phrases, and what else comes again, as parts that are called"),
            (self.levels[Level.DATA], "Lists, and one loop over them"),
            (self.languages, "The language of the class"),
            (self.voices, "The voice that is written, or all merged in time"),
            (self.runs, "Add the few lines that it needs to run anywhere and print each strike"),
            (self.counter, "Let the loop over the lists count"),
            (self.own, "Describe the language of your class"),
            (self.step, "Go to the next step and sound it (Ctrl+Alt+F7)"),
            (self.hear, "Hear what the program sounds; the lines that sound are lit"),
            (self.copy, "Copy the program"),
            (self.save, "Save the program in a file"),
            (self.hand_out, "Make a page of it: the program, a puzzle, gaps, or a trace table"),
            (self.open, "Look at a pupil's program: what it sounds, and where it goes wrong"),
        )

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        self._head = FlowingRow(*self.levels.values(), self.languages, self.voices, self.own, self.counter, self.runs)
        self._body = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._text = QVBoxLayout()
        self._feet = FlowingRow(self.step, self.hear, self.copy, self.save, self.hand_out, self.open)
        self._text.addWidget(self.code, 1)
        self._text.addLayout(self._feet)
        inside = QWidget()
        self._side = QVBoxLayout(inside)
        self._title = PlainLabel("Values")
        for widget in (self._title, self.values, self.said, self.left_out):
            self._side.addWidget(widget)
        self._side.addStretch(1)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setWidget(inside)
        self._body.addLayout(self._text, 2)
        self._body.addWidget(self._scroll, 1)
        self._column.addLayout(self._head)
        self._column.addLayout(self._body, 1)

    def _connect(self) -> None:
        for level, button in self.levels.items():
            on_click(button, self.choice.choose, level=level.value)
        self.languages.activated.connect(lambda: self.choice.choose(language=self.languages.currentData()))
        self.voices.activated.connect(lambda place: self.choice.choose(voice=self.voices.itemData(place)))
        self.choice.changed.connect(self._write)
        for check in (self.runs, self.counter):
            check.toggled.connect(self._write)
        self._work.done.connect(self._take)
        self.code.line_chosen.connect(self._choose_line)
        self.walk.moved.connect(self._show_values)
        for widget, slot in (
            (self.step, self.next_step),
            (self.hear, self.hear_program),
            (self.copy, self.copy_program),
            (self.save, self.save_program),
            (self.own, self.describe_own),
            (self.hand_out, self.choice.hand_out),
        ):
            on_click(widget, slot)
        player = self.context.playback.player
        player.moved.connect(self._follow_sound)
        player.stopped.connect(self._end_sound)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._column.setContentsMargins(*(look.px(side) for side in (12, 6, 12, 8)))
        for row in (self._column, self._head, self._feet, self._text, self._side):
            row.setSpacing(look.px(6))
        self._body.setSpacing(look.px(14))
        self._title.setFont(look.font(12, bold=True))
        for view in (self.code, self._scroll):
            view.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)  # they scroll
            view.setMinimumHeight(look.px(_LEAST_HEIGHT))
        self.code.setMinimumHeight(look.px(_LEAST_CODE))
        self.code.set_look(look)
        self.values.set_look(look)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The values stand under the text where it is narrow."""
        wide = self.width() > self.context.appearance.look.px(_WIDE)
        self._body.setDirection(QBoxLayout.Direction.LeftToRight if wide else QBoxLayout.Direction.TopToBottom)

    # What is written

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune."""
        self._scene = scene
        self._due.start()

    def _fill(self) -> None:
        """Offer the tune's voices, and the languages of its folder; another tune begins with its voice in front."""
        song = self._scene.song
        names = [voice.name for voice in song.voices]
        self.voices.blockSignals(True)
        self.voices.clear()
        self.voices.addItem(_ALL, "")
        for name in names:
            self.voices.addItem(name, name)
        path = self.context.document.path
        if song.voices and (self._path != path or self.choice.voice not in ("", *names)):
            self._path = path
            self.choice.choose(voice=names[self._scene.front])
        self.voices.setCurrentIndex(max(0, self.voices.findData(self.choice.voice)))
        self.voices.blockSignals(False)
        fill_dialects(self.languages, self.folder, self.choice.language)
        self.levels[self.level].setChecked(True)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Write what was put off while nobody saw it."""
        self._write()

    @property
    def folder(self) -> Path | None:
        """The folder of the tune."""
        path = self.context.document.path
        return path.parent if path is not None else None

    @property
    def dialect(self) -> Dialect:
        """The language that is chosen. Raises InputFault."""
        return dialect_called(self.choice.language, self.folder)

    @property
    def level(self) -> Level:
        """The level that is chosen."""
        return next((level for level in Level if level.value == self.choice.level), Level.LINE)

    @property
    def voices_chosen(self) -> tuple[int, ...]:
        """The voices that are written."""
        voices = self._scene.song.voices
        chosen = tuple(place for place, voice in enumerate(voices) if voice.name == self.choice.voice)
        return chosen[:1] or tuple(range(len(voices)))

    @property
    def program(self) -> WrittenProgram | None:
        """The program that is shown."""
        return self.view.program if self.view is not None else None

    def _write(self) -> None:
        """Have the program written."""
        if not self.isVisible():
            return
        self._due.stop()
        self._fill()
        try:
            dialect = self.dialect
        except InputFault as fault:
            self._show_failure(str(fault))
            return
        wish = WrittenWish(
            self._scene.reading.text,
            self.voices_chosen,
            dialect,
            self.level,
            self.runs.isChecked(),
            self.counter.isChecked(),
        )
        if wish != self._wish:
            self._wish = wish
            self._work.ask(wish)

    def stop_work(self) -> None:
        """End the writing, before the window goes."""
        self._work.stop()

    def _take(self, found: object) -> None:
        if not isinstance(found, WrittenView):
            self._show_failure("Writing this program took more than this computer has.")
            return
        self.view = found
        program = found.program
        if program is None:
            self._show_failure(found.failure)
            return
        dialect = found.wish.dialect
        for level, button in self.levels.items():
            steps = (found.steps or {}).get(level)
            button.setText(LEVEL_NAMES[level] if steps is None else f"{LEVEL_NAMES[level]}  {steps:,}")
            button.setEnabled(level in dialect.levels)
        self.levels[Level.LINE].setText(f"{self.levels[Level.LINE].text()} steps")
        self.levels[program.level].setChecked(True)
        self.runs.setVisible(bool(dialect.runs))
        self.counter.setVisible(program.level is Level.DATA and bool(dialect.each and dialect.counted))
        has_notes = bool(program.performance.places_of_notes)
        self.code.setPlaceholderText("" if has_notes else _EMPTY)
        is_other = self.code.show_text(program.text.removesuffix("\n") if has_notes else "")
        heads = frozenset(n for n, line in enumerate(program.lines, 1) if line.role in (Role.REPEAT, Role.PART))
        frame = frozenset(n for n, line in enumerate(program.lines, 1) if line.role is Role.FRAME)
        self.code.show_structure(program.repeated_lines if has_notes else (), heads, frame)
        self.left_out.setText(" ".join(program.left_out) if has_notes else "")
        for button in (self.step, self.hear, self.copy, self.save, self.hand_out):
            button.setEnabled(has_notes)
        self.walk.show(program.performance)
        if is_other:
            self.said.setText(_HOW if has_notes else "")
        if not self.context.playback.player.playing:
            self.show_selection(self.context.selection.notes)

    def _show_failure(self, sentence: str) -> None:
        self.view = None
        self._wish = None
        self.code.show_text("")
        self.code.setPlaceholderText(sentence)
        self.walk.show(Performance())
        self.left_out.clear()
        for button in (self.step, self.hear, self.copy, self.save, self.hand_out):
            button.setEnabled(False)

    # One source span: line, note, sheet

    @property
    def _is_of_now(self) -> bool:
        """True while the program is that of the tune as it now reads."""
        return self.view is not None and self.view.wish.sheet == self._scene.reading.text

    def show_selection(self, notes: Sequence[int]) -> None:
        """Light the line of the selected note."""
        if self._is_of_now and self.isVisible():
            self.walk.choose_notes(notes)

    def _choose_line(self, line: int) -> None:
        """Select the notes that a line makes."""
        program = self.program
        if program is None or not self._is_of_now:
            return
        notes = program.performance.notes_of_lines.get(line, ())
        if notes:
            self.context.selection.choose_notes(list(dict.fromkeys(notes)))
        self.said.setText(said_of_line(program, self._scene.song, line))
        if not notes:
            self.walk.go_to_line(line)

    def _items_of(self, place: int) -> list[tuple[int, int, int]]:
        program = self.program
        if program is None:
            return []
        around = program.performance.performed[place].around
        return [item for each in around for item in program.items.get((each.line, each.turn), ())]

    def _show_values(self, place: int) -> None:
        program = self.program
        rows = values_at(program, place) if program is not None and place >= 0 else []
        self.values.show_rows(rows)
        self._title.setVisible(bool(rows))
        self.values.setVisible(bool(rows))

    # Hearing

    def next_step(self) -> None:
        """Go to the next step, and sound it."""
        program = self.program
        if program is None or not self._is_of_now:
            return
        place = self.walk.step()
        if place < 0:
            return
        notes = program.performance.performed[place].notes
        song = self._scene.song
        if notes:
            self.context.selection.choose_notes(list(notes))
            first = song.notes[notes[0]]
            sound = song.voices[first.voice].sound_at(first.start)
            self.context.audition.play(sound, [song.notes[note].number for note in notes], song.tuning)

    def hear_program(self) -> None:
        """Hear the voices that are in the program, from the start."""
        song = self._voices_alone
        if song is not None:
            self.context.playback.play_in_turn((song, 0, None))
            self._played = True

    @property
    def _voices_alone(self) -> Song | None:
        """The tune with the notes of the voices that are written."""
        if self.view is None or not self._is_of_now:
            return None
        song = self._scene.song
        wanted = self.view.wish.voices
        return replace(song, notes=tuple(note for note in song.notes if note.voice in wanted))

    def _follow_sound(self, tick: float) -> None:
        playback = self.context.playback
        if self.isVisible() and self._is_of_now and (self._played or playback.plays_tune):
            tempo = self._scene.song.tempo
            self.walk.follow(tempo.tick(float(tempo.seconds(tick)) + LEAD_SECONDS * playback.wanted.speed))

    def _end_sound(self) -> None:
        self._played = False
        self.show_selection(self.context.selection.notes)

    # Giving out

    def copy_program(self) -> None:
        """Copy the program."""
        if self.program is not None:
            copy_text(self.program.text)
            self.context.notice.say(f"The program is in the clipboard, in {self.program.dialect.title}.", good=True)

    def save_program(self) -> None:
        """Ask for a file, and save the program."""
        program = self.program
        window = self.window()
        if program is None or window is None:
            return
        dialect = program.dialect
        goal = ask_for_goal(
            window,
            self.context.document,
            self.folder or Path.home(),
            "Save the program",
            f"{dialect.title} (*{dialect.suffix})",
            dialect.suffix,
        )
        if goal is None:
            return
        try:
            write_text(goal, program.text)
        except FileFault as fault:
            self.context.notice.say(str(fault))
        else:
            self.context.notice.say(f"Saved: {goal.name}, in {goal.parent}.", good=True)

    def describe_own(self) -> None:
        """Ask for a language of one's own, and write in it."""
        from .own_dialect import OwnDialectDialog

        try:
            like = self.dialect
        except InputFault:
            like = dialect_called("steps")
        dialog = OwnDialectDialog(self._scene.reading, self.voices_chosen, like, self.folder, self)
        if dialog.exec() and dialog.saved is not None:
            self.choice.choose(language=dialog.saved)
            self._write()
        dialog.deleteLater()

"""The panel of lists and boards: the tune as a target wants it, what is lost, and how a board would play it."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QColor, QHideEvent, QMouseEvent, QShowEvent, QTextCursor
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QPushButton,
    QSplitter,
    QTextEdit,
    QVBoxLayout,
    QWidget,
)

from ...boards.catalogue import target_called, target_names
from ...boards.cells import CellKind
from ...boards.fitting import Loss, fitted
from ...boards.lines import lines_of
from ...boards.target import Target
from ...boards.ticks import tick_choices
from ...boards.unpacking import UnpackFault
from ...display import words
from ...display.export_view import ExportView, as_it_would_sound
from ...display.scene import Scene
from ...faults import InputFault
from ...files import FileFault, write_text
from ...sheet import CannotEdit, edits
from ...song import Song
from ..clicks import on_click
from ..clipboard import copy_text
from ..goals import ask_for_goal
from ..parts import describe, fill, plain_box
from ..pauses import after_pause
from ..plain_dialogs import PlainForm
from ..plain_text import PlainLabel
from ..theme import Look
from ..working.panel import Panel, PanelContext
from .hertz_dialog import HertzDialog
from .own_target import OwnTargetDialog

__all__ = ["SendPanel"]

_PAUSE_MILLISECONDS = 120
_ALL = "all voices"
_BEST = "the best tick"
_FIRST = "python-pairs"


class SendPanel(Panel):
    """Shows the tune as data, and lights the entry of what is selected or heard."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self._song = Song()
        self.view: ExportView | None = None
        self._wish: tuple[Target, tuple[int, ...], int | None] | None = None
        """The target, voices and tick that the view was made for."""
        self._played: Song | None = None  # what the board sounds, while it is heard
        self._stepped = -1
        self.targets, self.voices, self.ticks, self.boards = (plain_box(QComboBox()) for _ in range(4))
        for box, said in (
            (self.targets, "Target"),
            (self.voices, "Voices to send"),
            (self.ticks, "The board's tick"),
            (self.boards, "Board to look at"),
        ):
            box.setAccessibleName(said)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.text.setAccessibleName("The tune as the target wants it")
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.lost = QListWidget()
        self.lost.setAccessibleName("What is lost")
        self.lost.setWordWrap(True)
        self.about = PlainLabel()
        self.said = PlainLabel()
        for label in (self.about, self.said):
            label.setWordWrap(True)
        self.copy = QPushButton("Copy")
        self.save = QPushButton("Save…")
        self.hear = QPushButton("Hear it")
        self.step = QPushButton("Next cell")
        self.fit = QPushButton("Make the tune fit")
        self.own = QPushButton("Own target…")
        self.table = QPushButton("Hertz…")
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self._send)
        self._describe()
        self._lay_out()
        self._connect()

    # Building

    def _describe(self) -> None:
        describe(
            (self.copy, "Copy the text (Ctrl+Shift+L)"),
            (self.save, "Save the text of each board in a file"),
            (self.hear, "Hear what the board sounds from its cells (Ctrl+F7)"),
            (self.step, "Play the board cell by cell (Ctrl+Shift+F7)"),
            (self.fit, "Move the notes that the board does not have by octaves, in the sheet"),
            (self.own, "Describe a board or a list of your own"),
            (self.table, "The hertz of each note by octaves"),
        )

    def _lay_out(self) -> None:
        left = QWidget()
        right = QWidget()
        choices = QVBoxLayout(left)
        facts = QVBoxLayout(right)
        self._form = PlainForm()
        for label, box in (
            ("For", self.targets),
            ("Voices", self.voices),
            ("Tick", self.ticks),
            ("Board", self.boards),
        ):
            self._form.addRow(label, box)
        choices.addLayout(self._form)
        choices.addWidget(self.about)
        choices.addStretch(1)
        more = QHBoxLayout()
        more.addWidget(self.own)
        more.addWidget(self.table)
        choices.addLayout(more)
        facts.addWidget(self.said)
        facts.addWidget(self.lost, 1)
        facts.addWidget(self.fit)
        middle = QWidget()
        column = QVBoxLayout(middle)
        buttons = QHBoxLayout()
        for button in (self.copy, self.save, self.hear, self.step):
            buttons.addWidget(button)
        buttons.addStretch(1)
        column.addWidget(self.text, 1)
        column.addLayout(buttons)
        self._parts = QSplitter(Qt.Orientation.Horizontal)
        for part, stretch in ((left, 2), (middle, 5), (right, 3)):
            self._parts.addWidget(part)
            self._parts.setStretchFactor(self._parts.count() - 1, stretch)
        self._parts.setChildrenCollapsible(False)
        self._columns = (choices, column, facts)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self._parts, 1)

    def _connect(self) -> None:
        self.targets.currentTextChanged.connect(self._send)
        self.voices.currentTextChanged.connect(self._send)
        self.ticks.currentIndexChanged.connect(self._send)
        self.boards.currentIndexChanged.connect(self._show_text)
        self.lost.itemClicked.connect(self._go_to_loss)
        surface = self.text.viewport()
        assert surface is not None
        surface.installEventFilter(self)
        for button, slot in (
            (self.copy, self.copy_text),
            (self.save, self.save_text),
            (self.hear, self.hear_board),
            (self.step, self.next_cell),
            (self.fit, self.make_fit),
            (self.own, self.describe_own),
            (self.table, self.show_hertz),
        ):
            on_click(button, slot)
        player = self.context.playback.player
        player.moved.connect(self._follow_sound)
        player.stopped.connect(self._end_sound)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        for column in self._columns:
            column.setContentsMargins(*(look.px(side) for side in (10, 6, 10, 6)))
            column.setSpacing(look.px(6))
        for box in (self.targets, self.voices, self.ticks, self.boards):
            box.setMinimumHeight(look.px(22))
        self.text.setFont(look.fixed_font(13))
        self._light([])

    # Sending

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune."""
        self._song = scene.song
        first = not self.targets.count()
        fill(self.targets, target_names(self._folder))
        if first:
            self.targets.setCurrentText(_FIRST)
        fill(self.voices, [_ALL, *(voice.name for voice in scene.song.voices if not voice.is_drums)])
        self._due.start()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Work out what was put off while nobody saw it."""
        self._send()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Take the preview of changes from the timeline."""
        self.context.preview.show(None)

    @property
    def _folder(self) -> Path | None:
        path = self.context.document.path
        return path.parent if path is not None else None

    def _send(self) -> None:
        """Fit the tune to the target, and show what comes of it."""
        if not self.isVisible() or not self.targets.currentText():
            return
        self._due.stop()
        try:
            target = target_called(self.targets.currentText(), self._folder)
        except InputFault as fault:
            self._show_nothing(str(fault))
            return
        chosen = [place for place, voice in enumerate(self._song.voices) if voice.name == self.voices.currentText()]
        self._offer_ticks(target, chosen or None)
        tick = self.ticks.currentData()
        wish = (target, tuple(chosen), tick)
        if self.view is None or self.view.fit.song is not self._song or wish != self._wish:
            self.view = ExportView(fitted(self._song, target, chosen or None, tick))
            self._wish = wish
            self._stepped = -1
        fit = self.view.fit
        if not fit.boards:
            self._show_nothing("There are no notes to send yet.")
            return
        fill(self.boards, [board.name for board in fit.boards])
        self._form.setRowVisible(self.boards, len(fit.boards) > 1)
        self.about.setText(f"{target.title}. {self.view.summary}.")
        self._show_losses(fit.lost)
        self.context.preview.show(as_it_would_sound(fit))
        self._show_text()

    def _offer_ticks(self, target: Target, voices: Sequence[int] | None) -> None:
        """The ticks worth choosing from, with what each costs."""
        beat = self._song.meter.beat_ticks
        offered: dict[str, int | None] = {_BEST: None}
        if target.is_in_ticks:
            for choice in tick_choices(self._song, lines_of(self._song, voices), target.limits.shortest):
                cost = (
                    f"{words.counted(choice.changed, 'note')} {choice.worst:.0f} ms off"
                    if choice.changed
                    else "exact"
                )
                offered[f"{words.beats(Fraction(choice.ticks, beat))} beat: {cost}"] = choice.ticks
        fill(self.ticks, list(offered))
        for place, ticks in enumerate(offered.values()):
            self.ticks.setItemData(place, ticks)
        self._form.setRowVisible(self.ticks, target.is_in_ticks)

    def _show_nothing(self, said: str) -> None:
        self.view = None
        self.text.setPlainText("")
        self.lost.clear()
        self.about.setText("")
        self.said.setText(said)
        self.context.preview.show(None)
        self._enable()

    def _show_text(self) -> None:
        if self.view is None:
            return
        board = max(0, self.boards.currentIndex())
        text = self.view.texts[board]
        if text != self.text.toPlainText():
            self.text.setPlainText(text)
        self._enable()
        self.show_selection(self.context.selection.notes)

    def _show_losses(self, lost: Sequence[Loss]) -> None:
        self.lost.clear()
        for loss in lost:
            item = QListWidgetItem(loss.sentence)
            item.setData(Qt.ItemDataRole.UserRole, loss)
            self.lost.addItem(item)
        count = words.counted(len(lost), "thing")
        self.said.setText(f"{count} lost. A click goes there." if lost else "Nothing is lost.")

    def _enable(self) -> None:
        can = self.view is not None
        sounds = self.view is not None and bool(self.view.steps[max(0, self.boards.currentIndex())])
        for button in (self.copy, self.save):
            button.setEnabled(can)
        for button in (self.hear, self.step):
            button.setEnabled(sounds)
        self.fit.setEnabled(self.view is not None and any(loss.code == "octave" for loss in self.view.fit.lost))

    # Entries and notes

    def show_selection(self, notes: Sequence[int]) -> None:
        """Light the entries of the selected notes."""
        song = self._song
        if self.view is not None and self._played is None and self.isVisible():
            chosen = [song.notes[index] for index in notes if index < len(song.notes)]
            self._light(self.view.spans_of(max(0, self.boards.currentIndex()), chosen))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """A click on an entry selects its note everywhere."""
        if (
            isinstance(event, QMouseEvent)
            and event.type() == QEvent.Type.MouseButtonRelease
            and self.view is not None
        ):
            offset = self.text.cursorForPosition(event.position().toPoint()).position()
            note = self.view.note_at(max(0, self.boards.currentIndex()), offset)
            if note is not None:
                self.context.selection.choose_note(self._song.notes.index(note))
        return super().eventFilter(watched, event)

    def _light(self, spans: Sequence[tuple[int, int]]) -> None:
        found = []
        for start, end in spans:
            selection = QTextEdit.ExtraSelection()
            selection.format.setBackground(self.look.wash)
            selection.format.setForeground(QColor(self.look.color("ink")))
            cursor = QTextCursor(self.text.document())
            cursor.setPosition(start)
            cursor.setPosition(end, QTextCursor.MoveMode.KeepAnchor)
            selection.cursor = cursor
            found.append(selection)
        self.text.setExtraSelections(found)
        if found:
            self.text.setTextCursor(_at(found[0].cursor))
            self.text.ensureCursorVisible()

    def _go_to_loss(self, item: QListWidgetItem) -> None:
        loss: Loss = item.data(Qt.ItemDataRole.UserRole)
        notes = [self._song.notes.index(note) for note in loss.notes if note in self._song.notes]
        if notes:
            self.context.selection.choose_notes(notes)

    # Giving away and hearing

    def copy_text(self) -> None:
        """Copy the text of the board that is looked at."""
        if self.view is not None:
            copy_text(self.view.texts[max(0, self.boards.currentIndex())])
            self.context.notice.say(f"Copied for {self.view.fit.target.title}.", good=True)

    def save_text(self) -> None:
        """Ask for a file, and save the text of each board."""
        window = self.window()
        if self.view is None or window is None:
            return
        target = self.view.fit.target
        texts = self.view.texts

        def files(path: Path) -> list[Path]:
            return [path if not place else path.with_stem(f"{path.stem} {place + 1}") for place in range(len(texts))]

        kinds = f"{target.title} (*{target.suffix})"
        goal = ask_for_goal(
            window,
            self.context.document,
            self._folder or Path.home(),
            "Save as a list",
            kinds,
            target.suffix,
            files,
            kind=f" - {target.id}",
        )
        if goal is None:
            return
        try:
            for path, text in zip(files(goal), texts, strict=True):
                write_text(path, text)
        except FileFault as fault:
            self.context.notice.say(str(fault))
        else:
            self.context.notice.say(f"Saved: {', '.join(path.name for path in files(goal))}.", good=True)

    def hear_board(self) -> None:
        """Hear what the boards sound, from their texts alone; the entry that sounds is lit."""
        if self.view is None:
            return
        try:
            song = self.view.heard()
        except UnpackFault as fault:
            self.context.notice.say(str(fault))
            return
        self.context.playback.play_in_turn((song, 0, None))
        self._played = song

    def _follow_sound(self, tick: float) -> None:
        """Light what sounds: of the board while it is heard, else of the tune."""
        if self.view is None or not self.isVisible():
            return
        board = max(0, self.boards.currentIndex())
        if self._played is None:
            song = self._song
            sounding = [note for note in song.notes if note.start <= tick < note.end]
            self._light(self.view.spans_of(board, sounding))
            return
        now = float(self._played.tempo.seconds(tick))
        spans = []
        for line in self.view.steps[board]:
            here = 0.0
            for step in line:
                here += float(step.seconds)
                if now < here:
                    spans.append((step.start, step.end))
                    break
        self._light(spans)

    def _end_sound(self) -> None:
        self._played = None
        self.show_selection(self.context.selection.notes)

    def next_cell(self) -> None:
        """Play the next entry of the first line, as a class would by hand."""
        if self.view is None or not self.isVisible():
            return
        lines = self.view.steps[max(0, self.boards.currentIndex())]
        if not lines or not lines[0]:
            return
        self._stepped = (self._stepped + 1) % len(lines[0])
        step = lines[0][self._stepped]
        self._light([(step.start, step.end)])
        if step.kind is CellKind.NOTE:
            self.context.audition.play("board beeper", [step.number], self._song.tuning)
        self.said.setText(f"Cell {step.cell}: {_said_of(step.kind.value, step.number)}")

    # Changing

    def make_fit(self) -> None:
        """Move the notes that the board does not have by octaves, as an edit of the sheet."""
        if self.view is None:
            return
        reading = self.context.document.reading
        notes = self._song.notes
        moved: dict[int, set[int]] = {}
        for cell in (cell for board in self.view.fit.boards for line in board.lines for cell in line):
            if cell.note is not None and cell.kind is CellKind.NOTE and cell.number != cell.note.number:
                moved.setdefault(cell.number - cell.note.number, set()).add(notes.index(cell.note))
        try:
            found = [edit for by, mine in moved.items() for edit in edits.move_pitch(reading, sorted(mine), by)]
        except CannotEdit as fault:
            self.context.notice.say(str(fault))
            return
        self.context.document.apply(found)

    def describe_own(self) -> None:
        """Ask for a target of one's own, and use it."""
        current = self.view.fit.target if self.view is not None else None
        dialog = OwnTargetDialog(self._song, current, self._folder, self)
        if dialog.exec() and dialog.saved is not None:
            fill(self.targets, target_names(self._folder))
            self.targets.setCurrentText(dialog.saved)
            self._send()
        dialog.deleteLater()

    def show_hertz(self) -> None:
        """Show the hertz of each note by octaves."""
        dialog = HertzDialog(self._song.tuning, self)
        dialog.exec()
        dialog.deleteLater()


def _at(cursor: QTextCursor) -> QTextCursor:
    """A cursor without a selection at the start of another."""
    found = QTextCursor(cursor)
    found.setPosition(cursor.selectionStart())
    return found


def _said_of(kind: str, number: int) -> str:
    known = {"note": f"plays {number}.", "rest": "rests.", "held": "goes on.", "sound": f"chooses sound {number}."}
    return known.get(kind, f"goes back to cell {number}.")

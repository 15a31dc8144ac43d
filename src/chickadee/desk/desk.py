"""The desk: puts the views together and passes word between them."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import (
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeyEvent,
    QPalette,
)
from PyQt6.QtWidgets import (
    QFileDialog,
    QLabel,
    QMainWindow,
    QPlainTextEdit,
)

from ..sheet import Finding, Fix, TextEdit
from ..sheet.tidy import tidy
from ..song.sounds import DEFAULT_SOUND
from . import words
from .arrangement import Arrangement
from .asking import Asking
from .choosing import Choosing
from .collecting import IdleCollector
from .document import Document
from .editing import MusicEditing
from .facts.panel import FactsPanel
from .filing import Filing
from .findings.panel import FindingsPanel
from .keeping import Keeping
from .keyboard.hands import Hands
from .keyboard.panel import JUST_PLAY, KeyboardPanel
from .keyboard.ports import MidiKeys
from .keyboard.take import written_take
from .keycard import KeyCard
from .listening import Listening
from .menu_bar import Menus
from .menus import menus_of
from .notice import Notice
from .reshaping.panel import TransposePanel
from .settings import Settings
from .sheet.editor import SheetEditor
from .sheet.findbar import FindBar
from .shelf.panel import ShelfPanel
from .spotlight import Spotlight
from .strip.view import SoundingStrip
from .style import style_sheet
from .tasting import Taster
from .theme import Look, look_for
from .timeline.view import TimelineView
from .voices.panel import VoicesPanel
from .wave.panel import WavePanel
from .working.side import WorkingSide

__all__ = ["Desk"]

_BARS_IN_TURN = 4
_ENGINE_MILLISECONDS = 250  # the window is painted first


class Desk(QMainWindow):
    """One tune and all its views, with their menus. It lies in a window as one of its parts."""

    def __init__(self, folder: Path | None = None) -> None:
        super().__init__()
        self.look = Look()
        self.document = Document(self)
        self.choosing = Choosing(self.document, self)
        self.listening = Listening(self.document, self.choosing, self)
        self.player = self.listening.player
        self.taster = Taster(self.player, self)
        self.notice = Notice()
        self.filing = Filing(self.document, self.notice, self, lambda: self.is_on("Small room"))
        self.editing = MusicEditing(self.document, self.notice, lambda: self.choosing.notes, self)
        self.asking = Asking(self.document, self.choosing, self.editing, self.filing, self.notice, self)
        self.keeping = Keeping(self.document, self.notice, self, lambda: self.look)
        self.filing.settle = self.keeping.settle
        self.keeping.may_leave = self.filing.may_leave
        self.keeping.fault_changed.connect(self._show_file)
        self.settings = Settings()
        self.hands = Hands(self.player, self._front_sound, self)
        self.midi_keys = MidiKeys(self.hands, self)
        self._collector = IdleCollector(self)
        self._facts_due = QTimer(self)
        self._facts_due.setSingleShot(True)
        self._facts_due.setInterval(80)
        self._facts_due.timeout.connect(self._show_facts)
        self._make_menus()
        self._make_views()
        self._connect()
        self.setAcceptDrops(True)
        if folder:
            self.filing.folder = folder
        self.shelf.show_folder(folder)
        self.apply_look()
        self.change_rows()
        self.toggle_shelf()
        self.toggle_keyboard()
        self._show_reading()
        self._show_facts()
        self._show_file()
        self._show_output()
        self.document.setParent(None)  # Qt takes children down in order: the views go before the text they show
        self.document.setParent(self)

    # Building

    def _make_menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        self.menus = Menus(bar, menus_of(self), self.settings, self)
        self.actions_by_text = self.menus.by_text
        self.menus.menus["Song"].insertMenu(self.actions_by_text["Save"], self.menus.recent)
        self._show_recent()
        self.state = QLabel()
        self.state.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        bar.setCornerWidget(self.state)

    def is_on(self, text: str) -> bool:
        """Whether a switch of the menus is on."""
        return self.menus.is_on(text)

    def _make_views(self) -> None:
        by_text = self.actions_by_text
        self.strip = SoundingStrip(
            self.look,
            by_text["Play or stop"],
            [by_text[text] for text in ("Stop", "Last note", "Next note", "Round and round")],
        )
        self.timeline = TimelineView(self.look)
        self.editor = SheetEditor(self.document, self.look)
        self.findings = FindingsPanel(self.look)
        self.wave = WavePanel(self.look)
        self.voices = VoicesPanel(self.look)
        self.transpose = TransposePanel(self.look, lambda: self.choosing.notes)
        self.facts = FactsPanel(self.look)
        panels = {"Findings": self.findings, "Transpose": self.transpose, "Voices": self.voices, "Facts": self.facts}
        self.working = WorkingSide(self.look, panels | {"Wave": self.wave})
        self.shelf = ShelfPanel(self.look)
        self.keyboard = KeyboardPanel(self.look, self.hands)
        self.find_bar = FindBar(self.editor, self.document)
        self.arrangement = Arrangement(
            [self.strip, self.notice],
            self.shelf,
            self.timeline,
            [self.editor, self.find_bar],
            self.working,
            self.keyboard,
        )
        self.working.turned.connect(self.arrangement.make_room)
        self.setCentralWidget(self.arrangement)
        self.counts, self.output = QLabel(), QLabel()
        status = self.statusBar()
        assert status is not None
        status.setSizeGripEnabled(False)
        status.addWidget(self.counts, 1)
        status.addPermanentWidget(self.output)

    def _connect(self) -> None:
        self.document.reading_changed.connect(self._show_reading)
        self.document.reading_changed.connect(self._hear_typed)
        self.editor.list_pasted.connect(self._offer_sheet)
        self.editor.sound_tried.connect(self.taster.sound)
        self.document.reading_changed.connect(self.notice.fade)
        self.document.file_changed.connect(self._show_file)
        self.editor.caret_moved.connect(self.choosing.follow_text)
        self.choosing.text_wanted.connect(self.editor.select)
        self.choosing.front_changed.connect(self._show_front)
        self.spotlight = Spotlight(
            self.choosing, self.player, self.strip, self.timeline, self.editor, self.wave, self.keyboard.keys, self
        )
        self.timeline.note_chosen.connect(self.choosing.choose_note)
        self.timeline.stepped.connect(self.choosing.step)
        self.timeline.notes_chosen.connect(self.choosing.choose_notes)
        self.timeline.proposed.connect(self.editing.propose)
        self.timeline.drawn.connect(
            lambda number, tick, beats: self.editing.draw(self.choosing.front, number, tick, beats)
        )
        self.timeline.typed.connect(lambda row, notes, text: self.editing.type_into(notes, row.edit, text))
        self.timeline.heard.connect(self._hear)
        self.timeline.nudged.connect(self.editing.move_by_steps)
        self.timeline.erased.connect(self.editing.delete)
        self.timeline.menu_wanted.connect(self.menus.menus["Notes"].popup)
        self.editing.chosen.connect(self.choosing.choose_notes)
        self.editing.heard.connect(self._hear)
        self.findings.chosen.connect(self._go_to_finding)
        self.findings.fix_chosen.connect(self._apply_fix)
        self.transpose.outcome_changed.connect(self._show_outcome)
        self.transpose.applied.connect(self.document.apply)
        self.transpose.heard.connect(self.hear_outcome)
        self.choosing.changed.connect(self.transpose.follow_chosen)
        self.facts.copied.connect(lambda what: self.notice.say(f"The {what} are on the clipboard.", good=True))
        self.document.profile_faulty.connect(self.notice.say)
        self.wave.tried.connect(self.taster.play)
        self.voices.brought_forward.connect(self.choosing.bring_forward)
        self.voices.sound_given.connect(self._give_sound)
        self.voices.changed.connect(self._follow_voices)
        self.keyboard.wrote.connect(self._write_key)
        self.keyboard.recording_wanted.connect(self._record)
        self.player.finished.connect(lambda: self.keyboard.use_for(JUST_PLAY))
        self.shelf.tune_chosen.connect(self.open_path)
        self.shelf.asked.connect(self.filing.do_on_shelf)
        self.strip.speed_changed.connect(lambda speed: self.listening.wish(speed=speed))
        self.strip.property_given.connect(self.editing.set_property)
        self.strip.level_changed.connect(self.player.set_level)
        self.player.output_changed.connect(self._show_output)
        self.player.lost.connect(self._say_output_lost)

    # Coming and going

    def begin(self) -> None:
        """The desk lies in its window: write there, start the engine, offer what an earlier desk left behind."""
        self._show_file()
        self.editor.setFocus()
        QTimer.singleShot(_ENGINE_MILLISECONDS, self.player.open)
        QTimer.singleShot(_ENGINE_MILLISECONDS, self.midi_keys.listen_to_system)
        self.keeping.offer_left_behind()

    def leave(self) -> bool:
        """Put everything away, and say whether the window may close: the user may want to save first."""
        if not self.filing.may_leave():
            return False
        self.player.close()
        self.filing.wait()
        self.keeping.close()
        return True

    def end(self) -> None:
        """Put everything away without asking; unsaved work is kept for the next start."""
        self.keeping.keep_at_once()
        self.player.close()
        self.filing.wait()
        self.keeping.close(forget=False)

    def quit(self) -> None:
        """Close the window."""
        window = self.window()
        assert window is not None
        window.close()

    # The tune

    def open_path(self, path: Path) -> None:
        """Open a tune, with its folder on the shelf."""
        self.player.stop()
        if self.filing.open_path(path):
            self.editor.select(0, 0)
            self.timeline.show_tune_from_start()
            self.settings.note_folder(path.resolve().parent)
            self._show_recent()
        self.shelf.show_current(self.document.path, self.document.reading)

    def show_shelf_of(self, folder: Path) -> None:
        """Put a folder's tunes on the shelf."""
        self.filing.folder = folder
        self.shelf.show_folder(folder)
        self.settings.note_folder(folder)
        self._show_recent()

    def choose_folder(self) -> None:
        """Ask for a folder and put its tunes on the shelf."""
        name = QFileDialog.getExistingDirectory(self, "A folder for the shelf", str(self.filing.folder))
        if name:
            self.show_shelf_of(Path(name))

    def _show_recent(self) -> None:
        self.menus.show_recent(self.show_shelf_of)

    def welcome(self) -> None:
        """The first time ever, begin with a tune that explains itself."""
        if not self.settings.is_on("welcomed", False):
            self.settings.set_on("welcomed", True)
            self.document.begin((files("chickadee.desk") / "welcome.chick").read_text("utf-8"))
            self.timeline.show_tune_from_start()

    def _give_sound(self, voice: int, sound: str) -> None:
        self.editing.set_property("sound", sound, voice)
        self.taster.sound(sound)

    def undo(self) -> None:
        """Take the last change back; what was chosen then is chosen again."""
        self.editor.undo()
        self.editing.recall_choice()

    def redo(self) -> None:
        """Make the change again."""
        self.editor.redo()
        self.editing.recall_choice()

    def copy(self) -> None:
        """Copy the selected text, or the chosen notes where the timeline has the focus."""
        if self.timeline.hasFocus():
            QGuiApplication.clipboard().setText(self.editing.copy())
        else:
            self.editor.copy()

    def cut(self) -> None:
        """Cut the selected text; where the timeline has the focus, take the chosen notes out and keep a copy."""
        if self.timeline.hasFocus():
            self.copy()
            self.editing.delete()
        else:
            self.editor.cut()

    def paste(self) -> None:
        """Paste at the caret, or after the chosen note where the timeline has the focus."""
        if self.timeline.hasFocus():
            self.editing.paste(QGuiApplication.clipboard().text())
        else:
            self.editor.paste()

    def copy_rows(self) -> None:
        """Copy the reading rows as a table, for a worksheet."""
        QGuiApplication.clipboard().setText(self.timeline.rows_as_table())

    def change_rows(self) -> None:
        """Show the rows that the menu says, and remember them."""
        titles = self.menus.rows
        self.timeline.show_rows(titles)
        self.settings.set_words("rows", titles or [""])

    def hear_outcome(self) -> None:
        """Hear some bars as they are, and then as they would be."""
        outcome = self.transpose.outcome
        if outcome is None or not outcome.edits:
            self.notice.say("Ask for a change in the Transpose panel first.", good=True)
            return
        grid = outcome.before.grid
        starts = [old.start for old, _ in outcome.changed] or [0]
        first = grid.number_at(min(starts))
        self.listening.play_in_turn(
            outcome.before, outcome.after, grid.start(first), grid.start(first + _BARS_IN_TURN)
        )

    def _show_outcome(self) -> None:
        outcome = self.transpose.outcome
        if outcome is None or not outcome.edits:
            self.timeline.show_preview(None)
        else:
            self.timeline.show_preview(outcome.after, outcome.outside)

    def next_finding(self) -> None:
        """Go to the finding after the caret, or to the first."""
        here, found = self._selected_text(), self.document.reading.findings
        if found:
            self._go_to_finding(next((each for each in found if (each.start, each.end) > here), found[0]))

    def tidy(self) -> None:
        """Lay the sheet out, as one step of the undo."""
        text = self.document.reading.text
        if tidy(text) != text:
            self.document.apply([TextEdit(0, len(text), tidy(text))])

    def _offer_sheet(self, start: int, end: int, sheet: str) -> None:
        """A list of notes from elsewhere was pasted: offer to write it as a sheet."""
        self.notice.say("This looks like a list of notes from elsewhere.", True, "Write it as a sheet",
                        lambda: self.document.apply([TextEdit(start, end, sheet)]))  # fmt: skip

    def show_keys(self) -> None:
        """Show the key card."""
        KeyCard(self.menus.by_menu, self.look, self).show()

    # Following

    def _show_reading(self) -> None:
        reading = self.document.reading
        self.choosing.follow_reading()
        self.findings.show_reading(reading)
        self.strip.show_song(reading.song)
        self.transpose.show_reading(reading)
        self._show_front()
        self._facts_due.start()
        self._collector.note_change()
        self.choosing.follow_text(*self._selected_text())

    def _show_front(self) -> None:
        reading, front = self.document.reading, self.choosing.front
        self.timeline.show_scene(self.choosing.scene)
        self.keyboard.show_song(reading.song, front, reading.sheet.settings.keys or ())
        self.voices.show_song(reading.song, front)
        self._follow_voices()

    def _follow_voices(self) -> None:
        if self.listening.wanted.silent != self.voices.silent:
            self.listening.wish(silent=self.voices.silent)
        self.timeline.hide_voices(self.voices.hidden)

    def _show_facts(self) -> None:
        """What need not keep up with every key."""
        reading = self.document.reading
        self.counts.setText(words.counts(reading.song))
        self.facts.show_reading(reading)
        self.shelf.show_current(self.document.path, reading)

    def _selected_text(self) -> tuple[int, int]:
        cursor = self.editor.textCursor()
        return self.document.from_qt(cursor.selectionStart()), self.document.from_qt(cursor.selectionEnd())

    def _show_file(self) -> None:
        kept = (
            "not saved, and not kept safe"
            if self.keeping.fault
            else "not saved"
            if self.document.modified
            else "all changes kept"
            if self.document.path
            else "nothing to keep yet"
        )
        name = self.state.fontMetrics().elidedText(
            self.document.name, Qt.TextElideMode.ElideMiddle, self.look.px(220)
        )
        self.state.setText(f"{name} — {kept}  ")
        window = self.window()
        assert window is not None
        window.setWindowTitle(f"{self.document.name}[*] — Chickadee")
        window.setWindowModified(self.document.modified)
        self.shelf.show_current(self.document.path, self.document.reading)

    def _show_output(self) -> None:
        self.output.setText(f"Output: {self.player.output_name}")

    def _say_output_lost(self) -> None:
        self.notice.say("The sound device went away. Playing goes on silently until there is one again.")

    def _go_to_finding(self, finding: Finding) -> None:
        self.editor.select(finding.start, finding.end)
        self.editor.setFocus()

    def _apply_fix(self, fix: Fix) -> None:
        self.document.apply(fix.edits)
        self.editor.setFocus()

    # Playing

    def _hear_typed(self) -> None:
        """Sound the note at the caret, once what was typed has been drawn."""
        aloud = self.is_on("Hear notes as they are typed") and self.editor.hasFocus()
        if aloud and not self.player.playing:
            QTimer.singleShot(0, self._hear_caret)

    def _front_sound(self) -> tuple[str, float]:
        song = self.document.reading.song
        return (song.voices[self.choosing.front].sound if song.voices else DEFAULT_SOUND), song.tuning

    def _write_key(self, numbers: tuple[int, ...]) -> None:
        """Write what a key asks for after the chosen note: MIDI numbers, or none for a rest."""
        self.editing.write_next(self.choosing.front, numbers, self.timeline.grid)

    def _record(self, on: bool) -> None:
        """Count in and keep what is played in time, or end that and offer it."""
        if on:
            self.hands.take()
            self.listening.play_for_recording()
            return
        self.player.stop()
        taken = self.hands.end_take()
        if taken:
            line = written_take(self.document.reading, taken, self.timeline.grid)
            self.notice.say(f"{words.counted(len(taken), 'note')} recorded.", False, "Write them into the sheet",
                            lambda: self.editing.add_voice("Take", line))  # fmt: skip

    def toggle_keyboard(self) -> None:
        """Show or fold away the keyboard."""
        self.keyboard.setVisible(self.is_on("Keyboard"))

    def _hear(self, numbers: list[int]) -> None:
        """Sound numbers as the front voice would."""
        sound, tuning = self._front_sound()
        if not self.player.playing:
            self.taster.play(sound, numbers, tuning)

    def _hear_caret(self) -> None:
        self.taster.typed(self.document.reading, self.editor.caret)

    # The look

    def apply_look(self) -> None:
        """Draw in the theme and at the size that the menu says."""
        self.look = look_for(self.is_on("Evening theme"), self.is_on("Projector"))
        self.state.setFixedSize(self.look.px(380), self.look.px(26))
        self.state.clear()  # a label remembers its size; the menu bar asks for it when the style sheet changes
        palette = self.palette()
        palette.setColor(QPalette.ColorRole.Highlight, self.look.color("accent"))  # rings that Qt draws itself
        self.setPalette(palette)
        self.setStyleSheet(style_sheet(self.look))
        self._show_file()
        for view in (
            self.strip,
            self.timeline,
            self.editor,
            self.findings,
            self.wave,
            self.transpose,
            self.facts,
            self.voices,
            self.working,
            self.shelf,
            self.keyboard,
        ):
            view.set_look(self.look)
        self.arrangement.set_look(self.look, self.width())

    def toggle_shelf(self) -> None:
        """Show or fold away the shelf."""
        self.shelf.setVisible(self.is_on("Shelf"))

    def toggle_full_screen(self) -> None:
        """Use the whole screen, or no longer."""
        window = self.window()
        assert window is not None
        window.setWindowState(window.windowState() ^ Qt.WindowState.WindowFullScreen)

    # Events

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space plays and stops from anywhere that is not a text field."""
        if (
            event is not None
            and event.key() == Qt.Key.Key_Space
            and not isinstance(QGuiApplication.focusObject(), QPlainTextEdit)
        ):
            self.listening.play_or_stop()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and data.urls():
            self.open_path(Path(data.urls()[0].toLocalFile()))

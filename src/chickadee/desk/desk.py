"""The desk: makes the models and the views, and connects them."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QKeyEvent, QPalette
from PyQt6.QtWidgets import QMainWindow, QPlainTextEdit, QWidget

from ..display.readout import Readout
from ..formats.forms import SOUND_SUFFIXES
from .actions import ActionSource, ActionSpec
from .appearance import Appearance
from .arrangement import Arrangement
from .arrivals import Arrivals
from .audition import Audition
from .document import Document
from .edit_commands import EditCommands
from .editing import MusicEditing
from .exports import Exports
from .file_commands import FileCommands
from .file_state import FileState
from .help import Help
from .highlight import Highlight
from .idle_collector import IdleCollector
from .keyboard.held_keys import HeldKeys
from .keyboard.input import KeyboardInput
from .keyboard.panel import KeyboardPanel
from .keyboard.ports import MidiKeys
from .keyboard.routes import MidiRoutes
from .menu_bar import Menus
from .mix import Mix
from .notice import Notice
from .opened_program import OpenedProgram
from .overlay import Overlay
from .panels import PANELS
from .plain_dialogs import ask_for_number
from .playback import Playback
from .preview import Preview
from .program_choice import ProgramChoice
from .questions import Questions
from .recovery import Recovery
from .selection import Selection
from .settings import Settings
from .sheet.editor import SheetEditor
from .sheet.findbar import FindBar
from .shelf.panel import ShelfPanel
from .signals import Signals
from .status_line import StatusLine
from .style import style_sheet
from .theme import Look
from .timeline.actions import row_id
from .timeline.view import TimelineView
from .transport_bar.view import TransportBar
from .tune_rows import TuneRows
from .working.panel import Panel, PanelContext
from .working.side import WorkingSide
from .working.spec import PanelSize

__all__ = ["Desk"]

_BOUNCE = "bouncing keys"  # in the settings: milliseconds
_ENGINE_MILLISECONDS = 250  # the window is painted first


class Desk(QMainWindow):
    """One tune and all its views, with their menus. It lies in a window as one of its parts.

    Models know no views; a view follows the models that it shows. What is connected here is the rest.
    """

    def __init__(self, folder: Path | None = None) -> None:
        super().__init__()
        self._make_models()
        self._make_views()
        self._make_commands()
        self._make_menus()
        self._arrange()
        self._connect_models()
        self._connect_views()
        self.setAcceptDrops(True)
        if folder:
            self.files.folder = folder
        self.shelf.show_folder(folder)
        self._draw_with(self.appearance.look)
        self.menus.restore()
        self.working.begin()
        self.selection.scene_changed.emit(self.selection.scene)
        self.document.setParent(None)  # Qt takes children down in order: the views go before the text they show
        self.document.setParent(self)

    @property
    def look(self) -> Look:
        """The look that everything is drawn with."""
        return self.appearance.look

    def panel(self, name: str) -> Panel:
        """A panel of the working side by its id."""
        return self.working.panel(name)

    # Building

    def _make_models(self) -> None:
        self.settings = Settings()
        self.appearance = Appearance(self.settings, self)
        self.document = Document(self)
        self.selection = Selection(self.document, self)
        self.playback = Playback(self.document, self.selection, self)
        self.player = self.playback.player
        self.audition = Audition(self.player, self.document, self.selection, self)
        self.mix = Mix(self.selection, self)
        self.preview = Preview(self)
        self.notice = Notice()
        self.arrivals = Arrivals(self.document, self)
        self.program = OpenedProgram(self)
        self.program_choice = ProgramChoice(self.settings, self)
        self.overlay = Overlay(self)
        self.files = FileCommands(self.document, self.arrivals, self.notice, self, self.settings)
        self.exports = Exports(
            self.document, self.notice, self, self.settings, lambda: self.files.folder, lambda: self.playback.in_room
        )
        self.editing = MusicEditing(self.document, self.notice, lambda: self.selection.notes, self)
        self.recovery = Recovery(self.document, self.notice, self, lambda: self.look)
        self.held_keys = HeldKeys(self.player, self.selection.sound_of, self)
        self.midi_keys = MidiKeys(self.held_keys, self)
        self.midi_routes = MidiRoutes(self.midi_keys, self.selection, self.settings, self)
        self.signals = Signals(self.player, self.settings, self.notice, self)
        self._collector = IdleCollector(self)

    def _make_views(self) -> None:
        look = self.look
        self.timeline = TimelineView(look)
        self.editor = SheetEditor(self.document, look)
        self.find_bar = FindBar(self.editor, self.document)
        self.shelf = ShelfPanel(look, self.document)
        self.keyboard = KeyboardPanel(look, self.held_keys)
        context = PanelContext(
            self.appearance,
            self.settings,
            self.document,
            self.selection,
            self.editing,
            self.playback,
            self.audition,
            self.mix,
            self.preview,
            self.notice,
            self.arrivals,
            self.files,
            self.overlay,
            self.program,
            self.program_choice,
            self.timeline.time_axis,
        )
        self.working = WorkingSide(PANELS, context)

    def _make_commands(self) -> None:
        self.edit_commands = EditCommands(self.document, self.editing, self.notice, self.editor, self.timeline, self)
        self.questions = Questions(
            self.document,
            self.selection,
            self.editing,
            self.files,
            self.notice,
            self,
            lambda: self.look,
            lambda: self.editor.caret,
        )
        self.help = Help(
            self, lambda: self.look, lambda: self.menus.by_menu, lambda said: self.notice.say(said, good=True)
        )

    def _make_menus(self) -> None:
        sources: tuple[ActionSource, ...] = (
            self.files, self.recovery, self.exports, self.edit_commands, self.editor, self.find_bar, self.notice,
            self.questions,
            self.editing, self.selection, self.playback, self.keyboard, self.audition, self.timeline, self.working,
            self.signals, self.midi_routes, self.appearance, self.help, self,
        )  # fmt: skip
        bar = self.menuBar()
        assert bar is not None
        self.menus = Menus(bar, (spec for source in sources for spec in source.action_specs()), self.settings, self)
        self.actions_by_id = self.menus.actions
        self.menus.menus["song"].insertMenu(self.actions_by_id["tune.save"], self.menus.recent)
        self._show_recent()
        self.file_state = FileState(self.document, self.recovery, self.look, self)
        bar.setCornerWidget(self.file_state)

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Return the actions of the window itself."""
        return (
            ActionSpec("window.quit", "song/window", "&Quit", "Ctrl+Q", "Close the window",
                       lambda: self._window().close()),
            ActionSpec("window.full-screen", "view/look", "&Full screen", "F11", "Use the whole screen, or no longer",
                       lambda: self._window().setWindowState(
                           self._window().windowState() ^ Qt.WindowState.WindowFullScreen)),
            ActionSpec("shelf.show", "view/parts", "S&helf", "F9", "Show or fold away the shelf",
                       switched=lambda on: self.arrangement.show_shelf(on), on=True, kept=True),
            ActionSpec("keys.bounce", "listen/keys", "Debounce ke&ys…", None,
                       "Take presses of one key that follow at once for one", self._ask_bounce),
            ActionSpec("keyboard.show", "view/parts", "Key&board", "F10", "Show or fold away the keyboard",
                       switched=lambda on: self.arrangement.show_keyboard(on), on=True, kept=True),
        )  # fmt: skip

    def _ask_bounce(self) -> None:
        """Ask how quick a second press is one that bounced, and remember it."""
        before = round(1000 * self.keyboard.bounce)
        label = "Milliseconds within which a second press of a key is none:"
        value = ask_for_number(self, "Debounce keys", label, before, 0, 500)
        if value is not None:
            self.settings.set_words(_BOUNCE, [str(value)])
            self.keyboard.tame(value)

    def _arrange(self) -> None:
        play, *others = (
            self.actions_by_id[name] for name in ("play.toggle", "play.stop", "step.back", "step.on", "play.round")
        )
        self.transport_bar = TransportBar(self.look, play, others)
        self.arrangement = Arrangement(
            [self.transport_bar, self.notice],
            self.shelf,
            self.timeline,
            [self.editor, self.find_bar],
            self.working,
            self.keyboard,
        )
        self.setCentralWidget(self.arrangement)
        bar = self.statusBar()
        assert bar is not None
        self.status_line = StatusLine(bar, self.selection, self.player)

    # Connecting

    def _connect_models(self) -> None:
        document = self.document
        selection = self.selection
        editing = self.editing
        self.files.settle = self.recovery.settle
        self.recovery.may_leave = self.files.may_leave
        self.recovery.save = self.files.save
        document.reading_changed.connect(self.notice.fade)
        document.reading_changed.connect(self._collector.note_change)
        document.profile_faulty.connect(self.notice.say)
        editing.chosen.connect(selection.choose_notes)
        editing.heard.connect(self.audition.notes)
        self.arrivals.brought.connect(lambda: self.working.turn_to("found"))
        self.arrivals.taken.connect(lambda: self.working.turn_to("findings"))
        self.program.opened.connect(lambda: self.working.turn_to("programs"))
        self.program_choice.page_wanted.connect(lambda: self.working.turn_to("handout"))
        self.mix.changed.connect(lambda: self.playback.silence(self.mix.silent))
        self.player.lost.connect(
            lambda: self.notice.say(
                "The sound device was removed. Playback goes on silently until there is one again."
            )
        )
        show = self.transport_bar.readout.show_readout
        self.keyboard.tame(self.settings.read(_BOUNCE, 0, lambda words: max(0, min(500, int(words[0])))))
        self.keyboard.carried.connect(
            lambda own, name: show(
                Readout(own.written.strip("{}"), "", f"key {own.letter}", f"set {name}" if name else "")
            )
        )
        self.keyboard.set_changed.connect(lambda name, keys: show(Readout(f"Keys: {name}", "", keys)))
        self.keyboard_input = KeyboardInput(self.keyboard, document, selection, editing, self.playback, self.notice)

    def _connect_views(self) -> None:
        selection = self.selection
        timeline = self.timeline
        editor = self.editor
        editing = self.editing
        for view in (timeline, self.keyboard, self.transport_bar):
            selection.scene_changed.connect(view.show_scene)
        self.appearance.changed.connect(self._draw_with)
        self.mix.changed.connect(lambda: timeline.hide_voices(self.mix.hidden))
        self.preview.changed.connect(timeline.show_preview)
        self.overlay.changed.connect(timeline.show_attempt)
        self.document.begun.connect(timeline.show_tune_from_start)
        self.tune_rows = TuneRows(self.document, self.actions_by_id)
        self.document.begun.connect(lambda: editor.select(0, 0))
        editor.caret_moved.connect(selection.follow_text)
        editor.typed.connect(self.audition.follow_typing)
        editor.sound_tried.connect(self.audition.sound)
        editor.list_pasted.connect(self.edit_commands.offer_sheet)
        selection.text_wanted.connect(editor.select)
        selection.sheet_wanted.connect(self.working.reveal_sheet)
        selection.sheet_wanted.connect(editor.write_at)
        self.find_bar.opened.connect(self.working.reveal_sheet)
        self.highlight = Highlight(
            selection, self.playback, self.transport_bar, timeline, editor, self.keyboard.keys, self
        )
        self.working.readout_wanted.connect(self.highlight.show_instead)
        timeline.note_chosen.connect(selection.choose_note)
        timeline.notes_chosen.connect(selection.choose_notes)
        timeline.stepped.connect(selection.step)
        timeline.row_wanted.connect(lambda title: self.actions_by_id[row_id(title)].setChecked(True))
        timeline.proposed.connect(editing.propose)
        timeline.drawn.connect(lambda number, tick, beats: editing.draw(selection.front, number, tick, beats))
        timeline.typed.connect(lambda row, notes, text: editing.type_into(notes, row.edit, text))
        timeline.heard.connect(self.audition.notes)
        timeline.nudged.connect(editing.move_by_steps)
        timeline.erased.connect(editing.delete)
        timeline.grid_changed.connect(editing.use_grid)
        timeline.menu_wanted.connect(self.menus.menus["notes"].popup)
        self.working.size_changed.connect(self._show_size)
        self.shelf.tune_chosen.connect(self.files.open_path)
        self.shelf.asked.connect(self.files.do_on_shelf)
        self.files.folder_opened.connect(self.shelf.show_folder)
        self.files.worked_in.connect(self._show_recent)
        self.transport_bar.speed_changed.connect(lambda speed: self.playback.wish(speed=speed))
        self.transport_bar.property_given.connect(editing.set_property)
        self.transport_bar.level_changed.connect(self.player.set_level)

    def _show_size(self, size: PanelSize) -> None:
        """Where the sheet is folded away from under the caret, keys go to the timeline, or to the panel over it."""
        wrote = self.editor.hasFocus()
        self.arrangement.show_size(size, self.working.spec.tall)
        if wrote and size is not PanelSize.BESIDE:
            (self.working.current if size is PanelSize.OVER else self.timeline).setFocus()

    def _show_recent(self) -> None:
        self.menus.show_recent(self.settings.recent_folders, self.files.open_folder)

    def _draw_with(self, look: Look) -> None:
        """Draw everything in a theme, at a size."""
        palette = self.palette()
        palette.setColor(QPalette.ColorRole.Highlight, look.color("accent"))  # rings that Qt draws itself
        self.setPalette(palette)
        self.setStyleSheet(style_sheet(look))
        for view in (
            self.file_state,
            self.transport_bar,
            self.timeline,
            self.editor,
            self.working,
            self.shelf,
            self.keyboard,
            self.arrangement,
        ):
            view.set_look(look)

    def _window(self) -> QWidget:
        window = self.window()
        assert window is not None
        return window

    # Coming and going

    def begin(self) -> None:
        """The desk lies in its window: write there, start the engine, offer what an earlier desk left behind."""
        self.file_state.show_file()
        self.editor.setFocus()
        QTimer.singleShot(_ENGINE_MILLISECONDS, self.player.open)
        QTimer.singleShot(_ENGINE_MILLISECONDS, self.midi_keys.listen_to_system)
        self.recovery.offer_left_behind()

    def leave(self) -> bool:
        """Put everything away, and say whether the window may close: the user may want to save first."""
        if not self.files.may_leave():
            return False
        self.player.close()
        self.stop_work()
        self.recovery.close()
        return True

    def end(self) -> None:
        """Put everything away without asking; unsaved work is kept for the next start."""
        self.recovery.keep_at_once()
        self.player.close()
        self.stop_work()
        self.recovery.close(forget=False)

    def stop_work(self) -> None:
        """End what works in threads, before the window goes."""
        self.signals.stop()
        self.exports.wait()
        self.shelf.stop_work()
        for panel in self.working.made.values():
            panel.stop_work()

    # Events

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space plays and stops from anywhere that is not a text field."""
        if (
            event is not None
            and event.key() == Qt.Key.Key_Space
            and not isinstance(QGuiApplication.focusObject(), QPlainTextEdit)
        ):
            self.playback.play_or_stop()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and data.urls():
            path = Path(data.urls()[0].toLocalFile())
            if path.suffix.lower() in SOUND_SUFFIXES:
                self.panel("recording").take_file(path)
            else:
                self.files.open_path(path)

"""The Ideas panel: ten tunes of a recipe, or ten changes of the open tune; heard, locked, kept."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import count, islice
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...display.idea import Idea
from ...display.scene import Scene
from ...files import FileFault, free_path, is_folder, write_text
from ...ideas.proposing import Way, proposed
from ...ideas.recipe import Recipe, RecipeFault
from ...ideas.tune import NONE_PASSES, tunes_in_turn
from ...ideas.variation import left_out, varied
from ...sheet import Reading, read
from ..goals import plain_file_name
from ..parts import describe, plain_box
from ..pauses import after_pause
from ..plain_text import PlainLabel
from ..theme import Look
from ..working.panel import Panel, PanelContext
from .chord_choices import ChordChoices
from .gallery import Gallery
from .recipe_form import RecipeForm
from .recipe_row import RecipeRow
from .set_work import SetMaking

__all__ = ["IdeasPanel"]

_TEN = 10
_TRIES = 40  # changes of the open tune that are tried for ten different ones
_PAUSE_MILLISECONDS = 200
_WIDE = 700  # pixels of the panel at scale 1, from which on the controls stand beside the ideas
# pixels at scale 1
_CONTROLS = 330
_NARROWEST = 200
_LOWEST = 130
_RECIPE = "a recipe"


class IdeasPanel(Panel):
    """Makes ideas one after the other, so that the window never waits for them."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self._reading: Reading = read("")
        self._seed = 0
        self._coming: Iterator[Idea] = iter(())
        self._shown_for: object = None  # what the ideas were made from
        self.sets = SetMaking(context.notice, self)
        self.source = plain_box(QComboBox())
        self.source.addItems([_RECIPE, *(way.value for way in Way)])
        self.recipe_row = RecipeRow(context, lambda: self._folder or Path.home())
        self.form = RecipeForm(context.appearance.look)
        self.chords = ChordChoices()
        self.gallery = Gallery(context.appearance.look)
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.again = QPushButton("Another ten")
        self.lock = QPushButton("Lock")
        self.keep = QPushButton("Keep")
        self.take = QPushButton("Take it")
        self.set = QPushButton("Make a set…")
        self.lock.setCheckable(True)
        self._maker = QTimer(self)
        self._maker.setInterval(0)
        self._maker.timeout.connect(self._make_one)
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self.begin_again)
        self._describe()
        self._lay_out()
        self._connect()
        self.use_recipe(self.recipe_row.recipe)

    # Building

    def _describe(self) -> None:
        describe(
            (self.source, "What the ideas are made from"),
            (self.again, "Ten other ideas; a locked one stays, and the others are like it (Ctrl+Shift+F9)"),
            (self.lock, "Let the selected idea stay when others come (Shift+F9)"),
            (self.keep, "Put the selected tune on the shelf (Shift+F7)"),
            (self.take, "Put the selected change into the sheet; undo takes it back (Shift+F7)"),
            (self.set, "A folder with a tune for each pupil (Ctrl+Shift+F10)"),
        )

    def _lay_out(self) -> None:
        controls = QWidget()
        column = QVBoxLayout(controls)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self._from = QHBoxLayout()
        self._from.addWidget(PlainLabel("From"))
        self._from.addWidget(self.source, 1)
        self._from_column = QVBoxLayout()
        self._from_column.addLayout(self._from)
        self._from_column.addWidget(self.recipe_row)
        column.addLayout(self._from_column)
        column.addWidget(self.form, 1)
        column.addWidget(self.chords, 1)
        column.addStretch()
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setWidget(controls)
        self._buttons = QHBoxLayout()
        for button in (self.again, self.lock, self.keep, self.take, self.set):
            self._buttons.addWidget(button)
        self._buttons.addStretch()
        self._right = QVBoxLayout()
        self._right.addLayout(self._buttons)
        self._right.addWidget(self.said)
        self._right.addWidget(self.gallery, 1)
        self.said.hide()
        self._parts = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self._parts.addWidget(self._scroll)
        self._parts.addLayout(self._right, 1)

    def _connect(self) -> None:
        self.source.currentTextChanged.connect(self._choose_source)
        self.recipe_row.used.connect(self.use_recipe)
        self.form.changed.connect(self._recipe_changed)
        self.chords.changed.connect(self._due.start)
        self.gallery.wanted.connect(self.hear)
        self.gallery.currentRowChanged.connect(self._show_chosen)
        self.again.clicked.connect(self.another_ten)
        self.lock.clicked.connect(self._lock_chosen)
        self.keep.clicked.connect(self.keep_it)
        self.take.clicked.connect(self.keep_it)
        self.set.clicked.connect(self.make_set)
        self.context.playback.player.finished.connect(lambda: self.gallery.show_playing(-1))
        self._choose_source()

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        px = look.px
        self._parts.setContentsMargins(0, 0, 0, 0)
        self._from_column.setContentsMargins(px(10), px(6), px(8), 0)
        self._from_column.setSpacing(px(5))
        self._right.setContentsMargins(px(6), px(6), px(8), px(6))
        self._right.setSpacing(px(6))
        self.form.set_look(look)
        self.gallery.set_look(look)
        self._arrange()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The controls stand beside the ideas where there is room."""
        self._arrange()

    def _arrange(self) -> None:
        wide = self.width() > self.look.px(_WIDE)
        self._parts.setDirection(QBoxLayout.Direction.LeftToRight if wide else QBoxLayout.Direction.TopToBottom)
        self._scroll.setMaximumWidth(self.look.px(_CONTROLS) if wide else 16_777_215)
        self._scroll.setMinimumSize(self.look.px(_NARROWEST), self.look.px(_LOWEST))
        self.gallery.setMinimumSize(self.look.px(_NARROWEST), self.look.px(_LOWEST))

    # Ideas

    @property
    def way(self) -> Way | None:
        """The way in which the open tune is changed; None for tunes of a recipe."""
        return next((way for way in Way if way.value == self.source.currentText()), None)

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune."""
        if scene.reading is not self._reading or self.way is not None:
            self._reading = scene.reading
            if self.way is not None:
                self._due.start()

    def show_selection(self, notes: Sequence[int]) -> None:
        """Other bars are meant."""
        if self.way is not None:
            self._due.start()

    def showEvent(self, event: object) -> None:
        """Make the first ten; what is marked is seen on the timeline again."""
        self.begin_again()
        self._show_chosen()

    def hideEvent(self, event: object) -> None:
        if self._maker.isActive():
            self._maker.stop()
            self._shown_for = None  # they are made when the panel is seen again
        self.context.preview.show(None)

    def switch_lock(self) -> None:
        """Let the selected idea stay when others come, or no longer."""
        self.lock.click()

    def another_ten(self) -> None:
        """Ten other ideas; the locked one stays, and the others are like it."""
        self._seed += 1
        self._shown_for = None
        self.begin_again()

    def begin_again(self) -> None:
        """Make ten ideas for what is asked now, unless they are there."""
        asked = self._asked()
        if not self.isVisible() or asked == self._shown_for:
            return
        self._shown_for = asked
        locked = self.gallery.locked if self.way is None else None
        self._say("")
        self.context.preview.show(None)
        self.gallery.show_playing(-1)
        self.gallery.show_ideas([locked] if locked is not None else [])
        self._coming = islice(self._made(locked), _TEN - self.gallery.count())
        self._maker.start()

    def _asked(self) -> object:
        if self.way is None:
            return self.form.recipe, self._seed
        return self.way, self._reading, tuple(self._bars), self.context.selection.front, self._seed, self.chords.steps

    @property
    def _bars(self) -> list[int]:
        """Indices of the selected notes, where more than one is: one alone is only where the user stands."""
        notes = self.context.selection.notes
        return list(notes) if len(notes) > 1 else []

    def _made(self, locked: Idea | None) -> Iterator[Idea]:
        """Ideas for ever, or as long as there are others."""
        if self.way is not None:
            yield from self._changes(self.way)
        elif locked is not None:
            self._say(" ".join(left_out(locked.song, "rhythm")))
            for number in count(self._seed * 1000):
                text = varied(locked.song, "rhythm" if number % 2 else "pitches", number)
                yield Idea.of_tune(text, self.form.recipe)
        else:
            for text in tunes_in_turn(self.form.recipe, self._seed + 1):
                yield Idea.of_tune(text, self.form.recipe)

    def _changes(self, way: Way) -> Iterator[Idea]:
        """Different changes of the open tune."""
        seen: set[object] = set()
        front = self.context.selection.front
        bars = self._bars
        reading = self._reading
        if way is Way.CHORDS and not self.chords.is_for(reading, front):
            self.chords.offer(reading, front)
        for number in range(_TRIES):
            steps = self.chords.steps if way is Way.CHORDS and not number else ()
            proposal = proposed(reading, way, front, self._seed * 1000 + number, bars, steps)
            if proposal.edits not in seen:
                seen.add(proposal.edits)
                yield Idea.of_change(proposal, way, reading.song, len(seen))

    def _make_one(self) -> None:
        """Make the next idea; a fault ends the making and is said."""
        try:
            idea = next(self._coming, None)
        except RecipeFault as fault:
            idea = None
            self._say(str(fault))
        if idea is None:
            self._maker.stop()
            if not self.gallery.count() and not self.said.text():
                self._say(NONE_PASSES)
        else:
            self.gallery.add(idea)
        self._show_chosen()

    def _say(self, sentence: str) -> None:
        self.said.setText(sentence[:1].upper() + sentence[1:])
        self.said.setVisible(bool(sentence))

    # What is done with them

    def hear(self, row: int) -> None:
        """Play an idea, or stop it where it plays."""
        ideas = self.gallery.ideas
        playback = self.context.playback
        if self.gallery.playing == row and playback.player.playing:
            playback.player.stop()
            self.gallery.show_playing(-1)
            return
        idea = ideas[row]
        if idea.edits:
            playback.play_in_turn((idea.song, idea.start, None))
        else:
            playback.play_apart(idea.reading)
        self.gallery.show_playing(row)

    def _show_chosen(self, row: int = -1) -> None:
        """Let the buttons be what can be done, and the timeline show what would become of the tune."""
        idea = self.gallery.chosen
        own = self.way is None
        for button in (self.keep, self.lock, self.set):
            button.setVisible(own)
        self.take.setVisible(not own)
        for button in (self.keep, self.take, self.lock):
            button.setEnabled(idea is not None)
        self.lock.setChecked(idea is not None and idea is self.gallery.locked)
        self.lock.setText("Unlock" if self.lock.isChecked() else "Lock")
        self.again.setText("Nine like it" if self.gallery.locked is not None and own else "Another ten")
        self.context.preview.show(idea.new if idea is not None and idea.edits and self.isVisible() else None)

    def _lock_chosen(self) -> None:
        row = self.gallery.currentRow()
        self.gallery.lock(row if self.gallery.chosen is not self.gallery.locked else -1)
        self._show_chosen()

    def keep_it(self) -> None:
        """Put the marked tune on the shelf, or the marked change into the sheet."""
        idea = self.gallery.chosen
        if idea is None:
            self.context.notice.say("Select an idea in the Ideas panel first.", good=True)
        elif idea.edits:
            self.context.preview.show(None)
            self.context.document.apply(list(idea.edits))
            self._say("Done. Undo takes it back.")
        else:
            self._keep_tune(idea)

    def _keep_tune(self, idea: Idea) -> None:
        folder = self._folder
        if folder is None:
            chosen = QFileDialog.getExistingDirectory(self, "Folder for the tune", str(Path.home()))
            folder = Path(chosen) if chosen else None
        if folder is None:
            return
        path = free_path(folder, plain_file_name(idea.title), ".chick")
        try:
            write_text(path, idea.reading.text)
        except FileFault as fault:
            self.context.notice.say(str(fault))
            return
        self.context.notice.say(f"Kept as {path.name}, in {folder}.", good=True)

    @property
    def _folder(self) -> Path | None:
        """Where tunes are kept: the open tune's folder, or the last one that was open."""
        path = self.context.document.path
        folders = [path.parent] if path is not None else self.context.settings.recent_folders
        return next((folder for folder in folders if is_folder(folder)), None)

    def make_set(self) -> None:
        """Ask for a set and make it, with progress that can be cancelled."""
        recipe = self.form.recipe
        window = self.window()
        if window is not None:
            folder = (self._folder or Path.home()) / plain_file_name(recipe.title)
            self.sets.ask(recipe, self._seed + 1, folder, window)

    def stop_work(self) -> None:
        """Stop making a set, before the window goes."""
        self.sets.stop()

    # Recipes

    def use_recipe(self, recipe: Recipe) -> None:
        """Make tunes of another recipe."""
        self.form.show_recipe(recipe)
        self._recipe_changed()

    def _recipe_changed(self) -> None:
        self.recipe_row.show_recipe(self.form.recipe)
        self.gallery.lock(-1)
        self._due.start()

    def _choose_source(self) -> None:
        """Show the controls of what the ideas are made from."""
        own = self.way is None
        self.recipe_row.setVisible(own)
        self.form.setVisible(own)
        self.chords.setVisible(self.way is Way.CHORDS)
        self.gallery.lock(-1)
        self.gallery.show_ideas([])
        self._shown_for = None
        self._due.start()
        self._show_chosen()

"""A recipe as a few plain controls, and more of them where they are wanted."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import replace

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QSlider,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ...ideas.recipe import ACCOMPANIMENTS, FORMS, LEVELS, LOUDNESS, METERS, Recipe, RecipeFault, for_level
from ...song.drums import DRUM_SOUND
from ...song.sounds import SOUNDS
from ...theory import KeyNameError, read_key
from ..field_form import Field, FieldForm
from ..parts import describe, plain_box
from ..plain_dialogs import PlainForm
from ..plain_text import PlainLabel
from ..theme import Look
from .note_keys import NoteKeys

__all__ = ["RecipeForm"]

_LENGTHS = {"1/4": "¼", "1/2": "½", "3/4": "¾", "1": "1", "3/2": "1½", "2": "2", "3": "3", "4": "4"}
_KEYS = (
    "C major", "G major", "D major", "A major", "E major", "F major", "Bb major", "Eb major", "A minor", "E minor",
    "D minor", "B minor", "G minor", "C minor", "C major pentatonic", "G major pentatonic", "A minor pentatonic",
    "D dorian", "G mixolydian",
)  # fmt: skip
_KEPT_AT_EVERY_LEVEL = ("bars", "meter", "form", "accompaniment", "sound", "loudness", "words")


def _words_of(values: Iterable[str]) -> dict[str, str]:
    return {value: value for value in values}


def _title(text: str) -> str:
    return text.strip() or Recipe().title


def _chords(text: str) -> tuple[int, ...]:
    return tuple(int(step) if step.isdigit() else 0 for step in text.replace(",", " ").split())


def _chords_shown(chords: Iterable[int]) -> str:
    return " ".join(map(str, chords))


_MORE = (
    Field("title", "Title", "Title; a number follows", read=_title),
    Field("meter", "Meter", choices=_words_of(METERS)),
    Field("tempo", "Tempo", "Beats a minute", limits=(20, 300)),
    Field("form", "Form", "Form: which sections come again", choices=_words_of(FORMS)),
    Field("longest_leap", "Longest leap", "The longest leap", limits=(1, 14), after=" steps"),
    Field("rests", "Rests", "How many notes are rests", limits=(0, 50), after=" in 100 notes"),
    Field("accompaniment", "Second voice", choices=_words_of(ACCOMPANIMENTS)),
    Field("sound", "Sound", "Sound of the tune", choices=_words_of(each for each in SOUNDS if each != DRUM_SOUND)),
    Field("loudness", "Loudness", choices=_words_of(LOUDNESS)),
    Field("chords", "Chords", "Chords, as steps of the key", show=_chords_shown, read=_chords,
          example="let them be chosen; or steps, such as 1 4 5 1"),
    Field("words", "Words", "Whether there are words", after="a syllable under each note"),
)  # fmt: skip


class RecipeForm(QWidget):
    """Shows a recipe and changes it. ``changed`` tells that it is another one now."""

    changed = pyqtSignal()

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._recipe = Recipe()
        self._filling = False
        self.level = QSlider(Qt.Orientation.Horizontal)
        self.level.setRange(LEVELS[0], LEVELS[-1])
        self.level.setPageStep(1)
        self.level.setTickPosition(QSlider.TickPosition.TicksBelow)
        self.level_said = PlainLabel()
        self.key = QComboBox()
        self.bars = QSpinBox()
        self.keys = NoteKeys(look)
        self.keys_said = PlainLabel()
        self.lengths = {length: QPushButton(sign) for length, sign in _LENGTHS.items()}
        self.rest = FieldForm(_MORE, self._recipe)
        self.more = QPushButton("More")
        self.more.setCheckable(True)
        self._describe()
        self._lay_out()
        self._connect()
        self.show_recipe(self._recipe)

    @property
    def recipe(self) -> Recipe:
        """The recipe in the fields; its wishes may collide."""
        return self._recipe

    def show_recipe(self, recipe: Recipe) -> None:
        """Put a recipe into the controls, without telling."""
        self._recipe = recipe
        self._filling = True
        self.key.setCurrentText(recipe.key)
        self.bars.setValue(recipe.bars)
        self.rest.show_values(recipe)
        for length, button in self.lengths.items():
            button.setChecked(length in recipe.lengths)
        level = next((level for level in LEVELS if self._at_level(level) == recipe), None)
        if level is not None:
            self.level.setValue(level)
        self.level_said.setText(str(level) if level is not None else "own")
        self._show_notes()
        self._filling = False

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self.keys.set_look(look)
        self._column.setContentsMargins(look.px(10), look.px(6), look.px(8), look.px(6))
        self._column.setSpacing(look.px(6))
        self.level_said.setMinimumWidth(look.px(34))
        self.level_said.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._plain.setVerticalSpacing(look.px(5))
        self.rest.rows.setVerticalSpacing(look.px(5))
        for button in self.lengths.values():
            button.setStyleSheet(f"padding: {look.px(3)}px {look.px(2)}px;")
            button.setMinimumWidth(look.px(28))

    # Building

    def _describe(self) -> None:
        self.key.setEditable(True)
        self.key.addItems(_KEYS)
        self.key.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        plain_box(self.key)
        self.bars.setRange(2, 64)
        for button in self.lengths.values():
            button.setCheckable(True)
            button.setObjectName("voiceToggle")
        describe(
            (self.level, "Difficulty, from 1 to 8: it sets the rest"),
            (self.key, "Key or scale"),
            (self.bars, "How many bars"),
            (self.more, "Show everything that a recipe can say"),
            *((button, f"Notes of {length} beats") for length, button in self.lengths.items()),
        )

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        self._plain = PlainForm()
        level = QHBoxLayout()
        lengths = QHBoxLayout()
        keys = QHBoxLayout()
        level.addWidget(self.level, 1)
        level.addWidget(self.level_said)
        keys.addWidget(self.key, 1)
        keys.addWidget(self.bars)
        for button in self.lengths.values():
            lengths.addWidget(button, 1)
        lengths.setSpacing(2)
        self.bars.setSuffix(" bars")
        self._plain.addRow("Difficulty", level)
        self._plain.addRow("Key", keys)
        self._plain.addRow("Lengths", lengths)
        self._column.addLayout(self._plain)
        notes = QHBoxLayout()
        notes.addWidget(PlainLabel("Notes"))
        notes.addWidget(self.keys_said, 1)
        notes.addWidget(self.more)
        self._column.addLayout(notes)
        self._column.addWidget(self.keys)
        self.rest.rows.setContentsMargins(0, 0, 0, 0)
        self._column.addWidget(self.rest)
        self._column.addStretch(1)
        self.rest.hide()

    def _connect(self) -> None:
        self.level.valueChanged.connect(self._use_level)
        self.key.currentTextChanged.connect(self._use_key)
        self.keys.toggled.connect(self._toggle_note)
        self.more.toggled.connect(self.rest.setVisible)
        self.bars.valueChanged.connect(self._take)
        self.rest.changed.connect(self._take)
        for button in self.lengths.values():
            button.toggled.connect(self._take)

    # Changing

    def _take(self) -> None:
        """Read all the controls that say what they say."""
        if self._filling:
            return
        before = Counter(self._recipe.lengths)
        on = {length for length, button in self.lengths.items() if button.isChecked()}
        odd = [length for length in before if length not in self.lengths]
        lengths = [
            each
            for length in (*odd, *self.lengths)
            if length in on or length in odd
            for each in [length] * max(1, before[length])
        ]
        if set(lengths) == set(before):
            lengths = list(self._recipe.lengths)
        self._change(lengths=tuple(lengths), bars=self.bars.value(), **self.rest.values)

    def _change(self, **values: object) -> None:
        new = replace(self._recipe, **values)  # type: ignore[arg-type]
        if new != self._recipe:
            self.show_recipe(new)
            self.changed.emit()

    def _use_level(self, level: int) -> None:
        """Everything that a level sets; the form, the second voice, the sound and the words stay."""
        if self._filling:
            return
        new = self._at_level(level)
        self.show_recipe(new)
        self.changed.emit()

    def _at_level(self, level: int) -> Recipe:
        return replace(for_level(level), **{key: getattr(self._recipe, key) for key in _KEPT_AT_EVERY_LEVEL})

    def _use_key(self, name: str) -> None:
        """Another key takes the range with it."""
        if self._filling:
            return
        try:
            key = read_key(name)
            old = self._recipe.in_key
        except KeyNameError:
            return  # it is being typed
        if key == old:
            return
        by = (key.tonic.pitch_class - old.tonic.pitch_class + 5) % 12 - 5
        ladder = self._recipe.ladder
        low, high = (key.spell(pitch.number + by).text for pitch in (ladder[0], ladder[-1]))
        self._change(key=key.text, lowest=low, highest=high, notes=())

    def _toggle_note(self, number: int) -> None:
        recipe = self._recipe
        numbers = {pitch.number for pitch in recipe.ladder} ^ {number}
        named = {pitch.number: pitch for pitch in recipe.ladder}
        notes = tuple(named.get(each, recipe.in_key.spell(each)).text for each in sorted(numbers))
        if notes:
            self._change(notes=notes)

    def _show_notes(self) -> None:
        try:
            ladder = self._recipe.ladder
        except (RecipeFault, KeyNameError):
            return
        self.keys.show_notes({pitch.number for pitch in ladder})
        self.keys_said.setText(
            f"{ladder[0].pretty} to {ladder[-1].pretty}, {len(ladder)} pitches" if ladder else "none"
        )

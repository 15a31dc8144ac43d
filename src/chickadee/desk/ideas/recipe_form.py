"""A recipe as a few plain controls, and more of them where they are wanted."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSlider,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ...ideas.recipe import ACCOMPANIMENTS, FORMS, LEVELS, LOUDNESS, Recipe, RecipeFault, for_level
from ...song.drums import DRUM_SOUND
from ...song.sounds import SOUNDS
from ...theory import KeyNameError, read_key
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
_METERS = ("2/4", "3/4", "4/4", "6/8")


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
        self.meter = QComboBox()
        self.form = QComboBox()
        self.second = QComboBox()
        self.sound = QComboBox()
        self.loudness = QComboBox()
        self.bars, self.tempo, self.leap, self.rests = (QSpinBox() for _ in range(4))
        self.keys = NoteKeys(look)
        self.keys_said = PlainLabel()
        self.lengths = {length: QPushButton(sign) for length, sign in _LENGTHS.items()}
        self.title = QLineEdit()
        self.chords = QLineEdit()
        self.words = QCheckBox("a syllable under each note")
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
        for box, text in (
            (self.meter, recipe.meter),
            (self.form, recipe.form),
            (self.second, recipe.accompaniment),
            (self.sound, recipe.sound),
            (self.loudness, recipe.loudness),
        ):
            box.setCurrentText(text)
        for number, value in (
            (self.bars, recipe.bars),
            (self.tempo, recipe.tempo),
            (self.leap, recipe.longest_leap),
            (self.rests, recipe.rests),
        ):
            number.setValue(value)
        for field, words in ((self.title, recipe.title), (self.chords, " ".join(map(str, recipe.chords)))):
            if field.text().strip() != words:
                field.setText(words)
        for length, button in self.lengths.items():
            button.setChecked(length in recipe.lengths)
        self.words.setChecked(recipe.words)
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
        self._rest.setVerticalSpacing(look.px(5))
        for button in self.lengths.values():
            button.setStyleSheet(f"padding: {look.px(3)}px {look.px(2)}px;")
            button.setMinimumWidth(look.px(28))

    # Building

    def _describe(self) -> None:
        self.key.setEditable(True)
        self.key.addItems(_KEYS)
        self.key.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.meter.addItems(_METERS)
        self.form.addItems(FORMS)
        self.second.addItems(ACCOMPANIMENTS)
        self.sound.addItems([sound for sound in SOUNDS if sound != DRUM_SOUND])
        self.loudness.addItems(LOUDNESS)
        for box in (self.key, self.meter, self.form, self.second, self.sound, self.loudness):
            plain_box(box)
        self.bars.setRange(2, 64)
        self.tempo.setRange(20, 300)
        self.leap.setRange(1, 14)
        self.leap.setSuffix(" steps")
        self.rests.setRange(0, 50)
        self.rests.setSuffix(" in 100 notes")
        self.chords.setPlaceholderText("let them be chosen; or steps, such as 1 4 5 1")
        for button in self.lengths.values():
            button.setCheckable(True)
            button.setObjectName("voiceToggle")
        describe(
            (self.level, "Difficulty, from 1 to 8: it sets the rest"),
            (self.key, "Key or scale"),
            (self.bars, "How many bars"),
            (self.meter, "Meter"),
            (self.form, "Form: which sections come again"),
            (self.second, "Second voice"),
            (self.sound, "Sound of the tune"),
            (self.loudness, "Loudness"),
            (self.tempo, "Beats a minute"),
            (self.leap, "The longest leap"),
            (self.rests, "How many notes are rests"),
            (self.title, "Title; a number follows"),
            (self.chords, "Chords, as steps of the key"),
            (self.words, "Whether there are words"),
            (self.more, "Show everything that a recipe can say"),
            *((button, f"Notes of {length} beats") for length, button in self.lengths.items()),
        )

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        self._plain = PlainForm()
        self._more = QWidget()
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
        self._rest = PlainForm(self._more)
        self._rest.setContentsMargins(0, 0, 0, 0)
        for name, widget in (
            ("Title", self.title),
            ("Meter", self.meter),
            ("Tempo", self.tempo),
            ("Form", self.form),
            ("Longest leap", self.leap),
            ("Rests", self.rests),
            ("Second voice", self.second),
            ("Sound", self.sound),
            ("Loudness", self.loudness),
            ("Chords", self.chords),
            ("Words", self.words),
        ):
            self._rest.addRow(name, widget)
        self._column.addWidget(self._more)
        self._column.addStretch(1)
        self._more.hide()

    def _connect(self) -> None:
        self.level.valueChanged.connect(self._use_level)
        self.key.currentTextChanged.connect(self._use_key)
        self.keys.toggled.connect(self._toggle_note)
        self.more.toggled.connect(self._more.setVisible)
        for box in (self.meter, self.form, self.second, self.sound, self.loudness):
            box.currentTextChanged.connect(self._take)
        for number in (self.bars, self.tempo, self.leap, self.rests):
            number.valueChanged.connect(self._take)
        for field in (self.title, self.chords):
            field.textChanged.connect(self._take)
        for button in self.lengths.values():
            button.toggled.connect(self._take)
        self.words.toggled.connect(self._take)

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
        chords = [int(step) if step.isdigit() else 0 for step in self.chords.text().replace(",", " ").split()]
        self._change(
            title=self.title.text().strip() or Recipe().title,
            lengths=tuple(lengths),
            bars=self.bars.value(),
            tempo=self.tempo.value(),
            longest_leap=self.leap.value(),
            rests=self.rests.value(),
            meter=self.meter.currentText(),
            form=self.form.currentText(),
            accompaniment=self.second.currentText(),
            sound=self.sound.currentText(),
            loudness=self.loudness.currentText(),
            chords=tuple(chords),
            words=self.words.isChecked(),
        )

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
        old = self._recipe
        return replace(
            for_level(level),
            bars=old.bars,
            meter=old.meter,
            form=old.form,
            accompaniment=old.accompaniment,
            sound=old.sound,
            loudness=old.loudness,
            words=old.words,
        )

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

"""The row that names the recipe: those that ship, and one from a file or for a file."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QWidget

from ...files import FileFault, read_text, write_text
from ...ideas.recipe import Recipe, RecipeFault, read_recipe, shipped, write_recipe
from ..goals import ask_for_goal
from ..parts import describe, fill, plain_box
from ..working.panel import PanelContext

__all__ = ["RecipeRow"]

_OWN = "as set below"
_FIRST = "Five notes"
_FILES = "Recipes (*.toml)"


class RecipeRow(QWidget):
    """Names a recipe; ``used`` carries another one that is to be used. ``folder`` tells where files are asked for."""

    used = pyqtSignal(object)

    def __init__(self, context: PanelContext, folder: Callable[[], Path]) -> None:
        super().__init__()
        self._context = context
        self._folder = folder
        self._named = {recipe.title: recipe for recipe in map(read_recipe, shipped().values())}
        self._recipe = self._named.get(_FIRST, next(iter(self._named.values())))
        self.recipes = plain_box(QComboBox())
        self.load = QPushButton("Open…")
        self.save = QPushButton("Save…")
        fill(self.recipes, [_OWN, *self._named])
        describe(
            (self.recipes, "Recipe"),
            (self.load, "Open a recipe from a file"),
            (self.save, "Save the recipe as a file"),
        )
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.recipes, 1)
        row.addWidget(self.load)
        row.addWidget(self.save)
        self.recipes.activated.connect(self._use_named)
        self.load.clicked.connect(self.ask_for_one)
        self.save.clicked.connect(self.save_as)

    @property
    def recipe(self) -> Recipe:
        """The recipe that is named."""
        return self._recipe

    def show_recipe(self, recipe: Recipe) -> None:
        """Name a recipe, by its title where it is one of those that ship."""
        self._recipe = recipe
        self.recipes.setCurrentText(next((title for title, each in self._named.items() if each == recipe), _OWN))

    def _use_named(self) -> None:
        recipe = self._named.get(self.recipes.currentText())
        if recipe is not None:
            self.used.emit(recipe)

    def ask_for_one(self) -> None:
        """Ask for a file and use its recipe."""
        name, _ = QFileDialog.getOpenFileName(self, "Open a recipe", str(self._folder()), _FILES)
        if not name:
            return
        try:
            self.used.emit(read_recipe(read_text(name)))
        except FileFault as fault:
            self._context.notice.say(str(fault))
        except RecipeFault as fault:
            self._context.notice.say(f"{Path(name).name}: {fault}")

    def save_as(self) -> None:
        """Ask for a file and write the recipe to it."""
        window = self.window()
        assert window is not None
        path = ask_for_goal(
            window, self._context.document, self._folder(), "Save the recipe", _FILES, ".toml", kind=" - recipe"
        )
        if path is None:
            return
        try:
            write_text(path, write_recipe(self._recipe))
        except FileFault as fault:
            self._context.notice.say(str(fault))
        else:
            self._context.notice.say(f"The recipe is in {path}.", good=True)

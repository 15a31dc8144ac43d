"""Where a file is to be written: asked for, with its suffix, and never over another file unasked."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from ..files import is_there
from .document import Document
from .plain_dialogs import Answer, plain_question

__all__ = ["ask_for_goal", "plain_file_name"]

_LONGEST_NAME = 60  # characters of a name that is suggested


def ask_for_goal(
    window: QWidget,
    document: Document,
    folder: Path,
    title: str,
    kinds: str,
    suffix: str,
    files: Callable[[Path], list[Path]] = lambda path: [path],
    kind: str = "",
) -> Path | None:
    """Ask for a file to write, with a suffix of its own, and whether what is there may be replaced.

    It begins beside the document's file, or in ``folder``; ``kind`` ends the name that is suggested. ``files`` says
    which files come of the one that is named. The file dialog does not ask about replacing itself: it would before
    the suffix is added. None where the user does not go on.
    """
    stem = document.path.stem if document.path else plain_file_name(document.reading.song.title)
    start = (document.path.parent if document.path else folder) / f"{stem}{kind}{suffix}"
    name, _ = QFileDialog.getSaveFileName(
        window, title, str(start), kinds, options=QFileDialog.Option.DontConfirmOverwrite
    )
    if not name:
        return None
    path = Path(name) if Path(name).suffix.lower() == suffix else Path(f"{name}{suffix}")
    there = [each.name for each in files(path) if is_there(each) and each != document.path]
    return path if not there or _may_replace(window, there, path.parent) else None


def _may_replace(window: QWidget, there: list[str], folder: Path) -> bool:
    question = plain_question(
        window,
        f"{' and '.join(there)}: this already exists.",
        f"In {folder}. What it holds is lost if it is replaced.",
    )
    question.setStandardButtons(Answer.Save | Answer.Cancel)
    question.setDefaultButton(Answer.Cancel)
    if (replace := question.button(Answer.Save)) is not None:
        replace.setText("Replace")
    return question.exec() == Answer.Save


def plain_file_name(title: str) -> str:
    """A title as the name of a file without its suffix: small letters, digits and hyphens, and not too long."""
    name = "".join(c if c.isalnum() else "-" for c in title.lower())
    return name[:_LONGEST_NAME].strip("-") or "tune"

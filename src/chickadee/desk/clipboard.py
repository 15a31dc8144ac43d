"""The system's clipboard, which may be missing."""

from __future__ import annotations

from PyQt6.QtGui import QGuiApplication, QImage

__all__ = ["clipboard_text", "copy_image", "copy_text"]


def copy_text(text: str) -> None:
    """Put a text into the clipboard."""
    clipboard = QGuiApplication.clipboard()
    if clipboard is not None:
        clipboard.setText(text)


def copy_image(image: QImage) -> None:
    """Put a picture into the clipboard."""
    clipboard = QGuiApplication.clipboard()
    if clipboard is not None:
        clipboard.setImage(image)


def clipboard_text() -> str:
    """The text in the clipboard; empty where there is none."""
    clipboard = QGuiApplication.clipboard()
    return clipboard.text() if clipboard is not None else ""

"""The names of the commands."""

from __future__ import annotations

__all__ = ["COMMANDS"]

COMMANDS = (
    "check",
    "compare",
    "demo",
    "handout",
    "ideas",
    "import",
    "listen",
    "notes",
    "play",
    "program",
    "render",
    "send",
    "signals",
    "staff",
    "tidy",
    "trace",
    "transpose",
)
"""Each is a function in the module of its name (``import_`` for ``import``), which is loaded when it is used."""

"""A scroll area that draws on its viewport."""

from __future__ import annotations

from PyQt6.QtWidgets import QAbstractScrollArea, QWidget

__all__ = ["ScrolledView"]


class ScrolledView(QAbstractScrollArea):
    """A scroll area; its viewport, which Qt types as perhaps missing, is always there."""

    def viewport(self) -> QWidget:
        """The widget inside the scroll bars."""
        found = super().viewport()
        assert found is not None
        return found

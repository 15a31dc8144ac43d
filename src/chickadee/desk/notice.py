"""A message to the user, across the window, until it is closed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from .actions import ActionSpec
from .plain_text import PlainLabel

__all__ = ["Notice"]


@dataclass(frozen=True, slots=True)
class _Message:
    sentence: str
    good: bool
    offer: str
    way_on: Callable[[], object] | None
    refused: Callable[[], object] | None = None

    @property
    def stays(self) -> bool:
        """True if it waits behind later messages until it is answered: it offers something that could be lost."""
        return self.way_on is not None and not self.good


class Notice(QFrame):
    """Shows messages. Good news disappears with the next edit, bad news stays until it is closed.

    A later message replaces an earlier one, but bad news with an offer waits behind it and is shown again.
    """

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self._messages: list[_Message] = []  # the last one is shown, the others wait
        self._label = PlainLabel()
        self._label.setWordWrap(True)
        self.offer = QPushButton("Go on")
        """A way on from what is said, where there is one."""
        self.offer.clicked.connect(self._go_on)
        close = QPushButton("Close")
        close.clicked.connect(self._refuse)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 3, 8, 3)
        row.addWidget(self._label, 1)
        row.addWidget(self.offer)
        row.addWidget(close)
        self.hide()

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Accepting what a message offers."""
        return (
            ActionSpec(
                "message.accept",
                "edit/findings",
                "A&ccept the offer",
                "Ctrl+Return",
                "Do what the message at the top offers",
                self.take_offer,
            ),
        )

    @property
    def text(self) -> str:
        """The sentence that is shown, or an empty text."""
        return self._messages[-1].sentence if self._messages else ""

    def say(
        self,
        sentence: str,
        good: bool = False,
        offer: str = "",
        way_on: Callable[[], object] | None = None,
        refused: Callable[[], object] | None = None,
    ) -> None:
        """Show a sentence, and a button that goes on from there where one is offered.

        ``refused`` is called where the user closes the message instead.
        """
        self._messages = [each for each in self._messages if each.stays and each.sentence != sentence]
        self._messages.append(_Message(sentence, good, offer or "Go on", way_on, refused))
        self._show()

    def take_offer(self) -> None:
        """Go the way on that is offered, where there is one."""
        if self.offer.isVisible():
            self._go_on()

    def put_away(self) -> None:
        """Put away what is shown; what waited behind it comes back."""
        self._messages = self._messages[:-1]
        self._show()

    def fade(self) -> None:
        """Put good news away."""
        if self._messages and self._messages[-1].good:
            self.put_away()

    def clear(self, offers: bool = False) -> None:
        """Put away all that is said, but for offers that wait to be answered, unless those are to go as well."""
        self._messages = [] if offers else [each for each in self._messages if each.stays]
        self._show()

    def _refuse(self) -> None:
        refused = self._messages[-1].refused
        self.put_away()
        if refused is not None:
            refused()

    def _go_on(self) -> None:
        way_on = self._messages[-1].way_on
        self.put_away()
        if way_on is not None:
            way_on()

    def _show(self) -> None:
        if not self._messages:
            self.hide()
            return
        message = self._messages[-1]
        self.offer.setText(message.offer)
        self.offer.setVisible(message.way_on is not None)
        waiting = len(self._messages) - 1
        shown = f"{message.sentence}  ({waiting} more)" if waiting else message.sentence
        self._label.setText(shown)
        self._label.setAccessibleName(shown)
        self.setProperty("good", message.good)
        if (style := self.style()) is not None:
            style.polish(self)
        self.show()

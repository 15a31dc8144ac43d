"""The protocol of a check."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import ClassVar

from ..sheet import Finding, Reading, Rule
from .profile import Profile

__all__ = ["Check"]


class Check(ABC):
    """One rule about songs: what it is called, why it matters, and what it finds."""

    rule: ClassVar[Rule]
    why: ClassVar[str]
    """Why it matters, in one sentence."""
    usual: ClassVar[bool] = True
    """True if it is on where no profile says otherwise."""
    limits: ClassVar[tuple[str, ...]] = ()
    """The limits of a profile that it goes by, by their names in ``LIMITS``."""

    @abstractmethod
    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """Yield the findings of the rule in a reading, by a profile's measure."""

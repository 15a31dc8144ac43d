"""How large a sheet may grow, and keeping to that before anything large is built."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from .finding import Finding

__all__ = ["MOST_EVENTS", "MOST_FINDINGS", "MOST_MOVES", "MOST_NESTED", "Allowance", "Findings", "TooMany"]

MOST_EVENTS = 1_000_000
"""Signs and notes that all voices of a song have together."""
MOST_FINDINGS = 10_000
"""Findings that are kept of one sheet."""
MOST_NESTED = 120
"""Groups and phrases that may stand one inside the other."""

MOST_MOVES = 100
"""Changes of pitch one on the other that a note may go through."""


_TOO_LARGE = "This tune grows beyond a million notes and signs or twenty-four hours here; please make it shorter."


class TooMany(Exception):  # noqa: N818 - it becomes a finding
    """More signs than a tune may have; where the one too many is written, as offsets, and a sentence."""

    def __init__(self, start: int, end: int, sentence: str = _TOO_LARGE) -> None:
        super().__init__(sentence)
        self.start = start
        self.end = end
        self.sentence = sentence


class Allowance:
    """How many signs and notes may still be made.

    >>> allowance = Allowance(10)
    >>> allowance.spend(8, 0, 2)
    >>> allowance.left
    2
    """

    def __init__(self, left: int = MOST_EVENTS) -> None:
        self.left = left

    def spend(self, count: int, start: int, end: int) -> None:
        """Take some away. Raises TooMany, with these offsets, where there are not so many left."""
        if count > self.left:
            raise TooMany(start, end)
        self.left -= count


class Findings:
    """Findings as they are gathered: the first MOST_FINDINGS, and one more that tells there were others."""

    def __init__(self) -> None:
        self._kept: list[Finding] = []

    @property
    def full(self) -> bool:
        """True if no more are kept."""
        return len(self._kept) > MOST_FINDINGS

    def append(self, finding: Finding) -> None:
        """Gather one."""
        if not self.full:
            self._kept.append(finding)

    def extend(self, findings: Iterable[Finding], by: int = 0) -> None:
        """Gather several, their offsets shifted by some characters."""
        if not self.full:
            self._kept += [finding.moved(by) for finding in findings] if by else findings

    def __iter__(self) -> Iterator[Finding]:
        return iter(self._kept)

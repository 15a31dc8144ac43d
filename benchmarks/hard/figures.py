"""The figures of a campaign."""

from __future__ import annotations

import hashlib
import json
import tempfile
import traceback
from dataclasses import asdict, dataclass, field
from pathlib import Path

__all__ = ["KEPT", "Figures"]

KEPT = Path(tempfile.gettempdir()) / "chickadee-hard"
"""Where inputs that failed are kept, to be tried again."""


@dataclass
class Figures:
    """Counts of one part of the campaign; what failed is kept as files, to be tried again.

    With a ``state`` file, the counts and the input that is tried now are written there, for whoever watches.
    """

    kept: Path = KEPT
    state: Path | None = None
    tried: dict[str, int] = field(default_factory=dict)
    faults: list[str] = field(default_factory=list)
    slow: int = 0
    killed: int = 0
    slowest: float = 0.0
    memory: int = 0
    """Megabytes that the process held at most."""
    notes: list[str] = field(default_factory=list)
    index: int = -1
    """The newest input."""

    @property
    def count(self) -> int:
        """How many inputs were tried."""
        return sum(self.tried.values())

    def begin(self, index: int, case: str) -> None:
        """An input is tried next."""
        self.index = index
        if self.state is not None:
            self.state.with_suffix(".case").write_bytes(case.encode("utf-8", "surrogatepass"))
            self.save()

    def took(self, what: str, seconds: float, most: float, case: str = "") -> None:
        """One more was tried, and took so many seconds."""
        self.tried[what] = self.tried.get(what, 0) + 1
        self.slowest = max(self.slowest, seconds)
        if seconds > most:
            self.slow += 1
            self._keep(f"slow-{seconds:.1f}", case)

    def fault(self, fault: BaseException | str, case: str = "") -> None:
        """One failed."""
        said = fault if isinstance(fault, str) else "".join(traceback.format_exception(fault)[-7:])
        self.faults.append(said.strip()[-2000:])
        self._keep("fault", f"{said}\n\n{case}")

    def kill(self, why: str, case: str) -> None:
        """The process was killed at an input."""
        self.killed += 1
        self._keep("killed", f"{why}\n\n{case}")
        self.faults.append(f"killed: {why}")

    def save(self) -> None:
        """Write the counts down."""
        if self.state is not None:
            found = asdict(self) | {"kept": str(self.kept), "state": None}
            half = self.state.with_suffix(".half")
            half.write_text(json.dumps(found), "utf-8")
            half.replace(self.state)

    def add(self, other: dict[str, object]) -> None:
        """Add the counts that another process wrote down."""
        for what, count in dict(other["tried"]).items():  # type: ignore[call-overload]
            self.tried[what] = self.tried.get(what, 0) + count
        self.faults += other["faults"]  # type: ignore[operator]
        self.notes += other["notes"]  # type: ignore[operator]
        self.slow += other["slow"]  # type: ignore[operator]
        self.slowest = max(self.slowest, other["slowest"])  # type: ignore[type-var,assignment]
        self.memory = max(self.memory, other["memory"])  # type: ignore[type-var,assignment]

    def lines(self) -> list[str]:
        """Facts for the reader besides the counts."""
        return self.notes + [f"  FAILED: {fault.splitlines()[-1][:200]}" for fault in self.faults[:10]]

    def _keep(self, kind: str, case: str) -> None:
        self.kept.mkdir(exist_ok=True)
        data = case.encode("utf-8", "surrogatepass")
        (self.kept / f"{kind}-{hashlib.sha256(data).hexdigest()[:10]}.txt").write_bytes(data)

"""What a campaign found."""

from __future__ import annotations

import hashlib
import tempfile
import traceback
from dataclasses import dataclass, field
from pathlib import Path

__all__ = ["Figures"]


@dataclass
class Figures:
    """Counts of one part of the campaign; what failed is kept as files, to be tried again."""

    kept: Path = field(default_factory=lambda: Path(tempfile.gettempdir()) / "chickadee-hard")
    tried: dict[str, int] = field(default_factory=dict)
    faults: list[str] = field(default_factory=list)
    slow: int = 0
    slowest: float = 0.0
    notes: list[str] = field(default_factory=list)

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
        self.faults.append(said.strip())
        self._keep("fault", f"{said}\n\n{case}")

    def lines(self) -> list[str]:
        """What a reader wants to know."""
        tried = ", ".join(f"{count:,} {what}" for what, count in self.tried.items())
        found = [f"{tried}: {len(self.faults)} failed, {self.slow} too slow, the slowest {self.slowest:.2f} s"]
        return found + self.notes + [f"  FAILED: {fault.splitlines()[-1][:200]}" for fault in self.faults[:10]]

    def _keep(self, kind: str, case: str) -> None:
        self.kept.mkdir(exist_ok=True)
        data = case.encode("utf-8", "surrogatepass")
        (self.kept / f"{kind}-{hashlib.sha256(data).hexdigest()[:10]}.txt").write_bytes(data)

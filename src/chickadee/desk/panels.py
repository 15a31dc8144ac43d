"""The panels of the working side: one line each."""

from __future__ import annotations

from .compare.panel import ComparePanel
from .facts.panel import FactsPanel
from .findings.panel import FindingsPanel
from .found.panel import FoundPanel
from .handout.panel import HandoutPanel
from .ideas.panel import IdeasPanel
from .recording.panel import RecordingPanel
from .send.panel import SendPanel
from .transpose.panel import TransposePanel
from .voices.panel import VoicesPanel
from .wave.panel import WavePanel
from .working.panel import Panel

__all__ = ["PANELS"]

PANELS: tuple[type[Panel], ...] = (
    FindingsPanel,
    FactsPanel,
    ComparePanel,
    VoicesPanel,
    TransposePanel,
    WavePanel,
    SendPanel,
    HandoutPanel,
    IdeasPanel,
    RecordingPanel,
    FoundPanel,
)
"""In the order in which they are named in their groups."""

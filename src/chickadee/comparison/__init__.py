"""Attempts at a tune, compared with it: aligned, judged, and explained."""

from __future__ import annotations

from .model import Model
from .verdict import Comparison, Verdict, best_reading, compared, unreadable

__all__ = ["Comparison", "Model", "Verdict", "best_reading", "compared", "unreadable"]

"""Our tune language: reading a sheet into a song, its findings, and the map between text and notes."""

from .finding import Finding, Fix, Severity, TextEdit, apply_edits
from .reading import Reading, read
from .rules import RULES, Rule
from .sites import CannotEdit

__all__ = ["RULES", "CannotEdit", "Finding", "Fix", "Reading", "Rule", "Severity", "TextEdit", "apply_edits", "read"]

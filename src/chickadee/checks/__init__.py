"""What can be wrong with a song that was read: one rule, one small class."""

from .check import CHECKS, Check, checked_reading

__all__ = ["CHECKS", "Check", "checked_reading"]

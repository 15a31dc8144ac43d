"""Checks of a song that was read: one rule, one small class."""

from .check import Check
from .profile import LIMITS, USUAL, Limit, Profile
from .profile_file import PROFILE_FILE, profile_for, read_profile, write_profile
from .registry import CHECKS, checked_reading, reading_of

__all__ = [
    "CHECKS", "LIMITS", "PROFILE_FILE", "USUAL", "Check", "Limit", "Profile", "checked_reading", "profile_for",
    "read_profile", "reading_of", "write_profile",
]  # fmt: skip

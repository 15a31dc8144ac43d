"""A profile as a file beside a folder's tunes."""

from __future__ import annotations

import re
from pathlib import Path

from ..faults import InputFault
from ..files import FileFault, decode, is_file, read_bytes, write_text
from ..sheet.finding import shown
from ..toml_text import quoted, read_toml
from .profile import LIMITS, USUAL, Profile
from .registry import CHECKS

__all__ = ["PROFILE_FILE", "profile_for", "read_profile", "write_profile"]

# bytes of a list of checks, characters of one of its lines
_LARGEST = 1 << 16
_LONGEST_LINE = 500
_BARE_KEY = re.compile("[A-Za-z0-9_-]+")

PROFILE_FILE = "checks.toml"
"""The name of the file that keeps a folder's profile."""
_PARTS = ("rules", "limits")


def profile_for(tune: Path | None) -> Profile:
    """The profile of a tune's folder; the usual one where it keeps none. Raises FileFault as :func:`read_profile`."""
    path = tune.parent / PROFILE_FILE if tune else None
    return read_profile(path) if path and is_file(path) else USUAL


def read_profile(path: Path) -> Profile:
    """A profile from its file. Raises FileFault with a sentence where it cannot be read."""
    content = read_bytes(path, _LARGEST)
    text = decode(content, path)
    if len(content) > _LARGEST or any(len(line) > _LONGEST_LINE for line in text.split("\n")):
        raise FileFault(path, "this is too large for a list of checks")
    try:
        data = read_toml(text, "list of checks", InputFault)
    except InputFault as fault:
        raise FileFault(path, f"this is not a list of checks ({shown(str(fault).rstrip('.'), 80)})") from None
    for part in data:
        if part not in _PARTS:
            raise FileFault(path, f"{shown(part)} is not a part of a list of checks; there are [rules] and [limits]")
    rules = data.get("rules", {})
    limits = data.get("limits", {})
    if not isinstance(rules, dict) or not isinstance(limits, dict):
        raise FileFault(path, "it should have a part [rules] and a part [limits]")
    known = [check.rule.code for check in CHECKS]
    for code, on in rules.items():
        if code not in known:
            raise FileFault(path, f"{shown(code)} is not a check; there are {', '.join(known)}")
        if not isinstance(on, bool):
            raise FileFault(path, f"{shown(code)} should be true or false")
    written = {name: _limit(path, name, value) for name, value in limits.items()}
    return Profile(rules, written)


def _limit(path: Path, name: str, value: object) -> str:
    """A limit as it is written. Raises FileFault where it cannot be read."""
    if name not in LIMITS:
        raise FileFault(path, f"{shown(name)} is not a limit; there are {', '.join(LIMITS)}")
    if not isinstance(value, str | int | float):
        raise FileFault(path, f"{name} should be a number, or a text in quotes")
    try:
        LIMITS[name].read(str(value))
    except InputFault as fault:
        said = shown(str(fault), 200).rstrip(".")
        raise FileFault(path, f"{name} cannot be “{shown(str(value))}”: {said}") from None
    return str(value)


def write_profile(path: Path, profile: Profile) -> None:
    """Keep a profile in a file. Raises FileFault, and then an old file is whole."""
    lines = ["# What Chickadee checks in the tunes of this folder.", "", "[rules]"]
    lines += [f"{_key(code)} = {str(on).lower()}" for code, on in profile.switched.items()]
    lines += ["", "[limits]", *(f"{name} = {quoted(value)}" for name, value in profile.limits.items())]
    write_text(path, "\n".join(lines) + "\n")


def _key(name: str) -> str:
    return name if _BARE_KEY.fullmatch(name) else quoted(name)

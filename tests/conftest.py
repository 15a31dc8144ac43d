"""What tests share."""

from __future__ import annotations

import os
import tempfile

import pytest
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_homes = tempfile.TemporaryDirectory(prefix="chickadee-tests-")  # goes when the process ends
for _name in ("DATA", "STATE", "CONFIG", "CACHE"):
    os.environ[f"XDG_{_name}_HOME"] = f"{_homes.name}/{_name.lower()}"

settings.register_profile(
    "usual",
    deadline=None,
    max_examples=32 if os.environ.get("CI") else 120,
    print_blob=True,
)
settings.load_profile("usual")


@pytest.fixture
def tune(tmp_path):
    """Write a sheet to a file and give its path."""

    def write(text: str, name: str = "tune.chick"):
        path = tmp_path / name
        path.write_text(text, "utf-8")
        return path

    return write

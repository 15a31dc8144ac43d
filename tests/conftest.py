"""What tests share."""

from __future__ import annotations

import os
import tempfile
from collections import defaultdict
from random import Random

import pytest
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_homes = tempfile.TemporaryDirectory(prefix="chickadee-tests-")  # goes when the process ends
for _name in ("DATA", "STATE", "CONFIG", "CACHE"):
    os.environ[f"XDG_{_name}_HOME"] = f"{_homes.name}/{_name.lower()}"

_IN_CI = bool(os.environ.get("CI"))
_OF_A_DAY = 3  # of a large table's rows, CI tries one in so many

settings.register_profile(
    "usual",
    deadline=None,
    max_examples=20 if _IN_CI else 120,
    print_blob=True,
)
settings.load_profile("usual")


def pytest_collection_modifyitems(config, items):
    """CI tries a part of the rows of tables that are marked ``rotating``, each day another, as the seed has it.

    With ``rotating("module")`` the tests of a module are the rows.
    """
    if not _IN_CI:
        return
    seed = config.getoption("randomly_seed", 0)
    tables = defaultdict(list)
    for item in items:
        if marker := item.get_closest_marker("rotating"):
            tables[item.path, "" if "module" in marker.args else item.originalname].append(item)
    left_out = set()
    for (path, name), rows in tables.items():
        kept = Random(f"{seed} {path.name} {name}").sample(rows, -(-len(rows) // _OF_A_DAY))
        left_out |= set(rows) - set(kept)
    config.hook.pytest_deselected(items=[item for item in items if item in left_out])
    items[:] = [item for item in items if item not in left_out]


@pytest.fixture
def tune(tmp_path):
    """Write a sheet to a file and give its path."""

    def write(text: str, name: str = "tune.chick"):
        path = tmp_path / name
        path.write_text(text, "utf-8")
        return path

    return write

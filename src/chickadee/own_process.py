"""Processes of our own: started so that nothing of the folder somebody works in gets into them."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

__all__ = ["started"]

_PACKAGES = Path(__file__).parents[1]


def started(module: str, *descriptors: int) -> subprocess.Popen[bytes]:
    """Start a module of this package in a process of its own, with some open files. Raises OSError."""
    return subprocess.Popen(
        [sys.executable, "-P", "-m", module, *map(str, descriptors)],
        pass_fds=descriptors,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        env=os.environ | {"OPENBLAS_NUM_THREADS": "1", "PYTHONPATH": _python_path()},
    )


def _python_path() -> str:
    """Where the process finds this package, and what the user named in full; never the folder somebody works in."""
    named = os.environ.get("PYTHONPATH", "").split(os.pathsep)
    return os.pathsep.join([str(_PACKAGES), *(each for each in named if Path(each).is_absolute())])

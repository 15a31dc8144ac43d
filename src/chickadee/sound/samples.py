"""Constants that all parts of the sound share."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["HIGHEST", "Samples"]

Samples = NDArray[np.float32]
"""Sound, about -1 to 1."""

HIGHEST = 0.45
"""The highest partial that is made, as a part of the sample rate; what lies above would fold back."""

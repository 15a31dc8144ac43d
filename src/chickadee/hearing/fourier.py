"""SciPy's Fourier transforms of real numbers, which are several times as quick as NumPy's.

SciPy takes a while to load, so it is loaded when the first transform is made and not with the window.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["irfft", "rfft"]


def rfft(frames: NDArray[np.float32], size: int | None = None) -> NDArray[np.complex64]:
    """The transform of each frame, zeros added up to so many samples; shape (frames, bins)."""
    from scipy import fft

    return np.asarray(fft.rfft(frames, size))


def irfft(transforms: NDArray[np.complexfloating], size: int) -> NDArray[np.float32]:
    """The frames of so many samples that have such transforms; shape (frames, size)."""
    from scipy import fft

    return np.asarray(fft.irfft(transforms, size))

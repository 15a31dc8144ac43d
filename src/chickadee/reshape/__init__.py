"""Transposing and the other ways of reshaping a tune: each gives edits of the sheet's text."""

from .part import Part
from .transposing import Towards, by_interval, by_octaves, by_semitones, by_steps, mended, to_key

__all__ = ["Part", "Towards", "by_interval", "by_octaves", "by_semitones", "by_steps", "mended", "to_key"]

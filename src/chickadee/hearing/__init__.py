"""Recordings: pitch, onsets, notes, tempo, and the same sound slower or faster."""

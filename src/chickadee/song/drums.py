"""The General MIDI percussion keys by short names."""

from __future__ import annotations

__all__ = ["DRUMS", "DRUM_NAMES", "DRUM_SOUND"]

DRUM_SOUND = "drum kit"
"""The sound whose voices read these names."""

DRUMS: dict[str, int] = {
    "kick": 36,
    "stick": 37,
    "snare": 38,
    "clap": 39,
    "hat": 42,
    "pedal-hat": 44,
    "open-hat": 46,
    "low-tom": 45,
    "mid-tom": 47,
    "high-tom": 50,
    "crash": 49,
    "ride": 51,
    "ride-bell": 53,
    "tambourine": 54,
    "cowbell": 56,
    "high-bongo": 60,
    "low-bongo": 61,
    "conga": 63,
    "maracas": 70,
    "claves": 75,
    "wood-block": 76,
    "triangle": 81,
}
"""Percussion keys, as MIDI numbers, by the name a sheet gives them."""

DRUM_NAMES = {number: name for name, number in DRUMS.items()}
"""The names by percussion key."""

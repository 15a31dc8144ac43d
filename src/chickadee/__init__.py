"""Chickadee: tunes as names and numbers, read, checked, rendered and sent out.

>>> import chickadee
>>> reading = chickadee.read("C4 62 E4=2")
>>> [note.pitch.text for note in reading.song.notes]
['C4', 'D4', 'E4']
"""

from .checks import checked_reading as read

__all__ = ["read"]
__version__ = "0.1.0"

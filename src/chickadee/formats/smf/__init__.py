"""Standard MIDI Files 1.0, read and written."""

from .reader import SmfFault, is_smf, read
from .writer import DRUM_CHANNEL, InexactError, channel_messages, crowded, tempo_steps, write

__all__ = [
    "DRUM_CHANNEL",
    "InexactError",
    "SmfFault",
    "channel_messages",
    "crowded",
    "is_smf",
    "read",
    "tempo_steps",
    "write",
]

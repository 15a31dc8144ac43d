"""The sounding strip along the top: playing, and what sounds."""

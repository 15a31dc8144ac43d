"""The transport bar along the top: playing, and what sounds."""

"""Signals: what sounds, told to other programs as it sounds, by Open Sound Control and by MIDI."""

"""The shelf: the tunes of a folder."""

"""The panel of lists and boards: the tune as data."""

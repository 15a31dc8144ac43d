"""The timeline: the piano roll, its keys and its reading rows on one axis of time."""

"""The Recording panel: a recording under the tune, and the notes heard in it."""

"""Practice tunes from recipes: chords, rhythm, melody, accompaniment and form, the same again from the same seed."""

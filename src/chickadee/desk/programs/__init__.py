"""The Programs panel: a pupil's program, and how it was understood."""

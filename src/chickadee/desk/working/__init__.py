"""The working side: one panel at a time."""

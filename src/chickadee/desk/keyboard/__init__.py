"""The keyboard along the bottom, and everything that plays on it."""

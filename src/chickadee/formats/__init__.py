"""Files other programs read: one module a format."""

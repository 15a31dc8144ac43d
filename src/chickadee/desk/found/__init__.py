"""The panel of music that came from elsewhere."""

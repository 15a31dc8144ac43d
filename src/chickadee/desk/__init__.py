"""The desk: Chickadee's window. One folder a view."""

"""The Transpose panel."""

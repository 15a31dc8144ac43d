"""The Findings panel."""

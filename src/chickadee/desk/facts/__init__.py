"""The Facts panel."""

"""Findings: what was found in the sheet, and the ways out."""

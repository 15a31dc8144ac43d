"""Handouts in the window: the painter of pages, their files, and the panel."""

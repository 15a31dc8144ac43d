"""Pupils' programs, traced without running them: what they sound, and which line sounds it."""

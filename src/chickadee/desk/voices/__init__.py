"""The voices of the tune."""

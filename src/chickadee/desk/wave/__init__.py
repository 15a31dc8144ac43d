"""Looking at sound."""

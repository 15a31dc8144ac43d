"""Pages that play: a tune as one HTML file that needs nothing else."""

"""What was found in a file from elsewhere."""

"""What the window and the pages show of a reading, worked out without Qt: rows, cells, lanes, words."""

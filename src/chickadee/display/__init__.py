"""The display of a reading in the window and on pages, without Qt: rows, cells, lanes, words."""

"""The sheet: the text with its colours, its marks and its margin of bars."""

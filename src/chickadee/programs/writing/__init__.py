"""A tune written as a program, at the level of the lesson, in the language of the class."""

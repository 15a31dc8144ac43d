"""The Ideas panel: practice tunes from a recipe, and what could become of the open tune."""

"""The Compare panel: a class's attempts at the open tune."""

"""The version, in one place."""

__all__ = ["VERSION"]

VERSION = "0.1.0"

"""MusicXML 4.0, read and written, plain and compressed."""

from .reader import MusicXmlFault, is_musicxml, read
from .writer import write, write_compressed

__all__ = ["MusicXmlFault", "is_musicxml", "read", "write", "write_compressed"]

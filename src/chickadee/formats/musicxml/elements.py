"""Elements that reading and writing MusicXML share."""

from __future__ import annotations

from xml.etree import ElementTree as ET

__all__ = ["FORTE", "add_text"]

FORTE = 90
"""The MIDI velocity that the standard's dynamics are hundredths of."""


def add_text(parent: ET.Element, tag: str, text: object, **attributes: str) -> None:
    """Add an element that holds a text; what cannot be printed becomes a space."""
    ET.SubElement(parent, tag, attributes).text = "".join(c if c.isprintable() else " " for c in str(text))

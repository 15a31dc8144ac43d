"""The elements of an XML file, counted as they are read."""

from __future__ import annotations

import io
from xml.etree.ElementTree import Element

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, iterparse

from .imported import ImportFault

__all__ = ["XmlFault", "read_tree"]

_MOST_ELEMENTS = 300_000
_MOST_DEPTH = 100
_MOST_ATTRIBUTES = 300_000


class XmlFault(ImportFault):
    """A file is no XML that is read; its text says why."""


def read_tree(data: bytes, what: str = "score") -> Element:
    """Return the outermost element of an XML file, which is called ``what`` in sentences.

    Raises XmlFault for what is not well-formed, defines entities, or has too many elements or too deep ones: that is
    noticed before the rest is read.
    """
    try:
        return _counted(data, what)
    except DefusedXmlException:
        raise XmlFault(f"This {what} defines entities, which no {what} needs, so it is not read.") from None
    except (ParseError, ValueError, LookupError) as fault:
        place = f" (see line {fault.position[0]})" if isinstance(fault, ParseError) else ""
        raise XmlFault(f"This {what} is not well-formed XML{place}.") from None


def _counted(data: bytes, what: str) -> Element:
    root: Element | None = None
    depth = 0
    count = 0
    attributes = 0
    for event, element in iterparse(io.BytesIO(data), ("start", "end")):
        if event == "end":
            depth -= 1
            continue
        if root is None:
            root = element
        depth += 1
        count += 1
        attributes += len(element.attrib)
        if count > _MOST_ELEMENTS or depth > _MOST_DEPTH or attributes > _MOST_ATTRIBUTES:
            raise XmlFault(f"This {what} is too large or too deeply nested to be read; please take it in parts.")
    if root is None:
        raise XmlFault(f"This {what} is not well-formed XML.")
    return root

"""Compressed scores: the score in a zip file, within bounds."""

from __future__ import annotations

import io
import zipfile
import zlib

from ...files import LARGEST_SHEET
from ..imported import ImportFault
from ..xml_tree import XmlFault, read_tree

__all__ = ["MusicXmlFault", "unpacked"]

_PACKED_BY = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)  # what MusicXML allows


class MusicXmlFault(ImportFault):
    """A file is no MusicXML score, or one without music."""


def unpacked(data: bytes) -> bytes:
    """The score in a compressed file: the first that its container names, or else the first that is no container."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            names = packed.namelist()
            wanted = _root_file(packed) if "META-INF/container.xml" in names else None
            if wanted not in names:
                scores = [name for name in names if name.endswith((".xml", ".musicxml")) and "META-INF" not in name]
                if not scores:
                    raise MusicXmlFault("There is no score in this compressed file.")
                wanted = scores[0]
            return _content(packed, wanted)
    except (zipfile.BadZipFile, zlib.error, NotImplementedError, RuntimeError, EOFError, OSError, ValueError):
        raise MusicXmlFault("This compressed score is damaged and cannot be unpacked.") from None


def _content(packed: zipfile.ZipFile, name: str) -> bytes:
    if packed.getinfo(name).compress_type not in _PACKED_BY:
        raise MusicXmlFault("This compressed score is packed in a way that MusicXML does not have.")
    with packed.open(name) as file:
        data = file.read(LARGEST_SHEET + 1)
    if len(data) > LARGEST_SHEET:
        raise MusicXmlFault(f"This compressed score holds more than {LARGEST_SHEET >> 20} MB.")
    return data


def _root_file(packed: zipfile.ZipFile) -> str | None:
    try:
        container = read_tree(_content(packed, "META-INF/container.xml"))
    except (MusicXmlFault, XmlFault):
        return None
    file = next((each for each in container.iter() if each.tag.endswith("rootfile")), None)
    return file.get("full-path") if file is not None else None

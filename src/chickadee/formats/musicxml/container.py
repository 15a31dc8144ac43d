"""Compressed scores: the score in a zip file, within bounds."""

from __future__ import annotations

import io
import zipfile
import zlib

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring

from ..imported import ImportFault

__all__ = ["MusicXmlFault", "unpacked"]

_LARGEST = 64 * 1024 * 1024  # bytes that a compressed score may come to


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
    with packed.open(name) as file:
        data = file.read(_LARGEST + 1)
    if len(data) > _LARGEST:
        raise MusicXmlFault(f"This compressed score holds more than {_LARGEST >> 20} MB.")
    return data


def _root_file(packed: zipfile.ZipFile) -> str | None:
    try:
        container = fromstring(_content(packed, "META-INF/container.xml"))
    except (ParseError, DefusedXmlException, ValueError, LookupError):  # the last for an unknown encoding
        return None
    file = next((each for each in container.iter() if each.tag.endswith("rootfile")), None)
    return file.get("full-path") if file is not None else None

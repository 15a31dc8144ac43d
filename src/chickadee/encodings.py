"""The encodings that texts of a class come in: UTF-8, UTF-16 and UTF-32 with or without a mark, Windows-1252."""

from __future__ import annotations

import codecs
import re

__all__ = ["NotText", "decoded"]

_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_SAMPLE = 1_000  # bytes that tell whether a text without a mark is in UTF-16
_MOSTLY = 0.8  # of every second byte is zero where letters stand in UTF-16
_CONTROLS = re.compile("[\x00-\x08\x0e-\x1f\x7f]")
_FEW_CONTROLS = 0.002  # of a text's characters; more are no text


class NotText(ValueError):  # noqa: N818 - it becomes a sentence
    """Bytes are no text in any encoding that is known."""


def decoded(data: bytes) -> str:
    """Return the text of some bytes, without a byte order mark. Raises NotText.

    Bytes that are no UTF-8 are taken for Windows-1252, where that gives a text: it has all letters of Western Europe,
    and Latin-1 is a part of it.

    >>> decoded("Länge".encode("utf-16")), decoded("Länge".encode("cp1252")), decoded("Länge".encode("utf-8-sig"))
    ('Länge', 'Länge', 'Länge')
    """
    for mark, encoding in _MARKS:
        if data.startswith(mark):
            return _as_text(data, encoding)
    if (wide := _wide_encoding(data)) is not None:
        return _as_text(data, wide)
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        text = data.decode("cp1252", "replace").replace("\ufffd", "?")
        if len(_CONTROLS.findall(text)) > _FEW_CONTROLS * len(text):
            raise NotText from None
    if "\0" in text:
        raise NotText
    return text


def _as_text(data: bytes, encoding: str) -> str:
    try:
        text = data.decode(encoding)
    except UnicodeDecodeError:
        raise NotText from None
    if "\0" in text:
        raise NotText
    return text


def _wide_encoding(data: bytes) -> str | None:
    """The kind of UTF-16 that a text without a mark is in; None where it is in none."""
    sample = data[:_SAMPLE]
    pairs = len(sample) // 2
    if pairs < 2 or len(data) % 2:
        return None
    low = sample[1::2].count(0) / pairs
    high = sample[::2].count(0) / pairs
    if low >= _MOSTLY and high < 1 - _MOSTLY:
        return "utf-16-le"
    if high >= _MOSTLY and low < 1 - _MOSTLY:
        return "utf-16-be"
    return None

"""Pages as SVG 1.1, in millimetres: boxes and lines as they are, and text as text, to be found, copied and edited."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from xml.etree import ElementTree as ET

from ..files import visible
from .metrics import MILLIMETRES, text_width
from .shapes import Align, Box, Filled, Line, Page, Shape, Text

__all__ = ["inline_svg_of", "svg_of"]

_NAMESPACE = "http://www.w3.org/2000/svg"
_FONTS = "DejaVu Sans, Verdana, sans-serif"
_HATCH = 1.2  # millimetres from one line of the hatching to the next
_END = 6.0  # millimetres, kept free under what is not a whole page
_CAPITALS = 0.76  # of the size: the height of capitals and figures, which stand in the middle of their room
_BLACK = "#000000"
_PLACES = frozenset(("x", "y", "x1", "y1", "x2", "y2"))
_ANCHORS = {Align.LEFT: "start", Align.MIDDLE: "middle", Align.RIGHT: "end"}


def svg_of(page: Page, title: str) -> bytes:
    """Return a page as an SVG file.

    >>> from .shapes import Paper
    >>> b">G4</text>" in svg_of(Page(Paper(), (Text(10, 10, 20, 5, "G4"),)), "Gull Point")
    True
    """
    written: bytes = ET.tostring(_root(page, title, _box), "utf-8", xml_declaration=True)
    return written


def inline_svg_of(page: Page, title: str, whole: bool = True) -> str:
    """Return a page as a picture for inside an HTML page: as small as may be, with its hatching as patterns.

    Where the ``whole`` page is not wanted, what is empty at its end is left out.
    """
    root = _root(page, title, _box_with_pattern)
    if not whole:
        end = min(page.paper.height, max(map(_lowest, page.shapes), default=0.0) + _END)
        root.set("height", f"{end:g}mm")
        root.set("viewBox", f"0 0 {page.paper.width:g} {end:g}")
    root.set("stroke", _BLACK)
    for element in root.iter():
        for name in _PLACES.intersection(element.keys()):
            element.set(name, f"{float(element.get(name, '0')):.2f}".rstrip("0").rstrip("."))
        if element.tag in ("text", "path"):
            element.set("stroke", "none")
        elif element.get("stroke") == "none":
            element.attrib.pop("stroke-width", None)
        elif element is not root:
            element.attrib.pop("stroke", None)
    hatched = {_grey(shape.fill) for shape in page.shapes if isinstance(shape, Box) and shape.hatched}
    root.extend(_pattern(grey) for grey in sorted(hatched))
    return ET.tostring(root, "unicode")


def _lowest(shape: Shape) -> float:
    """How far down a shape reaches, in millimetres; of an outline where its points end."""
    if isinstance(shape, Line):
        return max(shape.top, shape.bottom)
    if isinstance(shape, Filled):
        return max((y for _, numbers in shape.steps for y in numbers[1::2]), default=0.0)
    return shape.top + shape.height


def _pattern(grey: str) -> ET.Element:
    """The hatching over a grey."""
    size = f"{_HATCH:g}"
    facts = {"id": f"hatch-{grey[1:]}", "width": size, "height": size, "patternUnits": "userSpaceOnUse"}
    pattern = ET.Element("pattern", facts)
    ET.SubElement(pattern, "rect", {"width": size, "height": size, "fill": grey, "stroke": "none"})
    ET.SubElement(pattern, "path", {"d": f"M0 {size}L{size} 0", "stroke-width": "0.1"})
    return pattern


def _root(page: Page, title: str, draw_box: Callable[[Box], Iterator[ET.Element]]) -> ET.Element:
    paper = page.paper
    root = ET.Element(
        "svg",
        {
            "xmlns": _NAMESPACE,
            "version": "1.1",
            "width": f"{paper.width:g}mm",
            "height": f"{paper.height:g}mm",
            "viewBox": f"0 0 {paper.width:g} {paper.height:g}",
            "font-family": _FONTS,
        },
    )
    ET.SubElement(root, "title").text = visible(title)
    for shape in page.shapes:
        root.extend(draw_box(shape) if isinstance(shape, Box) else _elements(shape))
    return root


def _elements(shape: Line | Filled | Text) -> Iterator[ET.Element]:
    if isinstance(shape, Line):
        yield _line(shape.left, shape.top, shape.right, shape.bottom, shape.width, shape.dashed)
    elif isinstance(shape, Filled):
        steps = (f"{letter}{' '.join(map(_number, numbers))}" for letter, numbers in shape.steps)
        yield ET.Element("path", {"d": " ".join(steps)} | ({"fill": _grey(1.0)} if shape.white else {}))
    elif shape.text:
        yield _text(shape)


def _box_with_pattern(box: Box) -> Iterator[ET.Element]:
    element = _rect(box)
    if box.hatched:
        element.set("fill", f"url(#hatch-{_grey(box.fill)[1:]})")
    yield element


def _rect(box: Box) -> ET.Element:
    return ET.Element(
        "rect",
        {
            "x": _number(box.left),
            "y": _number(box.top),
            "width": _number(box.width),
            "height": _number(box.height),
            "fill": _grey(box.fill) if box.filled else "none",
            "stroke": _BLACK if box.edge else "none",
            "stroke-width": _number(box.edge),
        },
    )


def _box(box: Box) -> Iterator[ET.Element]:
    yield _rect(box)
    if not box.hatched:
        return
    at = _HATCH
    while at < box.width + box.height:  # lines that rise to the right, cut at the edges
        yield _line(
            box.left + max(0.0, at - box.height),
            box.top + min(at, box.height),
            box.left + min(at, box.width),
            box.top + max(0.0, at - box.width),
            0.1,
        )
        at += _HATCH


def _line(left: float, top: float, right: float, bottom: float, width: float, dashed: bool = False) -> ET.Element:
    element = ET.Element(
        "line",
        {
            "x1": _number(left),
            "y1": _number(top),
            "x2": _number(right),
            "y2": _number(bottom),
            "stroke": _BLACK,
            "stroke-width": _number(width),
        },
    )
    if dashed:
        element.set("stroke-dasharray", f"{_number(8 * width)} {_number(6 * width)}")
    return element


def _text(text: Text) -> ET.Element:
    """Words at their place, narrowed where they are wider than their room."""
    shown = visible(text.text)
    size = text.size * MILLIMETRES
    at = text.left + {Align.LEFT: 0.0, Align.MIDDLE: text.width / 2, Align.RIGHT: text.width}[text.align]
    element = ET.Element(
        "text",
        {
            "x": _number(at),
            "y": _number(text.top + text.height / 2 + size * _CAPITALS / 2),
            "font-size": _number(size),
            "text-anchor": _ANCHORS[text.align],
            "fill": _grey(text.grey),
            "xml:space": "preserve",
        },
    )
    if text.bold:
        element.set("font-weight", "bold")
    if text_width(shown, text.size, text.bold) > text.width:
        element.set("textLength", _number(text.width))
        element.set("lengthAdjust", "spacingAndGlyphs")
    element.text = shown
    return element


def _number(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")


def _grey(value: float) -> str:
    level = round(255 * value)
    return f"#{level:02x}{level:02x}{level:02x}"

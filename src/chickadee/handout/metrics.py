"""How wide words are: the advances of DejaVu Sans, which pages are set in, in thousandths of its size."""

from __future__ import annotations

from collections.abc import Sequence

__all__ = ["MILLIMETRES", "fitting", "size_that_fits", "text_width", "wrapped"]

MILLIMETRES = 25.4 / 72
"""In a point."""
_CHARACTERS = "".join(map(chr, range(32, 127))) + "♭♯♮·–—×½¼¾⅓⅔…’“”äöüßéèàÄÖÜ"
_PLAIN = (
    "318 401 460 838 636 950 780 275 390 390 500 838 318 361 318 337 636 636 636 636 636 636 636 636 636 636 "
    "337 337 838 838 838 531 1000 684 686 698 770 632 575 775 752 295 295 656 557 863 748 787 603 787 695 635 "
    "611 732 684 989 685 611 685 390 337 390 838 500 500 613 635 550 635 615 352 635 634 278 278 579 278 974 "
    "634 612 635 635 411 521 392 634 592 818 592 592 525 636 337 636 838 472 484 357 318 500 1000 838 969 969 "
    "969 969 969 1000 318 518 518 613 612 634 630 615 615 613 684 787 732"
)
_BOLD = (
    "348 456 521 838 696 1002 872 306 457 457 523 838 380 415 380 365 696 696 696 696 696 696 696 696 696 696 "
    "400 400 838 838 838 580 1000 774 762 734 830 683 683 821 837 372 372 775 637 995 837 850 733 850 770 720 "
    "682 812 774 1103 771 724 725 457 365 457 838 500 500 675 716 593 716 678 435 716 712 343 343 665 343 1042 "
    "712 687 716 716 493 595 478 712 652 924 645 652 582 712 365 712 838 472 484 357 380 500 1000 838 1035 1035 "
    "1035 1035 1035 1000 380 657 657 675 687 712 719 678 678 675 774 850 812"
)
_WIDTHS = {
    bold: dict(zip(_CHARACTERS, map(int, widths.split()), strict=True))
    for bold, widths in ((False, _PLAIN), (True, _BOLD))
}
_OTHER = 1000  # of a character that is not in the table


def text_width(text: str, size: float, bold: bool = False) -> float:
    """Millimetres that words take at a size in points."""
    widths = _WIDTHS[bold]
    return sum(widths.get(character, _OTHER) for character in text) / 1000 * size * MILLIMETRES


def size_that_fits(text: str, width: float, sizes: Sequence[float], bold: bool = False) -> float:
    """The first of some sizes in points at which words fit into so many millimetres; the last where none does."""
    return next((size for size in sizes if text_width(text, size, bold) <= width), sizes[-1])


def wrapped(text: str, width: float, size: float, bold: bool = False) -> list[str]:
    """Words in as many lines of so many millimetres as they need; a word that is wider has a line of its own."""
    lines: list[str] = []
    for word in text.split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and text_width(longer, size, bold) <= width:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines


def fitting(text: str, width: float, size: float, bold: bool = False) -> str:
    """Words as they are, or cut short with an ellipsis where they are wider than so many millimetres."""
    if text_width(text, size, bold) <= width:
        return text
    while text and text_width(f"{text}…", size, bold) > width:
        text = text[:-1]
    return f"{text.rstrip()}…" if text else ""

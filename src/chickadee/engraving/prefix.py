"""The beginning of a staff, and where it changes: staff lines, clefs, key signatures and meters."""

from __future__ import annotations

from collections.abc import Iterator

from ..notation import PERCUSSION, Clef, signature_letters
from ..song import Meter
from ..theory import Key
from .chord import ACCIDENTAL_SIGNS
from .distances import LINE, STAFF_HEIGHT, y_of
from .marks import Mark, Rule, Sign
from .outlines import outline

__all__ = [
    "clef_marks",
    "clef_width",
    "figures",
    "meter_marks",
    "meter_width",
    "signature_marks",
    "signature_width",
    "staff_lines",
]

_SHARP_PLACES = {"F": 8, "C": 5, "G": 9, "D": 6, "A": 3, "E": 7, "B": 4}
_FLAT_PLACES = {"B": 4, "E": 7, "A": 3, "D": 6, "G": 2, "C": 5, "F": 1}
"""Places in a treble clef."""
_LOWER = {"F": 2, "C": 1, "G": 0}
"""Steps that they stand lower in other clefs, by the clef's sign."""
_CLEF_SIGNS = {"G": "clef-g", "F": "clef-f", "C": "clef-c", "percussion": "clef-percussion"}
_SIGN_GAP = 0.12
_EIGHT = 0.55  # of a meter's figures, the 8 at a clef


def staff_lines(left: float, right: float, top: float) -> Iterator[Mark]:
    """The five lines."""
    for place in range(int(STAFF_HEIGHT) + 1):
        yield Rule(left, top + place, right, top + place, LINE, "staff")


def clef_width(clef: Clef) -> float:
    """Staff spaces of a clef."""
    return outline(_CLEF_SIGNS[clef.sign]).width


def clef_marks(clef: Clef, x: float, top: float) -> Iterator[Mark]:
    """A clef, with its 8 where it sounds an octave off."""
    name = _CLEF_SIGNS[clef.sign]
    yield Sign(name, x, top + STAFF_HEIGHT / 2, part="clef")
    if clef.octaves:
        box = outline(name).box
        y = top + 2 + (box.top - 0.4 if clef.octaves > 0 else box.bottom + 0.4)
        yield from figures(8, x + outline(name).width / 2, y, _EIGHT)


def signature_width(key: Key, clef: Clef, before: Key | None = None) -> float:
    """Staff spaces of a key signature; ``before`` is the key whose accidentals it takes back."""
    signs = list(_signature(key, clef, before))
    return sum(outline(name).width + _SIGN_GAP for name, _ in signs)


def signature_marks(key: Key, clef: Clef, x: float, top: float, before: Key | None = None) -> Iterator[Mark]:
    """A key signature; naturals first, where it takes back accidentals of another."""
    for name, place in _signature(key, clef, before):
        yield Sign(name, x, top + y_of(place), part="signature")
        x += outline(name).width + _SIGN_GAP


def _signature(key: Key, clef: Clef, before: Key | None) -> Iterator[tuple[str, int]]:
    """(sign, place) of each accidental."""
    if clef is PERCUSSION:
        return
    letters = signature_letters(key.signature)
    old = signature_letters(before.signature) if before is not None else {}
    for letter, altered in old.items():
        if letters.get(letter) != altered and letter not in letters:
            yield ACCIDENTAL_SIGNS[0], _place(letter, altered, clef)
    for letter, altered in letters.items():
        yield ACCIDENTAL_SIGNS[altered], _place(letter, altered, clef)


def _place(letter: str, altered: int, clef: Clef) -> int:
    return (_SHARP_PLACES if altered > 0 else _FLAT_PLACES)[letter] - _LOWER[clef.sign]


def meter_width(meter: Meter) -> float:
    """Staff spaces of a meter's figures."""
    return max(_figures_width(meter.upper), _figures_width(meter.lower))


def meter_marks(meter: Meter, x: float, top: float) -> Iterator[Mark]:
    """A meter's two numbers, one over the other."""
    width = meter_width(meter)
    for number, feet in ((meter.upper, top + STAFF_HEIGHT / 2), (meter.lower, top + STAFF_HEIGHT)):
        at = x + (width - _figures_width(number)) / 2
        for figure in str(number):
            yield Sign(f"figure-{figure}", at, feet, part="meter")
            at += outline(f"figure-{figure}").width + _SIGN_GAP


def figures(number: int, x: float, y: float, scale: float) -> Iterator[Mark]:
    """A number in smaller figures around a middle."""
    at = x - scale * _figures_width(number) / 2
    for figure in str(number):
        yield Sign(f"figure-{figure}", at, y + scale, scale, part="figure")
        at += scale * (outline(f"figure-{figure}").width + _SIGN_GAP)


def _figures_width(number: int) -> float:
    return sum(outline(f"figure-{figure}").width + _SIGN_GAP for figure in str(number)) - _SIGN_GAP

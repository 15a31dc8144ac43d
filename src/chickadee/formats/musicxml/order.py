"""The order in which bars are played: repeats, endings, and jumps by sign or in words."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from xml.etree.ElementTree import Element

__all__ = ["played"]

_MOST_BARS = 20_000
_MOST_TIMES = 16
_JUMPS = ("dacapo", "dalsegno", "segno", "coda", "tocoda", "fine")
_IN_WORDS = (
    ("tocoda", re.compile(r"(?i)^\s*to coda\b|^\s*al(?:la)? coda\s*$")),
    ("dacapo", re.compile(r"(?i)\bD\.?\s*C\.?(?:\s|$)|\bda capo\b")),
    ("dalsegno", re.compile(r"(?i)\bD\.?\s*S\.?(?:\s|$)|\bdal segno\b")),
    ("fine", re.compile(r"(?i)^\s*fine\.?\s*$")),
)
"""The meaning of words between the notes, where no sound element says it."""


@dataclass(slots=True)
class _Signs:
    """The marks of a bar that change the order."""

    forward: bool = False
    times: int = 0
    """How often what ends here is played; 0 where nothing ends."""
    endings: frozenset[int] = frozenset()
    """The times round at which it is played; empty for every time."""
    last: int = 0
    """Of the endings that it is one of, the number of the last."""
    jumps: set[str] = field(default_factory=set)


def played(bars: list[Element]) -> list[int]:
    """The places of bars in the order in which they sound. After a jump, made once, repeats are left out."""
    signs = _signs(bars)
    order: list[int] = []
    place = 0
    start = 0  # of what is repeated
    turn = 1  # how often that is played by now
    jumped = False
    coda = max((other for other, each in enumerate(signs) if "coda" in each.jumps), default=None)
    while place < len(signs) and len(order) < _MOST_BARS:
        here = signs[place]
        if here.forward and start != place:
            start = place
            turn = 1
        if here.endings and (here.last if jumped else turn) not in here.endings:
            place += 1
            continue
        order.append(place)
        if jumped and "fine" in here.jumps:
            break
        if jumped and "tocoda" in here.jumps and coda is not None and coda > place:
            place = coda
            start = coda
            turn = 1
            continue
        if here.times and not jumped and turn < max(here.times if not here.endings else 0, here.last):
            place = start
            turn += 1
            continue
        if not jumped and here.jumps & {"dacapo", "dalsegno"}:
            segno = next((other for other, each in enumerate(signs) if "segno" in each.jumps), 0)
            place = segno if "dalsegno" in here.jumps else 0
            jumped = True
            start = place
            turn = 1
            continue
        if here.times or _ends(signs, place):
            start = place + 1
            turn = 1
        place += 1
    return order


def _ends(signs: Sequence[_Signs], place: int) -> bool:
    """Return whether the last of some endings ends with a bar."""
    here = signs[place]
    if not here.endings or here.last not in here.endings:
        return False
    return place + 1 == len(signs) or signs[place + 1].endings != here.endings


def _signs(bars: list[Element]) -> list[_Signs]:
    found: list[_Signs] = []
    open_endings = frozenset[int]()
    for bar in bars:
        signs = _Signs()
        stops = False
        for line in bar.findall("barline"):
            repeat = line.find("repeat")
            ending = line.find("ending")
            if repeat is not None and repeat.get("direction") == "forward":
                signs.forward = True
            elif repeat is not None:
                signs.times = _times(repeat)
            if ending is not None and ending.get("type") == "start":
                open_endings = _numbers(ending)
            elif ending is not None:
                stops = True
        signs.jumps = _jumps(bar)
        signs.endings = open_endings
        if stops:
            open_endings = frozenset()
        found.append(signs)
    _know_codas(found)
    _know_last_endings(found)
    return found


def _times(repeat: Element) -> int:
    written = repeat.get("times") or "2"
    return min(_MOST_TIMES, int(written)) if re.fullmatch("[0-9]{1,3}", written) else 2


def _numbers(ending: Element) -> frozenset[int]:
    """The times round of an ending: of ``1, 2`` or ``1-3`` each of them."""
    numbers = set[int]()
    for first, last in re.findall(r"([0-9]{1,2})(?:\s*-\s*([0-9]{1,2}))?", ending.get("number") or "1"):
        numbers.update(range(int(first), min(int(last or first), _MOST_TIMES) + 1) or (int(first),))
    return frozenset(numbers) or frozenset((1,))


def _jumps(bar: Element) -> set[str]:
    """The jumps that a bar's sounds, signs and words say."""
    jumps = {name for sound in bar.iter("sound") for name in _JUMPS if sound.get(name)}
    for kind in bar.iter("direction-type"):
        if kind.find("segno") is not None:
            jumps.add("segno")
        if kind.find("coda") is not None and not jumps & {"coda", "tocoda"}:
            jumps.add("coda sign")
        for words in kind.findall("words"):
            jumps |= {name for name, pattern in _IN_WORDS if pattern.search((words.text or "")[:100])}
    if "tocoda" in jumps:
        jumps.discard("coda sign")
    return jumps


def _know_codas(signs: Sequence[_Signs]) -> None:
    """Of coda signs without words, the last one begins the coda; those before it lead there."""
    places = [place for place, each in enumerate(signs) if "coda sign" in each.jumps]
    has_way = any("tocoda" in each.jumps for each in signs)
    for place in places:
        is_coda = place == places[-1] and (len(places) > 1 or has_way)
        signs[place].jumps.add("coda" if is_coda else "tocoda")


def _know_last_endings(signs: Sequence[_Signs]) -> None:
    """Tell each bar of an ending the number of the last ending beside it."""
    group: list[_Signs] = []
    seen = set[int]()
    for each in (*signs, _Signs()):
        begins_anew = 1 in each.endings and bool(group) and each.endings != group[-1].endings
        if group and (not each.endings or begins_anew):
            for one in group:
                one.last = max(seen)
            group = []
            seen = set()
        if each.endings:
            group.append(each)
            seen |= each.endings

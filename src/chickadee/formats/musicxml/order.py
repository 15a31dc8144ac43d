"""The order in which bars are played: repeats, endings, and jumps by sign."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import islice
from xml.etree.ElementTree import Element

__all__ = ["played"]

_MOST_BARS = 20_000
_LONGEST_ENDING = 200  # bars


@dataclass(slots=True)
class _Signs:
    """What a bar says about the order."""

    forward: bool = False
    times: int = 0
    """How often what ends here is played; 0 where nothing ends."""
    endings: frozenset[int] = frozenset()
    """The times round at which it is played; empty for every time."""
    jumps: dict[str, str] = field(default_factory=dict)


def played(bars: list[Element]) -> list[int]:
    """The places of bars in the order in which they sound. After a jump, made once, repeats are left out."""
    signs = _signs(bars)
    order: list[int] = []
    place, start, round_, jumped = 0, 0, 1, False
    rounds: dict[int, int] = {}
    coda = next((other for other, each in enumerate(signs) if "coda" in each.jumps), None)
    while place < len(signs) and len(order) < _MOST_BARS:
        here = signs[place]
        if here.forward and start != place:
            start, round_ = place, 1
        if here.endings and round_ not in here.endings and not (jumped and round_ == 1 and _is_last(signs, place)):
            place += 1
            continue
        order.append(place)
        if jumped and "fine" in here.jumps:
            break
        if jumped and "tocoda" in here.jumps and coda is not None and coda > place:
            place, start, round_ = coda, coda, 1
            continue
        if here.times and not jumped and rounds.get(place, 1) < here.times:
            rounds[place] = rounds.get(place, 1) + 1
            round_ = rounds[place]
            place = start
            continue
        if not jumped and ("dacapo" in here.jumps or "dalsegno" in here.jumps):
            segno = next((other for other, each in enumerate(signs) if "segno" in each.jumps), 0)
            jumped, place = True, segno if "dalsegno" in here.jumps else 0
            start, round_ = place, 1
            continue
        if here.times:
            start, round_ = place + 1, 1
        place += 1
    return order


def _is_last(signs: list[_Signs], place: int) -> bool:
    """Whether a bar's ending is the last of several, which is the one played after a jump."""
    near = islice(signs, place + 1, place + 1 + _LONGEST_ENDING)
    following = next((each for each in near if not signs[place].endings & each.endings), None)
    return following is None or not following.endings


def _signs(bars: list[Element]) -> list[_Signs]:
    found, open_endings = [], frozenset[int]()
    for bar in bars:
        signs = _Signs()
        stops = False
        for line in bar.findall("barline"):
            repeat, ending = line.find("repeat"), line.find("ending")
            if repeat is not None and repeat.get("direction") == "forward":
                signs.forward = True
            elif repeat is not None:
                times = repeat.get("times") or "2"
                signs.times = min(16, int(times)) if times.isascii() and times.isdigit() and len(times) < 4 else 2
            if ending is not None and ending.get("type") == "start":
                written = (ending.get("number") or "1").replace(",", " ").split()
                open_endings = frozenset(int(n) for n in written if n.isascii() and n.isdigit() and len(n) < 3)
            elif ending is not None:
                stops = True
        for sound in bar.iter("sound"):
            signs.jumps |= {name: sound.get(name, "") for name in
                            ("dacapo", "dalsegno", "segno", "coda", "tocoda", "fine") if sound.get(name)}  # fmt: skip
        signs.endings = open_endings
        if stops:
            open_endings = frozenset()
        found.append(signs)
    return found

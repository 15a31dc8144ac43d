"""Words laid under lines of music: a syllable for each sign struck, verse by verse, and those of phrases used."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from itertools import islice, zip_longest

from . import rules
from .bounds import Findings
from .grammar import syllable_spans
from .tree import Block, Group, Item, Node, OnSemitones, OnSteps, Property, Repeat, Sung, Use

__all__ = ["Strikes", "SungLine", "lay_words"]

_MOST = 1_000_000  # strikes of one use that can have words of their own


@dataclass(frozen=True, slots=True)
class SungLine:
    """A line of music and the ``words:`` lines under it."""

    music: list[Item | Use]
    """Its items, those of groups too, and its uses."""
    words: list[Property] = field(default_factory=list)


class Strikes:
    """Counts the signs that phrases strike."""

    def __init__(self, phrases: Mapping[str, Block], left_out: Iterable[int]) -> None:
        self._phrases = phrases
        self._left_out = frozenset(left_out)
        self._known: dict[str, int] = {}

    def of(self, node: Item | Use) -> int:
        """How many signs are struck: of a phrase those of one playing, without what is done to the use."""
        if isinstance(node, Item):
            return int(bool(node.word.signs))
        use = node
        if use.start in self._left_out:
            return 0
        if use.name not in self._known:
            self._known[use.name] = self._in_body(self._phrases[use.name].body)
        return self._known[use.name]

    def _in_body(self, body: tuple[Node, ...]) -> int:
        count = 0
        for node in body:
            if isinstance(node, Item):
                count += self.of(node)
            elif isinstance(node, Group | Use):
                inside = self.of(node) if isinstance(node, Use) else self._in_body(node.body)
                for change in node.changes:
                    if isinstance(change, Repeat):
                        inside *= change.times
                    elif isinstance(change, OnSteps | OnSemitones):
                        inside *= len(change.steps if isinstance(change, OnSteps) else change.semitones)
                count += inside
            if count > _MOST:
                return _MOST
        return count


def lay_words(
    text: str, lines: list[SungLine], phrases: Mapping[str, Block], left_out: Iterable[int], findings: Findings
) -> tuple[dict[int, Sung], dict[int, tuple[Sung, ...]]]:
    """Return the words of the items and of the uses of some lines, by their offsets."""
    strikes = Strikes(phrases, left_out)
    items: dict[int, Sung] = {}
    uses: dict[int, tuple[Sung, ...]] = {}
    for line in lines:
        places = [(node, strikes.of(node)) for node in line.music]
        notes = sum(count for _, count in places)
        verses = []
        for words in line.words:
            spans = syllable_spans(text, words.value_start, words.value_end)
            verses.append([text[start:end] for start, end in spans])
            _check(words, len(spans), notes, findings)
        sung = (Sung(tuple(map(_syllable, each))) for each in zip_longest(*verses, fillvalue="_"))
        for node, count in places:
            mine = tuple(islice(sung, count))
            if isinstance(node, Use):
                uses |= {node.start: mine} if any(any(each.verses) for each in mine) else {}
            elif mine and any(mine[0].verses):
                items[node.start] = mine[0]
    return items, uses


def _syllable(written: str) -> str:
    return "" if written.rstrip("-") == "_" else written


def _check(words: Property, syllables: int, notes: int, findings: Findings) -> None:
    """Say where there are more syllables than notes."""
    if syllables <= notes:
        return
    message = f"There are {syllables} syllables and {notes} notes above them; - joins syllables, _ skips a note."
    if not notes:
        message = "Words stand under a line of notes; there are no notes above these."
    findings.append(rules.WORDS.at(words.value_start, words.value_end, message))

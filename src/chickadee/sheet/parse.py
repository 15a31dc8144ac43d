"""Text to tree: lines into blocks, and each line of music into a body. Recovers from every fault."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import replace

from ..faults import InputFault
from ..song.sounds import LIKE, SOUNDS
from ..theory import NAMINGS, SCALES, KeyNameError, Naming, read_key
from . import rules
from .bounds import Allowance, Findings
from .finding import Finding, Fix, TextEdit, shown
from .grammar import Header, header_at, headers, property_at
from .lyrics import SungLine, lay_words
from .music import MusicReader
from .names import free_name, is_taken, possible_name
from .near import Lookalikes
from .nesting import left_out
from .properties import PROPERTIES, OwnKey, PropertyKind, Settings, UnknownSound
from .tree import Block, Item, Property, Sheet, items_in

__all__ = ["FIRST_VOICE", "parse"]

FIRST_VOICE = "Melody"
"""The name of the voice that notes before any block belong to."""

_LINE = re.compile(r"[^\n]+")
_ALSO = {
    "time": "meter",
    "time signature": "meter",
    "signature": "meter",
    "bpm": "tempo",
    "speed": "tempo",
    "name": "title",
    "author": "composer",
    "by": "composer",
    "instrument": "sound",
    "volume": "level",
    "scale": "key",
}
"""Other names that properties are given."""
_OF_VOICES = tuple(name for name, kind in PROPERTIES.items() if kind.places == ("voice",))


_OTHER_COMMENT = re.compile(r"[^\S\n]*(#+)(?=\s|[^\W\d])")
_COLONLESS = re.compile(r"(?i)[^\S\n]*(tempo|meter|key|swing|sound|octave|pickup|tuning)[^\S\n]+([^\s:=|][^\n:|]*)")
"""Properties that a line begins with where its colon is left out."""


def parse(text: str) -> tuple[Sheet, list[Finding]]:
    """The tree of a sheet and what was found on the way. Raises TooMany for a sheet of more signs than a song has."""
    return _Parser(text).parse()


class _OpenBlock:
    """A block while its lines are read."""

    def __init__(self, place: str, name: str, start: int, end: int, music: MusicReader) -> None:
        self.place = place
        self.name = name
        self.start = start
        self.end = end
        self.music = music
        self.settings = Settings()
        self.properties: list[Property] = []
        self.sung: list[SungLine] = []

    def closed(self) -> Block:
        return Block(
            self.name,
            self.start,
            self.end,
            self.settings,
            tuple(self.properties),
            self.music.groups.all_closed(),
            tuple(words for line in self.sung for words in line.words),
            {},
            {},
        )

    def add_words(self, words: Property) -> None:
        """Lay words under the newest line of music: its first verse, or one more."""
        if not self.sung or self.sung[-1].music is not self.music.last_line:
            self.sung.append(SungLine(self.music.last_line))
        self.sung[-1].words.append(words)


class _Parser:
    def __init__(self, text: str) -> None:
        self.text = text
        self.findings = Findings()
        self.allowance = Allowance()
        self.lookalikes = Lookalikes()
        self.phrase_names = _phrase_names(text)
        self.naming = Naming.LETTERS
        self.head_naming = _head_naming(text)
        self.has_voices = next(headers(text, "voice"), None) is not None
        self.song = self._open("song", FIRST_VOICE, 0, 0)
        self.block = self.song
        self.voices: list[_OpenBlock] = []
        self.phrases: list[_OpenBlock] = []
        self.names: dict[str, set[str]] = {"voice": set(), "phrase": set()}
        self.unfree = {"voice": set[str](), "phrase": {name.lower() for name in self.phrase_names}}
        """Names that no block may be given instead of its own: those of others, now or later."""
        self.misnamed: list[tuple[str, str, Finding]] = []
        """Phrases with a name that reads as something else: the name, another one, and the finding."""
        self.renamed: Counter[str] = Counter()
        """How many blocks could not have a name."""

    def parse(self) -> tuple[Sheet, list[Finding]]:
        for line in _LINE.finditer(self.text):
            self._line(*line.span())
        phrases = {phrase.name: phrase.closed() for phrase in self.phrases}
        cut = left_out(phrases)
        self.findings.extend(cut.values())
        phrases = {phrase.name: self._with_words(phrase, phrases, cut) for phrase in self.phrases}
        voices = [self._with_words(voice, phrases, cut) for voice in self.voices]
        melody = self._with_words(self.song, phrases, cut)
        if melody.body:
            first = melody.body[0]
            own = {} if self.has_voices else {name: getattr(melody.settings, name) for name in _OF_VOICES}
            properties = tuple(each for each in melody.properties if each.name in own)
            voices.insert(
                0, replace(melody, start=first.start, end=first.end, settings=Settings(**own), properties=properties)
            )
        self._say_misnamed([*voices, *phrases.values()])
        sheet = Sheet(self.song.settings, tuple(self.song.properties), phrases, tuple(voices), frozenset(cut))
        return sheet, list(self.findings)

    def _say_misnamed(self, blocks: list[Block]) -> None:
        """Say which phrases have names that read as something else; where such a word stands, the phrase may be
        meant."""
        if not self.misnamed:
            return
        names = {name for name, _, _ in self.misnamed}
        places: dict[str, list[Item]] = {}
        own = {finding.start for _, _, finding in self.misnamed}
        for block in blocks:
            for item in items_in(block.body) if block.start not in own else ():
                if item.word.text in names and item.word.signs:
                    places.setdefault(item.word.text, []).append(item)
        for name, other, finding in self.misnamed:
            uses = tuple(TextEdit(item.start, item.end, other) for item in places.pop(name, []))
            title = f"Call it {shown(other)}, and play it where {shown(name)} stands"
            fixes = (Fix(title, (*finding.fixes[0].edits, *uses)), *finding.fixes) if uses else finding.fixes
            self.findings.append(replace(finding, fixes=fixes))

    def _with_words(self, block: _OpenBlock, phrases: Mapping[str, Block], cut: Iterable[int]) -> Block:
        """A block closed, with its words laid under its music."""
        closed = block.closed()
        if not block.sung:
            return closed
        items, uses = lay_words(self.text, block.sung, phrases, cut, self.findings)
        return replace(closed, syllables=items, use_words=uses)

    def _open(self, place: str, name: str, start: int, end: int) -> _OpenBlock:
        naming = self.naming
        music = MusicReader(
            self.text, name, self.phrase_names, self.findings, self.allowance, self.lookalikes, naming
        )
        return _OpenBlock(place, name, start, end, music)

    def _line(self, start: int, end: int) -> None:
        tab = self.text.find("\t", start, end)
        if tab >= 0:
            spaces = TextEdit(start, end, self.text[start:end].replace("\t", "  "))
            message = "Tabs look different everywhere; spaces keep their width."
            self.findings.append(rules.NEAR_MISS.at(tab, tab + 1, message, Fix("Use spaces", (spaces,))))
        if header := header_at(self.text, start, end):
            self._header(header)
        elif line := property_at(self.text, start, end):
            self._property(Property(*line))
        elif not (self._other_comment(start, end) or self._without_colon(start, end)):
            self.block.music.line(start, end)

    def _other_comment(self, start: int, end: int) -> bool:
        """Return whether a line is a comment as programs have it, with ``#``; it is understood as one."""
        found = _OTHER_COMMENT.match(self.text, start, end)
        if found is None:
            return False
        fix = Fix("Use //", (TextEdit(found.start(1), found.end(1), "//"),))
        self.findings.append(rules.NEAR_MISS.at(found.start(1), end, "A comment begins with //.", fix))
        return True

    def _without_colon(self, start: int, end: int) -> bool:
        """Return whether a line is a property without its colon, such as ``tempo 100``: none of it sounds."""
        found = _COLONLESS.match(self.text, start, end)
        if found is None or found[1] in self.phrase_names:
            return False
        name = found[1].lower()
        value = found[2].rstrip()
        kind = PROPERTIES[name]
        try:
            kind.value(value, self.head_naming)
        except InputFault:
            return False
        at, to = found.span(1)
        last = found.start(2) + len(value)
        if self._may_stand(kind, self.block):
            fix = Fix(f"Write {name}: {shown(value)}", (TextEdit(at, last, f"{name}: {value}"),))
        else:
            fix = Fix(f"Write [{name} {shown(value)}]", (TextEdit(at, last, f"[{name} {value}]"),))
        message = f"“{shown(self.text[at:last])}” lacks its colon, as in {name}: {shown(value)}."
        self.findings.append(rules.NOT_UNDERSTOOD.at(at, to, message, fix))
        return True

    def _header(self, header: Header) -> None:
        place, name, start, end = header
        fault = self._name_fault(place, name)
        if fault is not None:
            other = self._free_name(name or place.capitalize(), place)
            edit = TextEdit(start, end, other) if name else TextEdit(end, end, f" {other}")
            finding = rules.BLOCK_NAME.at(start, end, fault, Fix(f"Call it {shown(other)}", (edit,)))
            if place == "phrase" and name and is_taken(name):
                self.misnamed.append((name, other, finding))
            else:
                self.findings.append(finding)
            name = other
        self.names[place].add(name.lower())
        self.unfree[place].add(name.lower())
        self.block = self._open(place, name, start, end)
        (self.voices if place == "voice" else self.phrases).append(self.block)

    def _free_name(self, name: str, place: str) -> str:
        """Another name for a block. Of many that ask for one name, each looks on from where the last found one."""
        asked = possible_name(name, place).lower()
        self.renamed[asked] += 1
        return free_name(name, place, self.unfree[place], 1 + self.renamed[asked])

    def _name_fault(self, place: str, name: str) -> str | None:
        if not name:
            return f"This {place} needs a name after the word {place}."
        if name.lower() in self.names[place] or (
            place == "voice" and name == FIRST_VOICE and self.song.music.groups.body
        ):
            return f"There is already a {place} called {shown(name)}; each needs a name of its own."
        if place == "phrase" and " " in name:
            return f"“{shown(name)}” cannot name a phrase, since it is more than one word."
        if place == "phrase" and is_taken(name):
            return f"“{shown(name)}” cannot name a phrase, since it reads as something else; another name will do."
        return None

    def _property(self, line: Property) -> None:
        name = line.name
        value = line.value
        kind = PROPERTIES.get(name)
        block = self.block
        if name.startswith("keys ") and block is self.song:
            self._key_set(line, name.removeprefix("keys "))
            return
        if name == "words":
            block.add_words(line)
            return
        if kind is None or not self._may_stand(kind, block):
            self._misplaced(line)
            return
        if any(other.name == name for other in block.properties):
            message = f"{name.capitalize()} is set twice here; the later one counts."
            cut = Fix("Delete this one", (TextEdit(line.start, line.value_end, ""),))
            self.findings.append(rules.PROPERTY_TWICE.at(line.start, line.end, message, cut))
        block.properties.append(line)
        try:
            block.settings = replace(block.settings, **{name: kind.value(value, self.head_naming)})  # type: ignore[arg-type]
            self._check_keys(line, block.settings.keys or () if name == "keys" else ())
            if name == "names" and block.settings.names is not None:
                self.naming = self.head_naming
                block.music.use_naming(self.naming)
        except UnknownSound as fault:
            like = [LIKE[word] for word in value.lower().split() if word in LIKE]
            near = like or self.lookalikes.of(value.lower(), SOUNDS, 0.3)
            fixes = [_use(sound, line) for sound in dict.fromkeys(near)]
            self.findings.append(rules.SOUND.at(line.value_start, line.value_end, str(fault), *fixes))
        except InputFault as fault:
            start, end = (line.value_start, line.value_end) if value else (line.start, line.end)
            self.findings.append(rules.VALUE.at(start, end, str(fault), *self._meant(kind, line), _comment(line)))

    def _check_keys(self, line: Property, keys: Iterable[OwnKey]) -> None:
        """Say which keys are to play phrases that are not there."""
        for key in keys:
            if key.kind == "phrase" and key.written not in self.phrase_names:
                message = (
                    f"{shown(key.written)} is no pitch, drum or phrase of this tune, so {key.letter} plays nothing."
                )
                self.findings.append(rules.VALUE.at(line.value_start, line.value_end, message, _comment(line)))

    def _key_set(self, line: Property, name: str) -> None:
        """A further set of keys, by its name; one that is there already is added to."""
        block = self.block
        kind = PROPERTIES["keys"]
        block.properties.append(line)
        try:
            keys = kind.value(line.value, self.head_naming)
        except InputFault as fault:
            start, end = (line.value_start, line.value_end) if line.value else (line.start, line.end)
            self.findings.append(rules.VALUE.at(start, end, str(fault), _comment(line)))
            return
        assert isinstance(keys, tuple)
        self._check_keys(line, keys)
        sets = dict(block.settings.key_sets)
        sets[name] = (*sets.get(name, ()), *keys)
        block.settings = replace(block.settings, key_sets=tuple(sets.items()))

    def _may_stand(self, kind: PropertyKind, block: _OpenBlock) -> bool:
        """Return whether a block can have a property; those of a lone unnamed voice stand at the top of the sheet."""
        return block.place in kind.places or (block is self.song and not self.has_voices and "voice" in kind.places)

    def _meant(self, kind: PropertyKind, line: Property) -> list[Fix]:
        """The value that was perhaps meant, where another way of writing it can be read."""
        words = line.value.split()
        number = re.search(r"[0-9]+(?:[.,][0-9]+)?", line.value)
        tried = [line.value.replace(",", "."), re.sub(r"\s*[-:\s]\s*", "/", line.value)]
        tried += [number[0].replace(",", ".")] if number else []
        if words and kind.name == "key":
            tried += [f"{words[0]} {scale}" for scale in self.lookalikes.of(" ".join(words[1:]).lower(), SCALES, 0.5)]
        for value in tried:
            if value != line.value and _can_be(kind, value):
                return [_use(value, line)]
        return []

    def _misplaced(self, line: Property) -> None:
        block = self.block
        here = "the song" if block.place == "song" else f"the {block.place} {shown(block.name)}"
        kind = PROPERTIES.get(line.name)
        comment = _comment(line)
        if kind is not None:
            where = "before the first phrase or voice" if kind.places == ("song",) else "under a voice"
            message = f"{line.name.capitalize()} is not a property of {here}; it stands {where}."
            self.findings.append(rules.PROPERTY.at(line.start, line.end, message, comment))
            return
        known = [name for name, kind in PROPERTIES.items() if self._may_stand(kind, block)]
        fixes = [
            Fix(f"Use {near}", (TextEdit(line.start, line.end, near),))
            for near in (
                [_ALSO[line.name]] if _ALSO.get(line.name) in known else self.lookalikes.of(line.name, known)
            )
        ]
        message = f"“{shown(line.name)}” is not a property of {here}; it can have {', '.join(known)}."
        self.findings.append(rules.PROPERTY.at(line.start, line.end, message, *fixes, comment))


def _head_naming(text: str) -> Naming:
    """How a sheet names pitches, wherever in its head it says so, and its key: what stands above is meant so too."""
    said = dict[str, str]()
    for line in re.finditer(r"(?mi)^[ \t]*(?:(names|key)[ \t]*:([^\n]*)|(?:voice|phrase)\b)", text):
        if line[1] is None:
            break
        said[line[1].lower()] = " ".join(line[2].partition("//")[0].split())
    naming = next((each for each in NAMINGS if each.value == said.get("names", "").lower()), Naming.LETTERS)
    try:
        return naming.in_key(read_key(said.get("key") or "C major"))
    except KeyNameError:
        return naming


def _phrase_names(text: str) -> frozenset[str]:
    """The names that phrases have wherever they stand: of those that differ in case alone, the first."""
    found: dict[str, str] = {}
    for name in headers(text, "phrase"):
        if not is_taken(name):
            found.setdefault(name.lower(), name)
    return frozenset(found.values())


def _use(value: str, line: Property) -> Fix:
    return Fix(f"Use {value}", (TextEdit(line.value_start, line.value_end, value),))


def _comment(line: Property) -> Fix:
    return Fix("Make it a comment", (TextEdit(line.start, line.start, "// "),))


def _can_be(kind: PropertyKind, value: str) -> bool:
    try:
        kind.read(value)
    except InputFault:
        return False
    return True

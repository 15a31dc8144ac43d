"""A checker of MusicXML scores that knows nothing of how ours are written: sums, types, tuplets, ties and beams."""

from __future__ import annotations

from collections import defaultdict
from fractions import Fraction
from xml.etree import ElementTree as ET

_TYPES = {
    "whole": Fraction(4), "half": Fraction(2), "quarter": Fraction(1), "eighth": Fraction(1, 2),
    "16th": Fraction(1, 4), "32nd": Fraction(1, 8), "64th": Fraction(1, 16),
}  # fmt: skip
_STEPS = dict(zip("CDEFGAB", (0, 2, 4, 5, 7, 9, 11), strict=True))


def faults_of(data: bytes) -> list[str]:
    """What is wrong with a score, a sentence each."""
    return [fault for part in ET.fromstring(data).findall("part") for fault in _Part(part).faults]


class _Part:
    def __init__(self, part: ET.Element) -> None:
        self.faults: list[str] = []
        self.divisions = int(part.findtext("measure/attributes/divisions", "0"))
        self.meter = Fraction(4)
        self.ties: dict[int, int] = defaultdict(int)  # open, by MIDI number
        for measure in part.findall("measure"):
            self.where = f"{part.get('id')}, measure {measure.get('number')}"
            self._measure(measure)
        self._expect(not any(self.ties.values()), "a tie has no end")

    def _expect(self, holds: bool, fault: str) -> None:
        if not holds:
            self.faults.append(f"{self.where}: {fault}")

    def _measure(self, measure: ET.Element) -> None:
        lines: dict[str, list[list[ET.Element]]] = defaultdict(list)
        for note in measure.findall("note"):
            name = note.findtext("voice", "1")
            if note.find("chord") is not None:
                self._expect(bool(lines[name]), "a chord has no first note")
                lines[name][-1].append(note)
            else:
                lines[name].append([note])
        sums = {name: sum(self._length(chord[0]) for chord in chords) for name, chords in lines.items()}
        self._expect(len(set(sums.values())) == 1, f"its voices last {sorted(map(str, sums.values()))}")
        for chords in lines.values():
            self._line(chords)

    def _length(self, note: ET.Element) -> Fraction:
        return Fraction(int(note.findtext("duration", "0")), self.divisions)

    def _line(self, chords: list[list[ET.Element]]) -> None:
        is_open = False
        ratio = None
        beams: dict[str, bool] = {}
        written = Fraction(0)
        for chord in chords:
            first = chord[0]
            for note in chord:
                self._tie(note)
            modification = first.find("time-modification")
            kinds = [tuplet.get("type") for tuplet in first.findall("notations/tuplet")]
            if "start" in kinds:
                self._expect(not is_open, "a tuplet begins inside another")
                is_open = True
                ratio = None
                written = Fraction(0)
            self._expect((modification is not None) == is_open, "a tuplet's note lies outside its bracket")
            if modification is not None:
                here = modification.findtext("actual-notes"), modification.findtext("normal-notes")
                self._expect(ratio in (None, here), "a tuplet changes its ratio")
                ratio = here
                written += _written(first)
            if "stop" in kinds:
                self._expect(is_open, "a tuplet ends that did not begin")
                fills = ratio is not None and (written * 256 / int(ratio[1])).denominator == 1
                self._expect(fills, "a tuplet does not fill its time")
                is_open = False
            self._beams(first, beams)
        self._expect(not is_open, "a tuplet has no end")
        self._expect(not any(beams.values()), "a beam has no end")

    def _tie(self, note: ET.Element) -> None:
        kinds = [tie.get("type") for tie in note.findall("tie")]
        self._expect(sorted(kinds) == sorted(tie.get("type") for tie in note.findall("notations/tied")), "tie, tied")
        if note.find("pitch") is None:
            return
        number = 12 * int(note.findtext("pitch/octave", "0")) + _STEPS[note.findtext("pitch/step", "C")]
        number += int(note.findtext("pitch/alter", "0"))
        if "stop" in kinds:
            self._expect(self.ties[number] > 0, "a tie ends that did not begin at its pitch")
            self.ties[number] -= 1
        if "start" in kinds:
            self.ties[number] += 1

    def _beams(self, note: ET.Element, beams: dict[str, bool]) -> None:
        here = {beam.get("number", "1"): beam.text for beam in note.findall("beam")}
        flags = list(_TYPES).index(note.findtext("type", "whole")) - 2
        self._expect(not here or len(here) == flags, "a note has another number of beams than flags")
        for number, is_open in list(beams.items()):
            if is_open and (number not in here or here[number] in ("begin", "forward hook", "backward hook")):
                self._expect(False, "a beam is broken off")
                beams[number] = False
        for number, kind in here.items():
            if kind in ("continue", "end"):
                self._expect(beams.get(number, False), "a beam goes on that did not begin")
            beams[number] = kind in ("begin", "continue")


def _written(note: ET.Element) -> Fraction:
    """Quarter notes of its type and dots, in the time of its tuplet."""
    length = _TYPES[note.findtext("type", "whole")] * (2 - Fraction(1, 1 << len(note.findall("dot"))))
    modification = note.find("time-modification")
    if modification is None:
        return length
    return length * int(modification.findtext("normal-notes", "1")) / int(modification.findtext("actual-notes", "1"))

"""A song as MusicXML 4.0: a part for each voice, bars that add up, ties, tuplets, and all it says of sound."""

from __future__ import annotations

import io
import zipfile
from math import gcd
from xml.etree import ElementTree as ET

from ...notation import VoiceNotation
from ...song import TICKS_PER_QUARTER, Song
from ...song.sounds import DEFAULT_SOUND, SOUNDS
from .elements import add_text
from .part_writer import write_part

__all__ = ["write", "write_compressed"]

_DRUM_CHANNEL = 10
_HEAD = (
    '<?xml version="1.0" encoding="UTF-8" standalone="no"?>\n'
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" '
    '"http://www.musicxml.org/dtds/partwise.dtd">\n'
)
_SCORE = "score.musicxml"
_CONTAINER = (
    '<?xml version="1.0" encoding="UTF-8"?>\n<container><rootfiles>'
    f'<rootfile full-path="{_SCORE}" media-type="application/vnd.recordare.musicxml+xml"/></rootfiles></container>\n'
)


def write(song: Song) -> bytes:
    """The song as the text of an uncompressed file, in UTF-8. Repeats are written out."""
    root = _score(song)
    ET.indent(root)
    return (_HEAD + ET.tostring(root, "unicode") + "\n").encode("utf-8")


def write_compressed(song: Song) -> bytes:
    """The song as a compressed file (``.mxl``)."""
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in (("META-INF/container.xml", _CONTAINER.encode()), (_SCORE, write(song))):
            info = zipfile.ZipInfo(name)  # with a fixed date, so that the same song gives the same bytes
            info.compress_type = zipfile.ZIP_DEFLATED
            packed.writestr(info, content)
    return data.getvalue()


def _score(song: Song) -> ET.Element:
    root = ET.Element("score-partwise", version="4.0")
    if song.title:
        add_text(ET.SubElement(root, "work"), "work-title", song.title)
    identification = ET.SubElement(root, "identification")
    if song.composer:
        add_text(identification, "creator", song.composer, type="composer")
    add_text(ET.SubElement(identification, "encoding"), "software", "Chickadee")
    listed = ET.SubElement(root, "part-list")
    notations = [VoiceNotation(song, index) for index in range(max(1, len(song.voices)))]
    divisions = _divisions(notations)
    for index, notation in enumerate(notations):
        if index < len(song.voices):
            _list_part(listed, song, index)
        else:
            add_text(ET.SubElement(listed, "score-part", id="P1"), "part-name", "Melody")
        part = ET.SubElement(root, "part", id=f"P{index + 1}")
        write_part(part, notation, divisions)
    return root


def _divisions(notations: list[VoiceNotation]) -> int:
    """The fewest parts of a quarter note in which everything that is written is whole."""
    step = TICKS_PER_QUARTER
    for notation in notations:
        for bar in notation.all_bars():
            step = gcd(step, bar.end - bar.start)
            for line in bar.lines:
                step = gcd(step, *(item.end - item.start for item in line.items))
    return TICKS_PER_QUARTER // step


def _list_part(listed: ET.Element, song: Song, index: int) -> None:
    voice = song.voices[index]
    part = ET.SubElement(listed, "score-part", id=f"P{index + 1}")
    add_text(part, "part-name", voice.name)
    program = SOUNDS.get(voice.sound, SOUNDS[DEFAULT_SOUND]).program
    channel = _DRUM_CHANNEL if voice.is_drums else index % 9 + 1
    notes = [song.notes[place] for place in song.by_voice[index].tolist()]
    by_number = {note.number: note for note in notes}
    instruments: list[tuple[str, int | None]] = [(f"P{index + 1}-I1", None)]
    if voice.is_drums and notes:
        instruments = [(f"P{index + 1}-I{number}", number) for number in sorted(by_number)]
    for identity, number in instruments:
        instrument = ET.SubElement(part, "score-instrument", id=identity)
        name = voice.sound if number is None else voice.name_of(by_number[number])
        add_text(instrument, "instrument-name", name)
    for identity, number in instruments:
        midi = ET.SubElement(part, "midi-instrument", id=identity)
        add_text(midi, "midi-channel", channel)
        add_text(midi, "midi-program", program)
        if number is not None:
            add_text(midi, "midi-unpitched", number + 1)
        add_text(midi, "pan", f"{90 * voice.pan:g}")

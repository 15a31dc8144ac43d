"""Directions of a MusicXML score: tempo, swing, marks, levels and the pedal."""

from __future__ import annotations

from collections.abc import Iterator
from xml.etree import ElementTree as ET

from ...sheet.direction import LOUDNESS
from ...song import TICKS_PER_QUARTER, Meter, Song, Tempo
from .elements import FORTE, add_text

__all__ = ["directions_of"]


def directions_of(song: Song, index: int) -> Iterator[tuple[int, ET.Element]]:
    """(tick, element) of what is said between the notes: tempo and swing in the first part, levels, pedal."""
    if not index:
        for tempo in song.tempo.tempos:
            yield from _tempo(song, tempo)
        for tick, part in song.tempo.swings:
            yield tick, _swing(part)
        for tick, words in song.marks:
            yield tick, _words("".join(c if c.isprintable() else " " for c in words))
    if index >= len(song.voices):
        return
    voice = song.voices[index]
    yield 0, _dynamics(voice.level)
    for down, up in voice.pedals:
        yield down, _pedal("start")
        yield up, _pedal("stop")


def _tempo(song: Song, tempo: Tempo) -> Iterator[tuple[int, ET.Element]]:
    meter = song.grid.meter_at(tempo.tick)
    step = TICKS_PER_QUARTER
    middle = tempo.at(tempo.tick + min(step, tempo.ramp) // 2)  # of the first part of a change
    yield tempo.tick, _metronome(tempo.quarters_per_minute, meter, middle)
    if not tempo.ramp:
        return
    end = tempo.tick + tempo.ramp
    yield tempo.tick, _words("slower" if tempo.target < tempo.quarters_per_minute else "quicker")
    for tick in range(tempo.tick + step, end, step):
        yield tick, _sound(tempo.at((tick + min(tick + step, end)) // 2))
    yield end, _metronome(tempo.target, song.grid.meter_at(end), tempo.target)


def _direction(tag: str, **attributes: str) -> tuple[ET.Element, ET.Element]:
    direction = ET.Element("direction")
    return direction, ET.SubElement(ET.SubElement(direction, "direction-type"), tag, attributes)


def _metronome(quarters: float, meter: Meter, sounding: float) -> ET.Element:
    """A tempo: beats of the meter a minute, and for players the quarter notes a minute that sound from here."""
    direction, mark = _direction("metronome")
    dotted = meter.lower == 8 and meter.pulse_beats == 3
    unit = {1: "whole", 2: "half", 4: "quarter", 8: "eighth", 16: "16th", 32: "32nd"}.get(meter.lower, "quarter")
    add_text(mark, "beat-unit", "quarter" if dotted else unit)
    if dotted:
        ET.SubElement(mark, "beat-unit-dot")
    beats = quarters / 1.5 if dotted else quarters * meter.lower / 4
    add_text(mark, "per-minute", f"{round(beats, 3):g}")
    ET.SubElement(direction, "sound", tempo=f"{round(sounding, 6):.10g}")
    return direction


def _sound(quarters: float) -> ET.Element:
    direction, _ = _direction("words")
    ET.SubElement(direction, "sound", tempo=f"{round(quarters, 6):.10g}")
    return direction


def _words(word: str) -> ET.Element:
    direction, words = _direction("words")
    words.text = word
    return direction


def _swing(part: float) -> ET.Element:
    direction, words = _direction("words")
    words.text = f"swing {round(100 * part, 3):g}%"
    swing = ET.SubElement(ET.SubElement(direction, "sound"), "swing")
    thousandths = round(1000 * part)
    add_text(swing, "first", thousandths)
    add_text(swing, "second", 1000 - thousandths)
    add_text(swing, "swing-type", "eighth")
    return direction


def _dynamics(level: int) -> ET.Element:
    direction, dynamics = _direction("dynamics")
    name = min(LOUDNESS, key=lambda name: abs(LOUDNESS[name] - level))
    ET.SubElement(dynamics, name)
    ET.SubElement(direction, "sound", dynamics=f"{100 * level / FORTE:.2f}")
    return direction


def _pedal(kind: str) -> ET.Element:
    direction, _ = _direction("pedal", type=kind, line="yes")
    ET.SubElement(direction, "sound", {"damper-pedal": "yes" if kind == "start" else "no"})
    return direction

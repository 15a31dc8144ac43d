"""Any song that one sheet can hold, as hypothesis makes them: no text stands behind it."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import strategies as st

from chickadee.song import BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from chickadee.song.drums import DRUM_SOUND
from chickadee.song.sounds import SOUNDS
from chickadee.theory import Pitch, read_key

QUARTER = 8_064_000
METERS = [Meter(4, 4), Meter(3, 4), Meter(6, 8), Meter(5, 16), Meter(2, 2), Meter(7, 8), Meter(1, 1)]
KEYS = [read_key(name) for name in ("C major", "F# minor", "Bb dorian", "C D E G A", "Ab harmonic minor")]
_lengths = st.sampled_from([Fraction(n, d) for n in (1, 2, 3, 5, 7, 16) for d in (1, 2, 3, 4, 5, 7, 8, 1000)]).map(
    lambda quarters: int(quarters * QUARTER)
)
_ticks = st.one_of(_lengths, st.integers(1, 40 * QUARTER))
_loudness = st.sampled_from([1, 33, 49, 64, 80, 96, 112, 127, 90, 5])
_words = st.sampled_from(["", "", "", "la", "lo-", "ho’", "_x"])
_text = (
    st.text(max_size=12)
    .map(lambda text: " ".join("".join(c if c.isprintable() else " " for c in text).split()))
    .filter(lambda text: "//" not in text)
)
_names = st.sampled_from(["Whistle", "Bells 2", "x", "Low & high", "Ärger", "rest", "C4"])


@st.composite
def _struck(draw, index, start, length, drums, key):
    """One note, or several that can be written with one word."""
    numbers = draw(st.lists(st.integers(0, 127), min_size=1, max_size=4, unique=True).map(sorted))
    base = draw(_loudness)
    syllable = draw(_words)
    marks = [(draw(st.booleans()), draw(st.booleans())) for _ in numbers]
    marks[draw(st.integers(0, len(marks) - 1))] = (all(a for a, _ in marks), all(s for _, s in marks))
    notes = []
    for number, (accent, short) in zip(numbers, marks, strict=True):
        pitch = key.spell(number)
        if not drums and draw(st.booleans()):
            others = [
                Pitch(letter, sign, octave)
                for letter in "CDEFGAB"
                for sign in (-2, -1, 0, 1, 2)
                for octave in range(-2, 11)
            ]
            pitch = draw(st.sampled_from([each for each in others if each.number == number]))
        loudness = min(127, base + 16) if accent and not all(a for a, _ in marks) else base
        notes.append(Note(start, index, length, pitch, number, loudness, short, (), syllable))
    return notes


@st.composite
def _changes(draw, end, values, most=3):
    ticks = sorted(draw(st.sets(st.integers(1, max(1, end)), max_size=most))) if end else []
    return tuple((tick, draw(values)) for tick in ticks)


@st.composite
def _tempos(draw, end):
    found = [Tempo(0, float(draw(st.sampled_from([60, 92, 120, 61.5, 4.5, 2000, 7]))))]
    for tick in sorted(draw(st.sets(st.integers(0, end), max_size=3))):
        start = found[-1].at(tick)
        ramp = draw(st.sampled_from([0, 0, QUARTER, 3 * QUARTER // 7]))
        stepped = not ramp or draw(st.booleans())
        tempo = Tempo(
            tick,
            float(draw(st.integers(20, 300))) if stepped else start,
            ramp,
            float(draw(st.integers(20, 300))) if ramp else 0.0,
        )
        if found[-1].tick == tick:
            found.pop()
        found.append(tempo)
    return found


@st.composite
def songs(draw, voices=3):
    """A song whose voices can each be written as one."""
    keys = st.sampled_from(KEYS)
    opening_key = draw(keys)
    made = []
    lines = []
    for index in range(draw(st.integers(0, voices))):
        sound = draw(st.sampled_from([DRUM_SOUND, *SOUNDS]))
        line = []
        here = 0
        for _ in range(draw(st.integers(0, 6))):
            length = draw(_ticks)
            if draw(st.integers(0, 3)):
                line += draw(_struck(index, here, length, sound == DRUM_SOUND, opening_key))
            here += length
        lines += line
        downs = sorted(draw(st.sets(st.integers(0, max(0, here - 1)), max_size=4))) if here else []
        pedals = tuple((a, b) for a, b in zip(downs[::2], downs[1::2], strict=False))
        made.append(Voice(
            f"{draw(_names)} {index}", sound, draw(st.integers(-100, 100)) / 100, draw(_loudness), draw(st.sampled_from([0.03, 0.0, 0.125])),
            draw(st.sampled_from([None, (40, 80)])), draw(st.sampled_from([None, frozenset({-12, -5, 60})])),
            draw(_changes(here, st.sampled_from(list(SOUNDS)), 2)), pedals, here,
        ))  # fmt: skip
    end = max((voice.end for voice in made), default=0)
    meter = draw(st.sampled_from(METERS))
    pickup = draw(st.integers(0, meter.upper - 1)) * meter.beat_ticks
    swings = [(0, draw(st.sampled_from([0.6, 0.575])))] if draw(st.booleans()) else []
    return Song(
        draw(_text), draw(_text), tuple(made), tuple(sorted(lines, key=lambda note: (note.start, note.voice, note.number))),
        BarGrid(((0, meter), *draw(_changes(end, st.sampled_from(METERS)))), pickup),
        ((0, opening_key), *draw(_changes(end, keys))),
        TempoMap(draw(_tempos(end)) if made else [Tempo(0, 90.0)], [*swings, *draw(_changes(end, st.sampled_from([0.5, 2 / 3, 0.7]), 2))], pickup),
        draw(st.sampled_from([440.0, 442.5])),
        draw(_changes(end, st.sampled_from(["gate opens", "Glocke läutet", "1"]))),
    )  # fmt: skip

"""Sheets of every kind, for properties that hold of any sheet."""

from __future__ import annotations

from hypothesis import strategies as st

__all__ = ["faulty_sheets", "sheets"]

SIGNS = st.sampled_from([
    "C4", "f#3", "Bb5", "G♯4", "E", "bb", "B#3", "60", "71=1/2", "^1", "^5", "^4#", "440Hz", "rest", ".", "-", "-=2", "C4&E4&G4",
    "{Am}", "{G7/B}=2", "{F#dim 3}", "{Caug rising}=3", "{Am there and back by 1/3}=3", "{C strum}&C5", "=x", "H4", "C4=third",
    ">C4", "'D4", "|", "(C4 E4)=2", "(G A B) x2", "[mf]", "[key D minor]", "[key F# major]", "[meter 3/4]", "[pedal]", "p", "q",
    "p up 5", "q down 2 steps", "(p) upside-down", "p on ^1 ^3", "(q backwards) x2", "q stretched 2", "p up 1 octave", "// p q",
])  # fmt: skip
LINES = st.lists(SIGNS, max_size=7).map(" ".join)
HEADS = st.sampled_from(
    [
        "",
        "key: G major\n",
        "key: Eb minor\n",
        "key: a minor pentatonic\n",
        "octave: 5\n",
        "key: C D E G A\noctave: 3\n",
    ]
)
VOICES = st.lists(
    st.tuples(st.sampled_from(["", "octave: 3\n", "range: C3 to C6\n", "sound: drum kit\n"]), LINES),
    min_size=1,
    max_size=3,
)


@st.composite
def sheets(draw):
    """A sheet with phrases, some of them used by several voices, drums among them."""
    parts = [draw(HEADS)]
    for name in "pq":
        own = draw(st.sampled_from(["", "octave: 5\n"]))
        line = draw(LINES) if name == "p" else draw(LINES).replace("q", "p")
        parts.append(f"phrase {name}\n{own}{line.replace('p', '') if name == 'p' else line}\n")
    for index, (properties, line) in enumerate(draw(VOICES)):
        parts.append(f"voice V{index}\n{properties}{line}\n")
    return "".join(parts)


FAULTS = st.sampled_from([
    "C4", "D4", "G4=2", "A4=1/2", "|", "C4 D4 E4 F4 |", "rest", "-", "(C4 E4)=2", "p", "p up 5", "(p) backwards", "{Am}",
    "C4:2,", "R", "CEG", "CEXG", "C,E", "C4 = 2", "200", "C4=0", "664", "C44", "2", "0", "C4 x3", "{C", "[tempo 90 C4", "(C4", "D4)",
    "C4=0.33", "444Hz", "kick", "Gs4", "r:1", "C4&C4", "[tempo 500000]", "[slow to 300 over 4]", "|:", ":|", "cal", "[60, 62]",
    "gab", "ab", "C4.", "C4=2&E4", "[mff]", "^5", "440Hz",
])  # fmt: skip
FAULTY_LINES = st.lists(FAULTS, max_size=7).map(" ".join)
FAULTY_HEADS = st.sampled_from([
    "", "ticks: 4\n", "key: H major\n", "tempo: 92bpm\n", "pickup: 5\n", "meter: 3-4\n", "bpm: 90\n", "tempo: 90\ntempo: 80\n",
])  # fmt: skip
FAULTY_PROPERTIES = st.sampled_from(
    [
        "",
        "range: C4 to C5\n",
        "sound: piano\n",
        "sound: drum kit\n",
        "allow: C D E G A\n",
        "level: loud\n",
        "soud: flute\n",
    ]
)


@st.composite
def faulty_sheets(draw):
    """A sheet with slips of every kind."""
    parts = [draw(FAULTY_HEADS), f"phrase p\n{draw(FAULTY_LINES).replace('p', '')}\n"]
    parts.append(f"phrase {draw(st.sampled_from(['call', 'A1']))}\n{draw(FAULTY_LINES)}\n")
    for index in range(draw(st.integers(1, 2))):
        parts.append(f"voice V{index}\n{draw(FAULTY_PROPERTIES)}{draw(FAULTY_LINES)}\n")
    return "".join(parts)

"""A tune as a page that plays: one HTML file with its sound, its drawing and its script, which asks nothing of any
network."""

from __future__ import annotations

import base64
import hashlib
import json
from collections.abc import Collection
from dataclasses import dataclass
from importlib.resources import files
from typing import TYPE_CHECKING

from ..display.key_layout import LETTER_ROWS, number_at
from ..display.palette import DAY, EVENING, Theme
from ..display.rows import USUAL_ROWS
from ..display.scene import Scene
from ..display.words import counts
from ..faults import InputFault
from ..handout.bars import bars_of
from ..handout.pages import pages_of
from ..handout.request import Gaps, Request
from ..handout.svg import inline_svg_of
from ..handout.worksheet import gaps_in
from ..sheet import Reading
from ..song import Song
from ..theory import Key
from .clips import Clips, clips_of
from .timeline import BLACK_KEYS, Timeline, text

if TYPE_CHECKING:
    from ..programs.writing.written import WrittenProgram

__all__ = ["LONGEST_SECONDS", "SHOWN", "PageChoices", "PageFault", "choices_for", "playing_page"]

LONGEST_SECONDS = 1200.0
"""Of a tune that a page may hold."""
SHOWN = {"staff": "The staff", "keyboard": "A keyboard", "words": "The words", "program": "The tune as a program"}
"""The parts that may stand on a page beside the timeline, by the names that the command line gives them."""
# letters on notes, whose colours are dark by day and light in the evening
_ON_DARK = "#ffffff"
_ON_LIGHT = "#14171b"
_COLOURS = ("paper", "page", "ink", "grey", "line", "shade", "transport", "transport_button", "transport_ink",
            "transport_grey", "accent", "accent_text", "right", "wrong", "black_key", "white_key")  # fmt: skip


class PageFault(InputFault):
    """A tune cannot be made a page that plays; the text says why in one sentence."""


@dataclass(frozen=True, slots=True)
class PageChoices:
    """The choices for a page that plays."""

    rows: tuple[str, ...] = USUAL_ROWS
    """The titles of its reading rows."""
    staff: bool = False
    keyboard: bool = True
    program: WrittenProgram | None = None
    """The tune as a program, whose lines are lit."""
    gaps: Gaps | None = None
    """The cells that the reader fills in."""
    print_pages: bool = True
    """True if it prints as the handout of the tune does."""


def choices_for(reading: Reading, show: Collection[str], gaps: Gaps | None = None) -> PageChoices:
    """The choices by the names of SHOWN. Raises InputFault where the tune cannot be said as a program."""
    has_words = any(note.syllable for note in reading.song.notes)
    rows = (*USUAL_ROWS, "Words") if "words" in show and has_words else USUAL_ROWS
    program = _as_program(reading) if "program" in show and reading.song.notes else None
    return PageChoices(rows, "staff" in show, "keyboard" in show, program, gaps)


def _as_program(reading: Reading) -> WrittenProgram:
    from ..programs.writing.catalogue import shipped  # loaded with the first program
    from ..programs.writing.dialect import Level
    from ..programs.writing.written import Writing

    return Writing(reading, range(len(reading.song.voices)), shipped()["steps"]).program(Level.REPEATS)


def playing_page(reading: Reading, choices: PageChoices = PageChoices()) -> str:
    """The HTML text of a page that plays. Raises PageFault where the tune has no notes or is too long."""
    song = reading.song
    if not song.notes:
        raise PageFault("a page that plays needs at least one note")
    if song.seconds > LONGEST_SECONDS:
        raise PageFault(f"a page that plays holds {LONGEST_SECONDS / 60:.0f} minutes at most; choose some bars")
    front = song.notes[0].voice
    title = song.title or "Tune"
    timeline = Timeline(Scene(reading, front), choices.rows, _gaps(song, front, choices))
    clips = clips_of(song)
    script = _resource("page.js")
    body = [
        _transport(title, counts(song)),
        _controls(song, bool(timeline.gaps)),
        _timeline(timeline),
        _staff(song, front, title) if choices.staff and not song.voices[front].is_drums else "",
        _program(song, choices.program) if choices.program is not None else "",
        _keyboard(song, front) if choices.keyboard and not song.voices[front].is_drums else "",
        f'<script type="application/json" id="tune">{_data(song, clips)}</script>',
        f"<script>{script}</script>",
    ]
    printed = _printed(song, front, title) if choices.print_pages else ""
    return "\n".join(
        (
            "<!DOCTYPE html>",
            '<html lang="en">',
            "<head>",
            '<meta charset="utf-8">',
            _policy(script),
            '<meta name="viewport" content="width=device-width, initial-scale=1">',
            f"<title>{text(title)}</title>",
            f"<style>{_style()}</style>",
            "</head>",
            "<body>",
            '<main class="screen">',
            *filter(None, body),
            "</main>",
            f"{printed}</body>",
            "</html>",
            "",
        )
    )


def _style() -> str:
    evening = f"@media (prefers-color-scheme: dark) {{ {_colours(EVENING, _ON_LIGHT)} }}"
    return "\n".join((_colours(DAY, _ON_DARK), evening, _resource("page.css")))


def _resource(name: str) -> str:
    return files(__package__).joinpath(name).read_text("utf-8")


def _policy(script: str) -> str:
    """The policy by which a browser lets the page ask for nothing, and run no script but its own."""
    known = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()
    policy = (
        f"default-src 'none'; script-src 'sha256-{known}'; style-src 'unsafe-inline'; media-src blob:; "
        "base-uri 'none'; form-action 'none'"
    )
    return f'<meta http-equiv="Content-Security-Policy" content="{policy}">'


def _colours(theme: Theme, on_note: str) -> str:
    named = {name.replace("_", "-"): getattr(theme, name) for name in _COLOURS}
    named["on-note"] = on_note
    named |= {f"v{place}": colour for place, colour in enumerate(theme.voices)}
    return ":root { " + " ".join(f"--{name}: {colour};" for name, colour in named.items()) + " }"


def _gaps(song: Song, front: int, choices: PageChoices) -> frozenset[tuple[str, int]]:
    """The cells that are filled in, by the rule of worksheets."""
    if choices.gaps is None:
        return frozenset()
    bars = bars_of(song, front)
    empty = gaps_in(bars, choices.gaps)
    cells = [cell for bar in bars for cell in bar.cells if not cell.goes_on]
    return frozenset((row, cell.start) for cell in cells for row in choices.rows if (row, cell.index) in empty)


def _transport(title: str, facts: str) -> str:
    return (
        f'<header><div class="title"><h1>{text(title)}</h1><p>{text(facts)}</p></div>'
        '<div class="transport"><button id="play" type="button" aria-pressed="false">Play</button>'
        '<button id="stop" type="button">Back to the start</button>'
        '<label>Speed <input id="speed" type="number" min="25" max="150" step="5" value="100"> %</label></div>'
        '<div id="readout" aria-live="off"><b id="name">–</b><span id="number"></span><span id="hertz"></span>'
        '<span id="place"></span></div></header>'
    )


def _controls(song: Song, with_gaps: bool) -> str:
    last = song.last_bar
    first = song.first_bar
    voices = ""
    if len(song.voices) > 1:
        boxes = "".join(
            f'<label class="voice v{place % 8}"><input type="checkbox" data-voice="{place}" checked>'
            f"{text(voice.name)}</label>"
            for place, voice in enumerate(song.voices)
        )
        voices = f"<fieldset><legend>Voices</legend>{boxes}</fieldset>"
    practice = (
        '<label>Practice <select id="practice"><option value="">Everything shown</option>'
        '<option value="names">Names hidden</option><option value="numbers">Numbers hidden</option>'
        '<option value="ask">What is this note?</option></select></label>'
    )
    gaps = '<p id="score" role="status"></p>' if with_gaps else ""
    return (
        f'<section class="controls"><label><input id="round" type="checkbox"> Round and round</label>'
        f'<label>from bar <input id="from" type="number" min="{first}" max="{last}" value="{first}"></label>'
        f'<label>to bar <input id="to" type="number" min="{first}" max="{last}" value="{last}"></label>'
        f"{voices}{practice}{gaps}"
        '<form id="question" hidden><label>What is this note? <input id="answer" autocomplete="off" '
        'spellcheck="false"></label><button>Check</button><span id="verdict" role="status"></span></form></section>'
    )


def _timeline(timeline: Timeline) -> str:
    return (
        '<section class="timeline"><div class="left">'
        f'{timeline.keys()}{timeline.titles()}</div><div id="scroll" tabindex="0" aria-label="Timeline">'
        f'<div class="wide" style="width:{timeline.width:.1f}px">{timeline.roll()}{timeline.reading_rows()}</div>'
        "</div></section>"
    )


def _staff(song: Song, front: int, title: str) -> str:
    request = Request(title=title, voice=front, for_pupils=False)
    return f'<section class="staff">{_drawn("staff", song, request, title, whole=False)}</section>'


def _drawn(kind: str, song: Song, request: Request, title: str, whole: bool = True) -> str:
    """The pages of a kind as pictures inside this one."""
    pages = pages_of(kind, song, request)
    return "".join(inline_svg_of(page, title, whole) for page in pages)


def _printed(song: Song, front: int, title: str) -> str:
    request = Request(title=title, voice=front)
    return f'<div class="printed" aria-hidden="true">{_drawn("tune", song, request, title)}</div>\n'


def _program(song: Song, program: WrittenProgram) -> str:
    """The program's lines, each with the seconds at which it is at work."""
    times: dict[int, list[str]] = {}
    for each in program.performance.performed:
        start, end = song.tempo.seconds([each.tick, each.end])
        for line in {each.line, *(around.line for around in each.around)}:
            times.setdefault(line, []).append(f"{start:.3f} {end:.3f}")
    lines = "".join(
        f'<li data-times="{",".join(times.get(number, ()))}"><code>{text(line) or " "}</code></li>'
        for number, line in enumerate(program.text.splitlines(), start=1)
    )
    return f'<section class="program"><h2>As a program</h2><ol>{lines}</ol></section>'


def _keyboard(song: Song, front: int) -> str:
    """Keys for the tune's pitches; the computer's own keys follow the scale."""
    numbers = [note.number for note in song.notes if note.voice == front]
    low = min(numbers) // 12 * 12 if max(numbers) - min(numbers) > 12 else min(numbers) - min(numbers) % 12
    high = max(max(numbers), low + 12)
    by_key = _computer_keys(song.key, (min(numbers) + max(numbers)) // 24 - 1)
    keys = []
    for number in range(low, high + 1):
        name = text(song.naming.pitch_pretty(song.key.spell(number)))
        letter = by_key.get(number, "")
        kind = "black" if number % 12 in BLACK_KEYS else "white"
        keys.append(
            f'<button type="button" class="key {kind}" data-number="{number}" data-key="{letter}">'
            f"<span>{letter}</span><b>{name}</b>{number}</button>"
        )
    return f'<section id="keys" aria-label="Keys">{"".join(keys)}</section>'


def _computer_keys(key: Key, octave: int) -> dict[int, str]:
    """The letters that play MIDI numbers: the home row is the scale, the row above it the same raised."""
    found: dict[int, str] = {}
    for row, letters in sorted(LETTER_ROWS, key=lambda each: abs(each[0])):
        for column, letter in enumerate(letters):
            number = number_at(key, octave, (row, column))
            if number is not None:
                found.setdefault(number, letter)
    return found


def _data(song: Song, clips: Clips) -> str:
    """The script's data, as JSON that closes no element."""
    data = {
        "rate": clips.rate,
        "sound": base64.b64encode(clips.data).decode(),
        "clips": clips.clips,
        "voices": clips.voices,
        "frames": clips.frames,
        "seconds": round(float(song.seconds), 4),
        "names": _spellings(song),
        "tuning": song.tuning,
        "drums": [place for place, voice in enumerate(song.voices) if voice.is_drums],
    }
    return json.dumps(data, separators=(",", ":")).replace("<", "\\u003c")


def _spellings(song: Song) -> dict[int, list[str]]:
    """The names under which each MIDI number of the tune is right as an answer."""
    found: dict[int, list[str]] = {}
    for note in song.notes:
        pitch = note.pitch
        names = found.setdefault(note.number, [])
        for name in (song.naming.pitch_text(pitch), song.naming.pitch_pretty(pitch)):
            if name not in names:
                names.append(name)
    return found

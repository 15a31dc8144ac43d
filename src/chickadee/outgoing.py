"""Output: a tune written to a file, in the form that its suffix names."""

from __future__ import annotations

from pathlib import Path

from .files import FileFault, as_reason, replacing, write_text
from .formats.forms import FORMS, WRITTEN
from .formats.imported import Form
from .formats.smf import InexactError
from .sheet import Reading
from .sheet.writing import write_song
from .song import Song

__all__ = ["check_rate", "song_of", "write", "write_song_file"]

_SHEET = next(form.suffix for form in FORMS if form.reads_as is Form.SHEET)
_LOWEST_RATE = 1_000  # frames a second
_HIGHEST_RATE = 384_000


def write(
    tune: Reading | Song,
    path: str | Path,
    *,
    rate: int = 48_000,
    bits: int | str = "16",
    room: bool = False,
    fade: float = 0.0,
) -> None:
    """Write a tune to a file of any form but a page that plays, in place of one that is there.

    The suffix names the form; the other choices are of sound. Raises FileFault, and then an old file is whole;
    TypeError and ValueError.
    """
    if not isinstance(path, str | Path):
        raise TypeError(f"write takes a file's name, not {type(path).__name__}")
    path = Path(path)
    song = song_of(tune, "write")
    suffix = path.suffix.lower()
    if isinstance(tune, Reading) and tune.too_large and suffix != _SHEET:
        raise FileFault(path, f"it was not written: {as_reason(tune.too_large)}")
    if suffix == _SHEET:
        write_text(path, tune.text if isinstance(tune, Reading) else write_song(song))
    elif suffix not in WRITTEN or WRITTEN[suffix].is_page:
        raise FileFault(path, f"its suffix names no form that is written; there are {', '.join((_SHEET, *WRITTEN))}")
    elif WRITTEN[suffix].is_sound:
        _write_sound(path, song, rate, str(bits), room, fade)
    else:
        write_song_file(song, path)


def _write_sound(path: Path, song: Song, rate: int, bits: str, room: bool, fade: float) -> None:
    from .sound.audio_file import BITS, AudioSettings, write_audio

    if bits not in BITS:
        raise ValueError(f"bits is one of {', '.join(BITS)}, not {bits}")
    if fade < 0:
        raise ValueError(f"fade is a number of seconds from 0 on, not {fade}")
    write_audio(path, song, AudioSettings(check_rate(rate), bits, room, fade))


def check_rate(rate: int) -> int:
    """A rate that sound is made at, in frames a second. Raises TypeError and ValueError."""
    if not isinstance(rate, int):
        raise TypeError(f"rate is a whole number of frames a second, not {type(rate).__name__}")
    if not _LOWEST_RATE <= rate <= _HIGHEST_RATE:
        raise ValueError(f"rate is from {_LOWEST_RATE:,} to {_HIGHEST_RATE:,} frames a second, not {rate:,}")
    return rate


def write_song_file(song: Song, path: Path) -> None:
    """Write a song as a MIDI file, a score or a table, by the suffix, one of WRITTEN.

    Raises FileFault, also for lengths that no MIDI file holds.
    """
    write = WRITTEN[path.suffix.lower()].write
    assert write is not None
    try:
        data = write(song)
    except InexactError as fault:
        raise FileFault(path, f"{fault}; the findings show where") from None
    with replacing(path) as new:
        new.write_bytes(data)


def song_of(tune: Reading | Song, what: str) -> Song:
    """The song that a library function is given as ``what`` it is called. Raises TypeError for anything else."""
    if isinstance(tune, Reading):
        return tune.song
    if isinstance(tune, Song):
        return tune
    raise TypeError(f"{what} takes a reading or a song, not {type(tune).__name__}")

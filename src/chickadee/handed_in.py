"""Work that a class has handed in: files, folders of any depth and zips, and who has handed in nothing."""

from __future__ import annotations

import io
import os
import re
import unicodedata
import zipfile
import zlib
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path, PurePosixPath
from typing import NamedTuple

from .checks import PROFILE_FILE
from .files import LARGEST_SHEET, FileFault, is_file, is_folder, printable, read_bytes, read_text
from .formats.imported import Form

__all__ = ["HandedIn", "Skipped", "Source", "handed_in", "names_in", "without_work"]

_ZIP = ".zip"
_MOST_FILES = 5_000
_MOST_DEPTH = 12  # folders inside one another
_MOST_ZIPS = 2  # zips inside one another
_LARGEST_ZIP = 256 << 20  # bytes
_MOST_UNPACKED = 128 << 20  # bytes of all files of a zip
_MOST_NAMES = 2_000
_LONGEST_NAME = 100
_OF_THE_SYSTEM = frozenset(("__macosx", "thumbs.db", "desktop.ini", "__pycache__"))
_BESIDE = (".target.toml", ".recipe.toml", "programs.toml")
_NOTHING_ELSE = "there are no attempts in this folder"


@dataclass(frozen=True, slots=True)
class Source:
    """Where an attempt comes from."""

    name: str
    """Its name: its path inside the folder or zip that was handed in, or the name of a pasted text."""
    path: Path | None = None
    """The file it is in, or the zip that it is in."""
    data: bytes | None = None
    """Its content, where it is in no file of its own."""
    form: Form | None = None
    """Its form, where its content does not say."""
    label: str = ""
    """The name of whoever handed it in: the folder that holds nothing else, or the file's name."""
    beside: Path | None = None
    """The folder of the tune, whose own targets may have written it."""

    @property
    def key(self) -> tuple[str, str]:
        """A key that no other attempt has."""
        return str(self.path or ""), self.name


class Skipped(NamedTuple):
    """A file that is no attempt."""

    name: str
    sentence: str
    """Why it was left out."""


@dataclass(slots=True)
class HandedIn:
    """All that was handed in."""

    sources: list[Source] = field(default_factory=list)
    skipped: list[Skipped] = field(default_factory=list)


def handed_in(paths: Iterable[Path | str], model: Path | None = None, form: Form | None = None) -> HandedIn:
    """Gather the files named, and those in the folders and zips named, without the model itself. Raises FileFault.

    Nothing is unpacked to a disk.
    """
    found = HandedIn()
    several = list(map(Path, paths))
    for path in several:
        into = HandedIn()
        if is_folder(path):
            _take_folder(path, model, into)
            if not into.sources:
                raise FileFault(path, _NOTHING_ELSE)
        elif path.suffix.lower() == _ZIP and form is None and is_file(path):
            _take_zip(read_bytes(path, _LARGEST_ZIP), path, "", into)
            if not into.sources:
                reason = into.skipped[0].sentence if into.skipped else "there is nothing in it"
                raise FileFault(path, f"there are no attempts in this zip: {reason}")
        else:
            into.sources.append(Source(str(path), path))
        if len(several) > 1 and is_folder(path):
            into.sources = [replace(each, name=f"{path.name}/{each.name}") for each in into.sources]
        found.sources += _labelled(into.sources)
        found.skipped += into.skipped
    beside = model.parent if model is not None else None
    found.sources = [replace(each, form=form, beside=beside) for each in found.sources]
    return found


def _take_folder(folder: Path, model: Path | None, into: HandedIn) -> None:
    for path in _files_below(folder, into):
        name = path.relative_to(folder).as_posix()
        if (reason := _reason_to_skip(PurePosixPath(name))) is not None:
            into.skipped.append(Skipped(name, reason))
        elif model is not None and is_file(model) and path.samefile(model):
            continue
        elif path.suffix.lower() == _ZIP:
            try:
                _take_zip(read_bytes(path, _LARGEST_ZIP), path, f"{name}/", into)
            except FileFault as fault:
                into.skipped.append(Skipped(name, _sentence(fault.reason)))
        else:
            into.sources.append(Source(name, path))


def _files_below(folder: Path, into: HandedIn) -> Iterator[Path]:
    """The regular files in a folder and in those below it, by name; links to folders are not followed."""
    count = 0
    for place, folders, files in os.walk(folder):
        here = Path(place)
        depth = len(here.relative_to(folder).parts)
        folders[:] = sorted(each for each in folders if not _is_hidden(each)) if depth < _MOST_DEPTH else []
        for name in sorted(files):
            path = here / name
            if path.is_symlink() and not path.exists():
                continue
            if not path.is_file():
                into.skipped.append(Skipped(path.relative_to(folder).as_posix(), "It is no file."))
                continue
            count += 1
            if count > _MOST_FILES:
                into.skipped.append(
                    Skipped("…", f"There are more than {_MOST_FILES:,} files; the rest are left out.")
                )
                return
            yield path


def _take_zip(data: bytes, path: Path, prefix: str, into: HandedIn, depth: int = 0) -> None:
    """The files in a zip; ``prefix`` goes before their names."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError):
        into.skipped.append(Skipped(prefix.rstrip("/") or path.name, "This zip is damaged."))
        return
    left = _MOST_UNPACKED
    with archive:
        for count, info in enumerate(archive.infolist()):
            if count >= _MOST_FILES or left < 0:
                into.skipped.append(Skipped(f"{prefix}…", "This zip holds too much; the rest is left out."))
                return
            if info.is_dir():
                continue
            name = _inside(info.filename)
            if (reason := _reason_to_skip(PurePosixPath(name))) is not None:
                into.skipped.append(Skipped(prefix + name, reason))
                continue
            member = _member(archive, info)
            if isinstance(member, str):
                into.skipped.append(Skipped(prefix + name, member))
                continue
            left -= len(member)
            if name.lower().endswith(_ZIP) and depth + 1 < _MOST_ZIPS:
                _take_zip(member, path, f"{prefix}{name}/", into, depth + 1)
            else:
                into.sources.append(Source(prefix + name, path, member))


def _member(archive: zipfile.ZipFile, info: zipfile.ZipInfo) -> bytes | str:
    """Read a file of a zip; a sentence where it cannot be read."""
    if info.flag_bits & 1:
        return "It is locked with a password."
    if info.file_size > LARGEST_SHEET:
        return f"It is larger than {LARGEST_SHEET >> 20} MB."
    try:
        with archive.open(info) as file:
            data = file.read(LARGEST_SHEET + 1)
    except (zipfile.BadZipFile, zlib.error, OSError, EOFError, ValueError, NotImplementedError, RuntimeError):
        return "It is damaged in the zip."
    return data if len(data) <= LARGEST_SHEET else f"It is larger than {LARGEST_SHEET >> 20} MB."


def _inside(name: str) -> str:
    """A file's path inside a zip, without what would lead out of it."""
    parts = [part for part in printable(name.replace("\\", "/")).split("/") if part not in ("", ".", "..")]
    return "/".join(parts)[:500] or "nameless"


def _reason_to_skip(path: PurePosixPath) -> str | None:
    """Why a file is no attempt by its name; None where it may be one."""
    name = path.name.lower()
    if any(_is_hidden(part) for part in path.parts):
        return "It is a file of the system."
    if name == PROFILE_FILE or name.endswith(_BESIDE):
        return "It is about the folder."
    return None


def _is_hidden(name: str) -> bool:
    return name.startswith((".", "~$")) or name.lower() in _OF_THE_SYSTEM


def _sentence(reason: str) -> str:
    return f"{reason[:1].upper()}{reason[1:].rstrip('.')}."


def _labelled(sources: Sequence[Source]) -> list[Source]:
    """The sources with what each is called: by its folder where there is one for each pupil, else by its file."""
    paths = [PurePosixPath(each.name) for each in sources]
    owners = [
        path.parent.as_posix() if each.path is not None and len(path.parts) > 1 else ""
        for each, path in zip(sources, paths, strict=True)
    ]
    many = Counter(each for each in owners if each)
    found = []
    for source, path, owner in zip(sources, paths, owners, strict=True):
        alone = many[owner] == 1 and len(many) > 1
        found.append(replace(source, label=PurePosixPath(owner).name.removesuffix(_ZIP) if alone else path.stem))
    return found


# The class


def names_in(path: Path | str) -> list[str]:
    """The names in a list of a class, a line each. Raises FileFault.

    Of a table the first column counts; numbers before a name and empty lines do not.
    """
    names = []
    for line in read_text(path).split("\n")[:_MOST_NAMES]:
        name = re.split(r"[;\t]", re.sub(r"^\s*[0-9]{1,3}[.)]?\s+", "", line))[0]
        name = " ".join(printable(name).replace('"', " ").split())[:_LONGEST_NAME]
        if name and name not in names:
            names.append(name)
    if not names:
        raise FileFault(path, "there are no names in it; it is to have one in each line")
    return names


def without_work(names: Sequence[str], sources: Sequence[Source]) -> list[str]:
    """Those of a class whose names are in no attempt's path.

    >>> without_work(["Otter, Small", "Heron"], [Source("small otter/tune.py")])
    ['Heron']
    """
    handed = [_words(source.name) for source in sources]
    return [name for name in names if not any(_words(name) <= words for words in handed)]


def _words(text: str) -> frozenset[str]:
    """The words of a name, in small letters without accents."""
    plain = unicodedata.normalize("NFKD", text.replace("ß", "ss")).casefold()
    plain = "".join(letter for letter in plain if not unicodedata.combining(letter))
    return frozenset(re.findall(r"[^\W_]+", plain))

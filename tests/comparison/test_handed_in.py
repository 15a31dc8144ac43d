"""What a class hands in, in the forms of classes: who is right is never blamed, and what is not read is said."""

from __future__ import annotations

import io
import zipfile
from fractions import Fraction

import pytest
from handed_forms import FORMS
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.attempts import attempt_of, judging
from chickadee.boards.catalogue import shipped, target_called
from chickadee.boards.fitting import fitted
from chickadee.boards.packing import packed
from chickadee.comparison import Model, Verdict, best_reading
from chickadee.files import FileFault
from chickadee.handed_in import Source, handed_in, names_in, without_work
from chickadee.incoming import read_data

F = Fraction
TUNES = {
    "plain": [(67, F(1)), (69, F(1)), (71, F(1, 2)), (72, F(1, 2)), (74, F(2)), (71, F(1)), (69, F(1)), (67, F(3))],
    "rests": [(62, F(1)), (None, F(1)), (66, F(1, 2)), (69, F(1, 2)), (None, F(1)), (70, F(2)), (62, F(1)), (64, F(1)),
              (62, F(2))],
    "dotted": [(60, F(3, 2)), (64, F(1, 2)), (67, F(1)), (65, F(1)), (None, F(2)), (72, F(1)), (71, F(1)), (72, F(4))],
}  # fmt: skip


def model_of(tune) -> Model:
    return Model(read(" ".join(f"{'rest' if number is None else number}={beats}" for number, beats in tune)).song)


def judged(model: Model, text: str | bytes, name: str = "x.txt"):
    data = text if isinstance(text, bytes) else text.encode()
    (result,) = dict(judging(model, [Source(name, data=data)]).results()).values()
    return attempt_of(Source(name, data=data), result)


@pytest.mark.parametrize("tune", TUNES)
def test_a_tune_that_is_right_is_right_in_every_form_of_a_class(tune):
    model = model_of(TUNES[tune])
    verdicts = {}
    for form, (suffix, write) in FORMS.items():
        attempt = judged(model, write(TUNES[tune]), f"x{suffix}")
        verdicts[form] = attempt.comparison.sentence
    assert verdicts == dict.fromkeys(FORMS, "Right.")


@pytest.mark.parametrize("tune", TUNES)
def test_a_wrong_note_is_found_in_every_form_and_nothing_else(tune):
    """The first note is a step too high: one mistake, the pitch, in the first bar."""
    number, beats = TUNES[tune][0]
    wrong = [(number + 2, beats), *TUNES[tune][1:]]
    found = {}
    for form, (suffix, write) in FORMS.items():
        comparison = judged(model_of(TUNES[tune]), write(wrong), f"x{suffix}").comparison
        found[form] = [(each.kind.value, each.bar, each.found.numbers) for each in comparison.differences]
    assert found == {form: [("pitch", 1, (number + 2,))] for form in FORMS}


TWELVE = "C4 D4 E4 F4 G4 A4 B4 C5 B4 A4 G4 C4"
ODD = {
    # name: what is handed in, its verdict, and a part of what is said about what was not read
    "a loop": (f"from time import sleep\nfor n in {TWELVE.split()}:\n    play(n)\n    sleep(0.5)\n", Verdict.RIGHT, ""),
    "a function": (f"function tune(t) {{ for (const n of t) play(n); }}\ntune({TWELVE.split()});\n", Verdict.RIGHT, ""),
    "strikes and waits": ("".join(f"play('{n}')\nsleep(1)\n" for n in TWELVE.split()), Verdict.RIGHT, ""),
    "nothing": ("", Verdict.UNREADABLE, "no notes"),
    "a letter": ("Dear teacher, the dog has it.", Verdict.UNREADABLE, "no notes"),
    "a picture": (b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR" + bytes(range(256)), Verdict.UNREADABLE, ""),
    "a damaged MIDI file": (b"MThd\0\0\0\6\0\1\0\2", Verdict.UNREADABLE, ""),
    "a sign that is none": ("C4 D4 E4 F4 G4 A4 B4 C5 B4 A4 ?? C4", Verdict.DIFFERS, "“??” is not read"),
    "too few lengths": (f"notes = {TWELVE.split()}\nbeats = {[1] * 11}\n", Verdict.RIGHT, "12 pitches and 11 lengths"),
    "too many lengths": (f"notes = {TWELVE.split()}\nbeats = {[1] * 13}\n", Verdict.RIGHT, "12 pitches and 13 lengths"),
    "UTF-16": (f"notes = {TWELVE.split()}".encode("utf-16"), Verdict.RIGHT, ""),
    "Windows-1252": (f"// größer\nnotes = {TWELVE.split()}".encode("cp1252"), Verdict.RIGHT, ""),
    "a byte order mark": (b"\xef\xbb\xbf" + TWELVE.encode(), Verdict.RIGHT, ""),
    "bar lines": ("C4 D4 E4 F4 | G4 A4 B4 C5 | B4 A4 G4 C4 |", Verdict.RIGHT, ""),
    "all doubled": (f"notes = {TWELVE.split()}\nbeats = {[2] * 12}\n", Verdict.SCALED, ""),
    "an octave lower": (TWELVE.replace("5", "6").replace("4", "3").replace("6", "4"), Verdict.MOVED, ""),
    "two halves": ("a = ['C4','D4','E4','F4','G4','A4']\nb = ['B4','C5','B4','A4','G4','C4']\n", Verdict.RIGHT, "parts"),
    "a name among the notes": ("title = 'Quay'\nnotes = ['C4','D4','E4','F4','G4','A4','B4','C5','B4','A4','G4','C4']\n", Verdict.RIGHT, ""),
    "never closed": ("notes = ['C4','D4','E4'", None, ""),
    "only lengths": ("beats = [1, 1, 2, 1]\n", Verdict.UNREADABLE, ""),
    "a chord among them": ("tune = [(['C4', 'E4'], 1), ('D4', 1)]", None, ""),
}  # fmt: skip


@pytest.mark.parametrize("name", ODD)
def test_what_is_odd_is_right_or_honestly_unread(name):
    given, verdict, said = ODD[name]
    attempt = judged(Model(read(TWELVE).song), given)
    assert verdict is None or attempt.comparison.verdict is verdict, attempt.comparison.sentence
    sentences = " ".join([attempt.comparison.sentence, *(part.sentence for part in attempt.unread)])
    assert said in sentences
    assert "failed" not in sentences


@pytest.mark.parametrize("name", shipped())
@pytest.mark.parametrize(
    "text",
    [
        "tempo: 92\n. G4=1/2 F#4=1/2 . . G4=2 | B4 . D5 .",
        "tempo: 92\nvoice Lead\nG4=1/2 F#4=1/2 . . C4&E4&G4=2 | B4 . D5\nvoice Low\nC3=4 | .=2 G3=2",
        "tempo: 100\nG4=1/3 A4=1/3 B4=1/3 C5=2/3 E5=1/3 | D5=4",
    ],
)
def test_what_a_target_was_sent_comes_back_right_or_with_what_was_lost(name, text):
    song = read(text).song
    fit = fitted(song, target_called(name))
    texts = [packed(fit, board) for board in fit.boards]
    whole = "\n\n".join(f"{board.name}\n{each}" for board, each in zip(fit.boards, texts, strict=True))
    found = read_data((whole if len(texts) > 1 else texts[0]).encode(), f"x{fit.target.suffix}")
    comparison = best_reading(Model(song), found)[1]
    lost = sum(len(loss.notes) for loss in fit.lost)
    assert comparison.verdict is Verdict.RIGHT or 0 < len(comparison.differences) <= lost


@pytest.mark.parametrize(
    "text", ["['kick', 'hat', 'snare', 'hat']", "36 42 38 42", "voice D\nsound: drum kit\nkick hat snare hat"]
)
def test_an_attempt_at_drums_alone_is_right(text):
    assert (
        judged(Model(read("voice D\nsound: drum kit\nkick hat snare hat").song), text).comparison.sentence == "Right."
    )


# Folders and zips


def zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def test_folders_of_any_depth_and_zips_are_gathered_and_what_is_left_out_is_listed(tmp_path):
    model = tmp_path / "model.chick"
    model.write_text(TWELVE)
    for name, data in {
        "class/Otters/tune.py": b"a = [60]", "class/Herons/week 2/tune.py": b"b = [61]", "class/notes.txt": b"C4",
        "class/Otters/.DS_Store": b"x", "class/__MACOSX/x": b"x", "class/model.target.toml": b"x",
        "class/Voles.zip": zipped({"a/tune.py": b"c = [62]", "../../out.txt": b"D4", "in.zip": zipped({"deep.txt": b"E4"})}),
        "class/broken.zip": b"PK\3\4 nothing",
    }.items():  # fmt: skip
        path = tmp_path / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    (tmp_path / "class" / "round").symlink_to(tmp_path / "class")
    found = handed_in([tmp_path / "class"], model)
    names = {each.name: each.label for each in found.sources}
    assert names == {
        "Otters/tune.py": "Otters", "Herons/week 2/tune.py": "week 2", "notes.txt": "notes", "Voles.zip/a/tune.py": "a",
        "Voles.zip/out.txt": "Voles", "Voles.zip/in.zip/deep.txt": "in",
    }  # fmt: skip
    assert {each.name for each in found.skipped} == {"Otters/.DS_Store", "model.target.toml", "broken.zip"}
    assert not (tmp_path / "out.txt").exists()
    assert without_work(["Otter", "otters", "Hérons", "Terns"], found.sources) == ["Otter", "Terns"]


def test_a_zip_that_unpacks_to_too_much_is_left_out_and_one_without_attempts_is_said(tmp_path):
    path = tmp_path / "class.zip"
    path.write_bytes(zipped({"bomb.txt": b"C4 " * (30 << 20), "right.txt": b"C4"}))
    found = handed_in([path])
    assert [each.name for each in found.sources] == ["right.txt"]
    assert "larger" in found.skipped[0].sentence
    path.write_bytes(zipped({}))
    with pytest.raises(FileFault, match="no attempts"):
        handed_in([path])


def test_a_list_of_the_class_may_be_numbered_or_a_table(tmp_path):
    path = tmp_path / "class.txt"
    path.write_text("1. Otters\n2. Herons;5b\n\n  Terns\n", "utf-8")
    assert names_in(path) == ["Otters", "Herons", "Terns"]


NEAR = (
    "C4=2,",
    "D4,",
    "E4",
    "C4:2",
    "fis4",
    "C4=0,5",
    "440Hz",
    "Gs4:2",
    "Es4",
    "R",
    "R:1,",
    "60",
    "67=2",
    "A4=1/2",
    "Bb4;",
    "G♯4",
    "| ",
)


@given(st.lists(st.sampled_from(NEAR), min_size=2, max_size=14), st.sampled_from([" ", "  ", "\n"]))
def test_near_misses_in_bare_text_mean_what_they_mean_in_a_sheet(words, mark):
    text = mark.join(words)
    sheet = read(text).song
    found = read_data(text.encode(), "x.txt").song if sheet.notes else sheet
    assert [note[:5] for note in found.notes] == [note[:5] for note in sheet.notes]

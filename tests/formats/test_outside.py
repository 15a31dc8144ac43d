"""What comes from outside is bounded, and read in proportion; one bad file is one sentence."""

from __future__ import annotations

import io
import zipfile
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read, write
from chickadee.attempts import attempt_of, judging
from chickadee.cli.status import opened_song
from chickadee.comparison import Model, Verdict
from chickadee.csv_text import cell, plain_cell
from chickadee.files import FileFault
from chickadee.formats import anything, musicxml, smf, table
from chickadee.formats.anything import read_data
from chickadee.formats.scanning import tokens, without_comments
from chickadee.handed_in import Source
from worst import WORST

pytestmark = pytest.mark.rotating

TOO_LARGE = "=999999[slow to 60 over 4]\nvoice\n[slow to 60 over 4]"


def test_a_tune_that_is_too_large_is_never_written(tmp_path):
    reading = read(TOO_LARGE)
    assert reading.too_large and reading.song.end == 0
    assert all(tempo.tick == 0 for tempo in reading.song.tempo.tempos)
    for suffix in (".mid", ".musicxml", ".csv", ".wav"):
        with pytest.raises(FileFault, match="grows beyond"):
            write(reading, tmp_path / f"a{suffix}")
    assert len(smf.write(reading.song)) < 200  # also where nobody asks
    (tmp_path / "a.chick").write_text(TOO_LARGE)
    with pytest.raises(FileFault, match="grows beyond"):
        opened_song(str(tmp_path / "a.chick"))


def test_a_ramp_that_is_longer_than_the_song_is_written_up_to_its_end():
    song = read("tempo: 120\n[slow to 60 over 400] C4 D4 [tempo 90]\nvoice B\nC4").song
    back = smf.read(smf.write(song)).song
    assert [note.start for note in back.notes] == [note.start for note in song.notes]
    assert max(tempo.tick for tempo in back.tempo.tempos) <= song.end


COMMENTED = (
    "# a word on this line, said by a pupil\n" * 40 + "notes = [60, 62, 64]\nbeats = [1, 2, 1]\n" + "// more\n" * 40
)


def test_comments_cost_nothing_and_change_nothing():
    song = read_data(COMMENTED.encode(), "a.py").song
    assert [note.number for note in song.notes] == [60, 62, 64]


@given(st.text(st.sampled_from("ab'\"\\#/*\n [](){}1.,:;=+-♯"), max_size=80))
def test_signs_cover_a_text_once_in_order_and_comments_leave_all_in_its_place(text):
    found = list(tokens(text))
    assert [each.start for each in found] == sorted(each.start for each in found)
    assert all(one.end <= two.start for one, two in pairwise(found))
    covered = "".join(text[each.start : each.end] for each in found)
    assert "".join(covered.split()) == "".join(text.split())
    clean = without_comments(text)
    assert len(clean) == len(text) and clean.count("\n") == text.count("\n")
    assert all(one in (two, " ") for one, two in zip(clean, text, strict=True))


def test_strings_that_never_end_are_looked_for_once_in_a_line(monkeypatch):
    looked = []
    real = __import__("chickadee.formats.scanning", fromlist=["_STRING"])._STRING

    class Counted:
        def __init__(self, pattern):
            self.pattern = pattern

        def match(self, text, at):
            looked.append(at)
            return self.pattern.match(text, at)

    monkeypatch.setattr("chickadee.formats.scanning._STRING", {quote: Counted(each) for quote, each in real.items()})
    list(tokens('\\"' * 4000 + "\n" + "it's 'one'\n" * 10))
    assert len(looked) < 60


@pytest.mark.parametrize(("reader", "name"), [(reader, name) for reader, kinds in WORST.items() for name in kinds])
def test_the_worst_inputs_are_read_or_refused_in_a_sentence(reader, name):
    for lines in (30, 100_000):
        data = WORST[reader][name](lines)
        try:
            found = read_data(data.encode() if isinstance(data, str) else data, "a file")
        except FileFault as fault:
            assert str(fault).isprintable() and len(str(fault)) < 300
        else:
            assert len(found.song.notes) <= 100_000


def packed(data, method=zipfile.ZIP_DEFLATED, name="a.musicxml"):
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", method) as file:
        file.writestr(name, data)
    return made.getvalue()


ONE = b"<note><pitch><step>C</step><octave>4</octave></pitch><duration>1</duration></note>"


def score(inside=ONE, times=1):
    return (
        b"<score-partwise><part-list/><part id='P'><measure number='1'>"
        + inside * times
        + b"</measure></part></score-partwise>"
    )


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (packed(score(), zipfile.ZIP_LZMA), "packed in a way"), (packed(score(), zipfile.ZIP_BZIP2), "packed in a way"),
        (packed(score(b"<x/>", 400_000)), "too large"), (score(b"<a>" * 200), "too large"),
        (score(ONE, 26_000), "more than 25,000 notes"), (packed(b"\0" * 30_000_000), "more than 20 MB"),
        (packed(b"x", name="a.txt"), "no score"), (b"PK\3\4 nothing", "damaged"),
        (b"MThd\0\0\0\6\0\1\0\1\0\x60" + b"MTrk\0\0\0\0" * 2100, "more events"),
        (b"name,beats\n" + b"C4,1\n" * 30_001, "more than 30,000 rows"),
        (b"[" + b"60, " * 10_001 + b"60]", "more than 10,000 notes"),
    ],
)  # fmt: skip
def test_what_is_too_much_is_refused_in_a_sentence(data, said):
    with pytest.raises(FileFault, match=said):
        read_data(data, "a file")


def test_repeats_are_counted_before_they_are_played():
    bar = b"<measure>" + ONE * 300 + b"<barline><repeat direction='backward' times='16'/></barline></measure>"
    data = b"<score-partwise><part-list/><part id='P'>" + bar * 40 + b"</part></score-partwise>"
    with pytest.raises(FileFault, match="more than 25,000 notes"):
        read_data(data, "a file")


def test_times_that_have_no_common_part_are_read_to_the_tick():
    bars = "".join(
        f"<measure><attributes><divisions>{10_007 + 2 * line}</divisions></attributes>"
        f"<note><pitch><step>C</step><octave>4</octave></pitch><duration>{10_009 + line}</duration></note></measure>"
        for line in range(300)
    )
    song = musicxml.read(f"<score-partwise><part-list/><part id='P'>{bars}</part></score-partwise>".encode()).song
    here = 0.0
    for line, note in enumerate(song.notes):
        assert abs(note.start - here) <= 300
        here += (10_009 + line) / (10_007 + 2 * line) * 8_064_000


@pytest.mark.parametrize("count", [1, 7, 30])
def test_one_bad_attempt_ends_nothing(count, monkeypatch):
    good = [Source(f"good {number}", data=b"C4 D4 E4") for number in range(count)]
    bad = [
        Source("lzma", data=packed(score(), zipfile.ZIP_LZMA)), Source("chords", data=b'[("C4+E4+G4", 2), ("D4", 1)]'),
        Source("bytes", data=bytes(range(256)) * 9), Source("nothing", data=b""), Source("half", data=score()[:60]),
    ]  # fmt: skip
    sources = [*bad, *good]
    model = Model(read("C4 D4 E4").song)
    judged = {index: attempt_of(sources[index], result) for index, result in judging(model, sources).results()}
    assert len(judged) == len(sources)
    assert [judged[len(bad) + place].comparison.verdict for place in range(count)] == [Verdict.RIGHT] * count
    assert judged[0].comparison.verdict is Verdict.UNREADABLE


def test_a_file_that_may_not_be_read_ends_nothing(tmp_path, monkeypatch):
    sources = [Source("no", tmp_path / "no.txt"), Source("good", data=b"C4 D4 E4")]
    (tmp_path / "no.txt").write_text("C4")

    def refuses(path, most, pipes=False):
        raise FileFault(path, "permission is missing for this file or its folder")

    monkeypatch.setattr("chickadee.incoming.read_bytes", refuses)
    monkeypatch.setattr(anything, "read_bytes", refuses)
    judged = dict(judging(Model(read("C4 D4 E4").song), sources).results())
    assert [judged[place].comparison.verdict for place in range(2)] == [Verdict.UNREADABLE, Verdict.RIGHT]


def test_whatever_a_reader_raises_is_a_sentence_about_that_file(monkeypatch):
    monkeypatch.setattr(anything.table, "is_table", lambda text: {}["no such key"])
    with pytest.raises(FileFault, match=r"a\.csv: Chickadee failed while reading it \(KeyError in <lambda>\)"):
        read_data(b"name,beats\nC4,1\n", "a.csv")
    model = Model(read("C4").song)
    result = dict(judging(model, [Source("a.csv", data=b"name,beats\nC4,1\n")]).results())[0]
    assert result.comparison.verdict is Verdict.UNREADABLE


@given(st.text(st.sampled_from("='+-@\t\r\"ab1 ,\n"), max_size=6))
def test_cells_are_no_formulas_and_mean_what_they_were(text):
    kept = str(cell(text))
    assert plain_cell(kept) == text
    assert kept[:1] not in tuple("=@\t\r") or not kept
    song = read(f"voice A\nC4\nwords: {''.join(text.split()) or 'x'}").song
    back = table.read(table.write(song)).song
    assert [note.syllable for note in back.notes] == [note.syllable for note in song.notes]


def test_many_lists_are_refused_in_a_sentence_and_not_tried_with_one_another():
    text = "\n".join(f"a{place} = [60, 62]\nb{place} = [1, 2]" for place in range(3_000))
    with pytest.raises(FileFault, match="more than 200 lists"):
        read_data(text.encode(), "x.py")

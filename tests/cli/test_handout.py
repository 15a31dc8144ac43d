"""``chickadee handout`` as its contract has it: real words in PDF, pictures, sets for a class, with no display."""

from __future__ import annotations

import os
import subprocess
import sys
from importlib.resources import files
from xml.etree import ElementTree

import pytest
from pypdf import PdfReader

from chickadee.handout.pages import PAGES

TUNE = str(files("chickadee.songs") / "gull-point.chick")


def command(*words, folder):
    environment = {name: value for name, value in os.environ.items() if name not in ("DISPLAY", "WAYLAND_DISPLAY")}
    environment.pop("QT_QPA_PLATFORM", None)
    code = "import sys; from chickadee.cli.main import main; main(sys.argv[1:])"
    done = subprocess.run([sys.executable, "-c", code, "handout", *map(str, words)], cwd=folder, capture_output=True,
                          text=True, timeout=120, env=environment)  # fmt: skip
    assert "Traceback" not in done.stderr
    return done.returncode, done.stderr


@pytest.mark.parametrize("page", PAGES)
def test_each_page_is_a_pdf_with_words_and_fonts(tmp_path, page):
    status, err = command(TUNE, "--page", page, folder=tmp_path)
    assert (status, err) == (0, "")
    data = PdfReader(tmp_path / f"gull-point-{page}.pdf")
    width, height = (float(each) for each in data.pages[0].mediabox[2:])
    assert abs(width - 595) < 1.5 and abs(height - 842) < 1.5
    words = data.pages[0].extract_text()
    assert "Gull Point landing" in words
    assert page == "flashcards" or words.index("Gull Point") < words.index("Date")
    fonts = [font.get_object() for font in data.pages[0]["/Resources"]["/Font"].values()]
    inner = [each.get_object()["/FontDescriptor"] for font in fonts for each in font.get("/DescendantFonts", [font])]
    assert inner and all({"/FontFile", "/FontFile2", "/FontFile3"} & each.keys() for each in inner)


def test_pictures_papers_sets_and_refusals(tmp_path):
    assert command(TUNE, "--page", "tune", "-o", "a.png", "--paper", "Letter", "--across", folder=tmp_path) == (0, "")
    head = (tmp_path / "a.png").read_bytes()[16:24]
    assert (int.from_bytes(head[:4], "big"), int.from_bytes(head[4:], "big")) == (3300, 2550)
    assert command(TUNE, "--page", "keys", "-o", "k.svg", folder=tmp_path) == (0, "")
    drawn = (tmp_path / "k.svg").read_text()
    words = {element.text for element in ElementTree.fromstring(drawn).iter("{http://www.w3.org/2000/svg}text")}
    assert "G4" in words and (tmp_path / "k 2.svg").exists()
    words = (
        TUNE,
        "--page",
        "worksheet",
        "--pupils",
        "3",
        "--seed",
        "4",
        "--answers",
        "--empty",
        "every-4",
        "-o",
        "w.pdf",
    )
    assert command(*words, folder=tmp_path) == (0, "")
    pages = [page.extract_text() for page in PdfReader(tmp_path / "w.pdf").pages]
    assert len(pages) == 6 and ["Answers" in page for page in pages] == [False] * 3 + [True] * 3
    for wrong in (words, (TUNE, "--page", "tune", "-o", "x.doc"), (TUNE, "--page", "worksheet", "--empty", "all"),
                  (TUNE, "--page", "tune", "--voice", "Nobody", "-o", "v.pdf"), ("gone.chick", "--page", "tune")):  # fmt: skip
        status, err = command(*wrong, folder=tmp_path)
        assert status == 2 and len(err.splitlines()) == 1
    silent = tmp_path / "silent.chick"
    silent.write_text("rest")
    assert command(silent, "--page", "tune", "-o", "s.pdf", folder=tmp_path)[1].endswith(
        "there are no notes to put on a page yet.\n"
    )
    assert sorted(path.name for path in tmp_path.glob("s.*")) == []

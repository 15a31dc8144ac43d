"""Whatever a file, a title or a name holds, the window shows it as it is: no HTML is read out of it."""

from __future__ import annotations

import ast

import house_rules
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QTextDocument
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QDialog,
    QInputDialog,
    QLabel,
    QMessageBox,
    QTableWidget,
    QToolTip,
    QWidget,
)
from written import write

from chickadee.desk.plain_dialogs import PlainProgress, ask_for_number, ask_for_text, plain_question
from chickadee.desk.plain_text import PlainLabel, hint_of
from chickadee.formats import musicxml, smf
from chickadee.sheet import read

MARKUP = "<img src='/nowhere.png'><b>Gull</b> & <script>x</script>"
SHEET = f"""title: {MARKUP}
composer: {MARKUP}
phrase call
  C4 D4 <b>E4</b> F4 |
  words: <i>la</i> <img> & x
voice <b>Whistle</b>
  sound: {MARKUP}
  [mark <img src='x'> opens] call call x2 {MARKUP}
voice {MARKUP}
  range: {MARKUP}
  C4 C4 C4 C4 |
"""


def taken_for_markup(window: QWidget) -> list[str]:
    """Return those of a window's texts that Qt would read HTML out of, though it holds ours unescaped."""
    found = []
    for widget in [window, *window.findChildren(QWidget)]:
        hints = [widget.toolTip()]
        if isinstance(widget, QLabel):
            if widget.textFormat() == Qt.TextFormat.AutoText:
                found.append(f"{widget.objectName()}: {widget.text()}")
            if widget.textFormat() == Qt.TextFormat.RichText and any(
                each in widget.text() for each in ("<img", "<scr")
            ):
                found.append(widget.text())
        if isinstance(widget, QAbstractItemView | QComboBox):
            hints += [str(hint) for hint in hints_of_items(widget)]
        found += [hint for hint in hints if read_as_markup(hint)]
    return found


def hints_of_items(view: QAbstractItemView | QComboBox) -> list[object]:
    model = view.model()
    columns = view.columnCount() if isinstance(view, QTableWidget) else 1
    places = [model.index(row, column) for row in range(model.rowCount()) for column in range(columns)]
    return [place.data(Qt.ItemDataRole.ToolTipRole) or "" for place in places]


def read_as_markup(hint: str) -> bool:
    return Qt.mightBeRichText(hint) and ("<img" in hint or "<script" in hint)


def test_a_sheet_of_markup_is_shown_as_it_is_in_every_panel_and_dialog(qtbot, desk, tmp_path, monkeypatch):
    (tmp_path / f"{'<b>x<i>'}.chick").write_text(SHEET)
    (tmp_path / "<img src=x>.csv").write_text("name,beats\n<b>C4</b>,1\nD4,1\n")
    desk.shelf.show_folder(tmp_path)
    desk.shelf.read_all()
    write(qtbot, desk, SHEET)
    bad = []
    for name in desk.working.specs:
        desk.working.turn_to(name)
        qtbot.wait(20)
        bad += taken_for_markup(desk.window())
    dialogs = []
    monkeypatch.setattr(QDialog, "exec", lambda dialog: dialogs.append(taken_for_markup(dialog)) or 0)
    monkeypatch.setattr(QMessageBox, "exec", lambda dialog: dialogs.append(taken_for_markup(dialog)) or 0)
    for action in ("tune.export", "checks.choose", "help.keys"):
        desk.actions_by_id[action].trigger()
    desk.document.path = tmp_path / f"{MARKUP.replace('/', '-')}.chick"
    desk.files.may_leave()
    desk.document.path = None
    assert not bad
    assert dialogs and not any(dialogs)


def test_no_markup_of_ours_is_shown_as_it_is_written(qtbot, desk):
    write(qtbot, desk, "title: Gull Point\nmeter: 3/4\nG4 B4 A4 | E4=2 D4 |")
    desk.selection.choose_note(1)
    shown = []
    for name in desk.working.specs:
        desk.working.turn_to(name)
        qtbot.wait(60)
        shown += [
            label.text() for label in desk.findChildren(QLabel) if label.textFormat() == Qt.TextFormat.PlainText
        ]
    assert any("Doubled" in label.text() for label in desk.findChildren(QLabel))
    assert not [text for text in shown if "</" in text or "&nbsp;" in text]


def test_files_whose_names_are_markup_are_shown_as_they_are(qtbot, desk, tmp_path, monkeypatch):
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton.Discard)
    song = read("title: <img src=x>\nvoice <b>A</b>\nC4 D4 E4").song
    for name, data in (
        ("<img src=x> <b>m.mid", smf.write(song)),
        ("<img src=x> <b>m.musicxml", musicxml.write(song)),
        ("<img src=x> <b>m.mid.txt", b"\0\1 nothing"),
    ):
        (tmp_path / name).write_bytes(data)
        desk.files.open_path(tmp_path / name)
        desk.working.turn_to("found")
        assert not taken_for_markup(desk.window())
    assert "<img src=x>" in desk.notice.text
    assert desk.notice.findChild(PlainLabel).text().startswith(str(tmp_path))


def test_a_hint_shows_what_it_is_given(qtbot):
    for text in (MARKUP, "a\n  b < c", "plain", "&amp;", "x" * 9000):
        document = QTextDocument()
        hint = hint_of(text)
        if Qt.mightBeRichText(hint):
            document.setHtml(hint)
        else:
            document.setPlainText(hint)
        shown = document.toPlainText()
        assert shown == text or (shown.endswith("…") and text.startswith(shown[:-1]))


def test_questions_show_what_they_are_given(qtbot, desk, monkeypatch):
    boxes = [plain_question(desk, MARKUP, MARKUP), PlainProgress(MARKUP, 9, desk)]
    for box in boxes:
        assert not taken_for_markup(box)
        assert MARKUP in [label.text() for label in box.findChildren(QLabel)]
        box.deleteLater()
    seen = []
    monkeypatch.setattr(QInputDialog, "exec", lambda dialog: seen.append(dialog) or 1)
    for asked in (lambda: ask_for_text(desk, "A", MARKUP, "b"), lambda: ask_for_number(desk, "A", MARKUP, 3, 0, 9)):
        answer = asked()
        assert answer in ("b", 3)
        assert not taken_for_markup(seen[-1])
        assert MARKUP in [label.text() for label in seen[-1].findChildren(QLabel)]


@pytest.mark.parametrize(
    ("text", "is_right"),
    [
        ("box.setToolTip('Plays')", True),
        ("box.setToolTip(hint_of(name))", True),
        ("box.setToolTip('' if fits else hint_of(name))", True),
        ("box.setToolTip(name)", False),
        ("box.setToolTip(f'{name} plays')", False),
        ("box.setToolTip(name if fits else 'a')", False),
    ],
)
def test_lint_forbids_hints_that_may_hold_markup(text, is_right):
    assert (list(house_rules.hints_are_plain(ast.parse(text))) == []) == is_right
    assert QToolTip  # what the rule is about

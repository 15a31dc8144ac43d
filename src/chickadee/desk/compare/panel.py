"""The Compare panel: who has the tune right, what most got wrong, and where to look."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QHideEvent, QPaintEvent, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QBoxLayout,
    QButtonGroup,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
)

from ...attempts import Attempt
from ...comparison.differences import Difference, Kind
from ...comparison.summary import common_in, key_of
from ...comparison.words import difference_in_words
from ...display import words
from ...display.class_table import Only, Shown, counts, label_of, pretty, sentences_on
from ...display.heard_beside import left_and_right, own_tick
from ...display.program_view import Wanted
from ...display.scene import Scene
from ...files import decode
from ...formats.anything import is_text
from ..class_work import ClassWork
from ..clicks import add_line, on_click
from ..part_box import PartBox
from ..parts import describe
from ..pauses import after_pause
from ..plain_text import PlainLabel, RichLabel, escaped, hint_of
from ..theme import Look
from ..working.panel import Panel, PanelContext
from ..working.spec import PanelSize
from .incoming import Incoming
from .outgoing import Outgoing
from .table import ClassTable

__all__ = ["ComparePanel"]

_PAUSE_MILLISECONDS = 60
_MOST_COMMON = 4
_BARS_IN_TURN = 2
_WIDE = 800  # pixels at scale 1
_LEFT_TOP = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
_LEFT_MIDDLE = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_ALONG = QBoxLayout.Direction.LeftToRight
_ATTEMPT_SOUND = "square"
_MOST_NAMED = 12  # of those who handed in nothing, and of files left out


class ComparePanel(Panel):
    """Shows a class's attempts at the open tune; the one chosen lies over the tune on the timeline."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self.setAcceptDrops(True)
        self.work = ClassWork(context.document, self)
        self.incoming = Incoming(self.work, context.document, context.notice, context.settings, self)
        self.outgoing = Outgoing(self.work, context.document, context.notice)
        self._wish = Shown()
        self.table = ClassTable(context.appearance.look, context.time_axis)
        self.what = PartBox("What the attempts are compared with")
        self.filters = {only: _filter_button(only) for only in Only}
        self._filter_group = QButtonGroup(self)
        self.add = QPushButton("Add…")
        self.paste = QPushButton("Paste")
        self.add.setToolTip("Add files or a folder of attempts")
        self.paste.setToolTip("Take what is in the clipboard as an attempt")
        self.cancel = QPushButton("Cancel")
        self.progress = PlainLabel()
        self.common = RichLabel()
        self.said = _TwoLines()
        self.common.setAccessibleName("The commonest mistakes")
        self.common.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.said.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.back = QPushButton("‹")
        self.on = QPushButton("›")
        self.in_turn = QPushButton("In turn")
        self.together = QPushButton("Together")
        self.open = QPushButton("Open it")
        self.open_program = QPushButton("Open the program")
        self.more = QPushButton("More ▾")
        self.take = QPushButton("Compare with this tune")
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self._show)
        self._describe_buttons()
        self._lay_out()
        self._connect()
        self._show()

    # Building

    def _describe_buttons(self) -> None:
        describe(
            (self.back, "The difference before (Ctrl+Shift+F8)"),
            (self.on, "The next difference (Ctrl+F8)"),
            (self.in_turn, "Hear the tune and then the attempt from here (Ctrl+F6)"),
            (self.together, "Hear the tune left and the attempt right from here (Ctrl+Shift+F6)"),
            (self.open, "Open the attempt as a tune"),
            (self.open_program, "Look at the program's text, its faults and differences marked"),
            (self.more, "Who else, copy, save, take away"),
            (self.cancel, "Stop comparing"),
            (self.take, "Make the open tune the one that attempts are compared with"),
        )

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        self._head = QBoxLayout(_ALONG)
        self._foot = QBoxLayout(_ALONG)
        kinds = QHBoxLayout()
        tools = QHBoxLayout()
        buttons = QHBoxLayout()
        for only, button in self.filters.items():
            self._filter_group.addButton(button)
            kinds.addWidget(button)
            on_click(button, self.show_only, only)
        kinds.addWidget(self.progress)
        kinds.addWidget(self.cancel)
        tools.addWidget(self.common, 1)
        tools.addWidget(PlainLabel("with"))
        tools.addWidget(self.what)
        tools.addWidget(self.add)
        tools.addWidget(self.paste)
        self._head.addLayout(kinds)
        self._head.addLayout(tools, 1)
        for widget in (
            self.take,
            self.back,
            self.on,
            self.in_turn,
            self.together,
            self.open_program,
            self.open,
            self.more,
        ):
            buttons.addWidget(widget)
        self._foot.addWidget(self.said, 1)
        self._foot.addLayout(buttons)
        self._column.addLayout(self._head)
        self._column.addWidget(self.table, 1)
        self._column.addLayout(self._foot)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Where it is narrow, tools and buttons stand in lines of their own."""
        way = _ALONG if self.width() > self.look.px(_WIDE) else QBoxLayout.Direction.TopToBottom
        self._head.setDirection(way)
        self._foot.setDirection(way)
        self._due.start()

    def _connect(self) -> None:
        context = self.context
        work = self.work
        table = self.table
        work.changed.connect(self._due.start)
        work.chosen_changed.connect(self._show_chosen)
        work.faulty.connect(context.notice.say)
        work.open_wanted.connect(context.files.open_path)
        work.text_wanted.connect(context.files.begin_with)
        context.program.understood.connect(work.judge_again)
        table.chosen.connect(self.choose)
        table.opened.connect(self.open_attempt)
        table.bar_chosen.connect(self._go_to_bar)
        table.pasted.connect(self.incoming.paste_text)
        table.sorted_by.connect(lambda order: self._show_wish(replace(self._wish, order=order)))
        self.what.currentTextChanged.connect(lambda: work.compare_with(self.what.part))
        self.common.linkActivated.connect(lambda place: self.show_mistake(int(place)))
        on_click(self.add, self.incoming.offer, self.add)
        for button, slot in (
            (self.paste, self.incoming.paste_text),
            (self.cancel, work.cancel),
            (self.take, work.take_tune),
            (self.back, partial(self.walk, -1)),
            (self.on, partial(self.walk, 1)),
            (self.in_turn, self.hear_in_turn),
            (self.together, self.hear_together),
            (self.open, lambda: self.open_attempt(work.chosen)),
            (self.open_program, self.show_program),
            (self.more, self._offer_more),
        ):
            on_click(button, slot)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._column.setContentsMargins(0, look.px(2), 0, look.px(4))
        self._column.setSpacing(look.px(3))
        for row in (self._head, self._foot):
            row.setContentsMargins(look.px(10), 0, look.px(10), 0)
            row.setSpacing(look.px(6))
        self.table.set_look(look)
        self._show()

    def show_scene(self, scene: Scene) -> None:
        """Offer the tune's voices and phrases as models."""
        self.what.show_reading(scene.reading)

    def show_size(self, size: PanelSize) -> None:
        """Bars stand under the timeline's where the panel lies under it."""
        self.table.set_aligned(size is PanelSize.ACROSS)

    def hideEvent(self, event: QHideEvent | None) -> None:
        """The attempt is taken off the timeline while the panel is not seen."""
        self.table.set_aligned(False)
        self.context.overlay.clear()

    def showEvent(self, event: QShowEvent | None) -> None:
        """The attempt lies over the tune again."""
        self._show()
        self._show_chosen()

    def stop_work(self) -> None:
        """End the comparison, before the window goes."""
        self.work.cancel()

    # What is shown

    def show_only(self, only: Only) -> None:
        """Show the attempts of one kind."""
        self._show_wish(replace(self._wish, only=only, mistake=None))

    def show_mistake(self, place: int) -> None:
        """Show who shares one of the commonest mistakes, and go there."""
        common = common_in([each.comparison for each in self.work.attempts])
        if place < len(common):
            key = common[place].key
            self._show_wish(replace(self._wish, only=Only.ALL, mistake=key))
            self.choose(self.table.shown_attempts[0])
            found = self.work.chosen.comparison.differences if self.work.chosen else ()
            self.go_to([key_of(each) for each in found].index(key))

    def show_same_mistake(self) -> None:
        """Show who else has the difference that is looked at."""
        chosen = self.work.chosen
        place = max(0, self.work.difference)
        if chosen is not None and chosen.comparison.differences:
            self._show_wish(replace(self._wish, only=Only.ALL, mistake=key_of(chosen.comparison.differences[place])))

    def _show_wish(self, wish: Shown) -> None:
        self._wish = wish
        self._show()

    def _show(self) -> None:
        """Show the attempts as they are judged now."""
        work = self.work
        if not self.isVisible():
            return
        number = counts(work.attempts)
        for only, button in self.filters.items():
            button.setText(f"{only.value} {number[only]}")
            button.setChecked(only is self._wish.only and self._wish.mistake is None)
            button.setVisible(bool(work.attempts) and (only is not Only.UNREADABLE or bool(number[only])))
        self._show_state()
        self.cancel.setVisible(bool(work.of))
        self.table.show_attempts(work.attempts, work.model, self._wish, work.points)
        self._show_common()
        self._show_foot()

    def _show_state(self) -> None:
        """How far the work is; at rest who handed in nothing, and what was left out."""
        work = self.work
        missing = work.missing if work.attempts else []
        said = []
        more = []
        if missing:
            said.append(f"Nothing from {len(missing)}")
            more.append(f"Nothing was handed in by {', '.join(missing[:_MOST_NAMED])}.")
            if len(missing) > _MOST_NAMED:
                more.append(f"And by {len(missing) - _MOST_NAMED} more.")
        if work.skipped:
            said.append(f"{len(work.skipped)} left out")
            more += [f"{each.name}: {each.sentence}" for each in work.skipped[:_MOST_NAMED]]
        self.progress.setText(f"{work.done} of {work.of}" if work.of else f"{' · '.join(said)}   ")
        self.progress.setToolTip(hint_of("\n".join(more)))

    def _show_common(self) -> None:
        """The commonest mistakes, as many as there is room for; a click shows who makes them."""
        common = common_in([each.comparison for each in self.work.attempts])
        metrics = self.common.fontMetrics()
        ink = self.look.theme.accent_text
        room = self.common.width()
        links: list[str] = []
        start = "Most often:"
        for place, each in enumerate(common[:_MOST_COMMON]):
            text = f"{each.attempts} × {pretty(each.words)}, bar {each.bar}"
            start += f"   {text} ·"
            if metrics.horizontalAdvance(start) > room:
                break
            links.append(f'<a href="{place}" style="color: {ink}; text-decoration: none">{escaped(text)}</a>')
        self.common.setText(f"Most often: &nbsp;{' &nbsp;·&nbsp; '.join(links)}" if links else "")

    def _show_chosen(self) -> None:
        work = self.work
        self.table.show_chosen(work.chosen)
        chosen = work.chosen
        if chosen is None or not work.beside or not self.isVisible():
            self.context.overlay.clear()
        else:
            self.context.overlay.lay(label_of(chosen), work.beside, chosen.comparison.differences)
        self._show_foot()

    def _show_foot(self) -> None:
        """Show the sentence about the chosen attempt, and the buttons for it."""
        work = self.work
        chosen = self.work.chosen
        differences: Sequence[Difference] = chosen.comparison.differences if chosen is not None else ()
        if not work.is_at_home:
            name = work.tune.name if work.tune is not None else "a tune that is not saved"
            self.said.setText(f"These attempts were compared with {name}, which is not open now.")
        elif chosen is None:
            self.said.setText("Choose an attempt to lay it over the tune." if work.attempts else "")
        elif work.difference >= 0:
            each = differences[work.difference]
            which = f"{label_of(chosen)}: difference {work.difference + 1} of {len(differences)}"
            where = f"bar {each.bar} beat {words.beats(each.beat)}"
            self.said.setText(f"{which}, {where}: {pretty(difference_in_words(each))}.")
        else:
            self.said.setText(f"{label_of(chosen)}: {sentences_on(chosen, work.points)}")
        self.said.setToolTip(hint_of(self.said.text()))
        self.take.setVisible(not work.is_at_home)
        for button in (self.back, self.on):
            button.setEnabled(bool(differences))
        for button in (self.in_turn, self.together):
            button.setEnabled(bool(work.beside))
        self.open.setEnabled(chosen is not None)
        self.open_program.setVisible(chosen is not None and chosen.program is not None)
        self.more.setEnabled(bool(work.attempts))

    # Choosing

    def choose(self, attempt: Attempt) -> None:
        """Look at an attempt; its first difference is marked on the timeline."""
        self.work.choose(attempt)
        self._reveal(attempt.comparison.differences[0] if attempt.comparison.differences else None)

    def walk(self, by: int) -> None:
        """Go to the next difference, or the one before."""
        if self.work.chosen is None and self.table.shown_attempts:
            self.work.choose(self.table.shown_attempts[0])
        self._reveal(self.work.walk(by))

    def go_to(self, place: int) -> None:
        """Go to one of the chosen attempt's differences."""
        self.work.difference = place - 1
        self.walk(1)

    def _go_to_bar(self, bar: int) -> None:
        chosen = self.work.chosen
        places = (
            [place for place, each in enumerate(chosen.comparison.differences) if each.bar == bar] if chosen else []
        )
        if places:
            self.go_to(places[0])

    def _reveal(self, difference: Difference | None) -> None:
        """Select the note of the tune at a difference, or the last before what was added."""
        if difference is None or not self.work.is_at_home:
            return
        model = self.work.model
        voice = model.chosen[min(difference.voice, len(model.chosen) - 1)]
        notes = self.context.selection.scene.song.notes
        until = difference.start + (difference.kind is not Kind.ADDED)
        before = [place for place, note in enumerate(notes) if note.voice == voice and note.start < until]
        if before:
            self.context.selection.choose_note(before[-1])

    # Dropping, hearing, giving away

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (data := event.mimeData()) is not None and (data.hasUrls() or data.hasText()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is None or (data := event.mimeData()) is None:
            return
        if data.hasUrls():
            self.work.add_paths(Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile())
        else:
            self.work.add_text(data.text())
        event.acceptProposedAction()

    def open_attempt(self, attempt: Attempt | None) -> None:
        """Open an attempt as a tune."""
        if attempt is None:
            return
        source = attempt.source
        if source.data is None:
            self.work.open_wanted.emit(source.path)
        elif is_text(source.data):
            self.work.text_wanted.emit(decode(source.data, source.name))
        else:
            self.work.faulty.emit(f"{source.name} lies in a zip; take it out of there to open it.")

    def show_program(self) -> None:
        """Look at the chosen attempt's program."""
        chosen = self.work.chosen
        if chosen is not None and chosen.program is not None:
            self.context.program.open(Wanted(chosen.source, self.work.model))

    @property
    def _from(self) -> int:
        """The tick from which is heard: the bar of the difference that is looked at, else of the first."""
        chosen = self.work.chosen
        grid = self.work.model.song.grid
        differences = chosen.comparison.differences if chosen is not None else ()
        return grid.start(differences[max(0, self.work.difference)].bar) if differences else 0

    def hear_in_turn(self) -> None:
        """Hear some bars of the tune, and then of the attempt, from the difference that is looked at."""
        work = self.work
        start = self._from
        if not work.beside or work.found is None:
            return
        song = work.model.song
        grid = work.model.song.grid
        end = grid.start(grid.number_at(start) + _BARS_IN_TURN)
        theirs = own_tick(work.beside, start), own_tick(work.beside, end)
        self.context.playback.play_in_turn((song, start, end), (work.found.song, *theirs))

    def hear_together(self) -> None:
        """Hear the tune left and the attempt right, from the difference that is looked at."""
        if self.work.beside:
            song = left_and_right(self.work.model.song, self.work.beside, _ATTEMPT_SOUND)
            self.context.playback.play_in_turn((song, self._from, None))

    def _offer_more(self) -> None:
        menu = QMenu(self)
        window = self.window() or self
        chosen = self.work.chosen
        shown = self.table.shown_attempts
        for text, slot, can in (
            ("&Who else has this mistake?", self.show_same_mistake, chosen is not None),
            (
                "Copy &one line on it",
                partial(self.outgoing.copy_lines, [chosen] if chosen else []),
                chosen is not None,
            ),
            ("Copy a &line on each", partial(self.outgoing.copy_lines, shown), True),
            ("&Points…", self.incoming.ask_for_points, True),
            ("&Save the table…", partial(self.outgoing.save_table, window), True),
            ("A &page for each…", partial(self.outgoing.save_pages, window, shown), True),
            ("&Take all attempts away", self.work.clear, True),
        ):
            add_line(menu, text, slot).setEnabled(can)
        menu.popup(self.more.mapToGlobal(QPoint(0, -menu.sizeHint().height())))


class _TwoLines(PlainLabel):
    """A sentence with room for two lines, whatever its width: the table keeps the rest."""

    def __init__(self) -> None:
        super().__init__()
        self.setWordWrap(True)

    def hasHeightForWidth(self) -> bool:
        return False

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), 2 * self.fontMetrics().lineSpacing())

    def minimumSizeHint(self) -> QSize:
        return QSize(0, 2 * self.fontMetrics().lineSpacing())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """One that is longer begins at the top, so that its first lines are seen."""
        needed = self.heightForWidth(self.width())
        self.setAlignment(_LEFT_TOP if needed > self.height() else _LEFT_MIDDLE)
        super().paintEvent(event)


def _filter_button(only: Only) -> QPushButton:
    button = QPushButton(only.value)
    button.setObjectName("panelName")
    button.setCheckable(True)
    button.setAccessibleName(f"Show attempts: {only.value}")
    return button

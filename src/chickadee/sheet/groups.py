"""The groups of a block while it is read: what stands in brackets, and what ``|:`` and ``:|`` say is played twice."""

from __future__ import annotations

from . import rules
from .bounds import Findings
from .finding import Fix, TextEdit
from .grammar import Token
from .length import Length
from .tree import BarLine, Change, Group, Node, Repeat

__all__ = ["MOST_DEPTH", "OpenGroups"]

MOST_DEPTH = 60
"""How deep groups may stand inside groups."""


class _OpenGroup:
    """A group that is open. ``is_repeat`` where ``|:`` opened it."""

    def __init__(self, token: Token, body: list[Node], is_repeat: bool = False) -> None:
        self.start = token.start()
        self.end = token.end()
        self.outer = body
        self.is_repeat = is_repeat


class OpenGroups:
    """The bodies of the groups that are open, one inside the other."""

    def __init__(self, text: str, findings: Findings) -> None:
        self.body: list[Node] = []
        """The nodes of the innermost group that is open."""
        self._text = text
        self._findings = findings
        self._open: list[_OpenGroup] = []
        self._stray = -1  # where the last bracket stands that closes no group

    def all_closed(self) -> tuple[Node, ...]:
        """The whole body; groups still open are closed here."""
        self._drop_repeats()
        while self._open:
            start = self._open[-1].start
            end = self._text.find("\n", start)
            line_end = start + len(self._text[start : end if end >= 0 else None].rstrip())
            fix = Fix("Close it at the end of the line", (TextEdit(line_end, line_end, " )"),))
            self._findings.append(rules.GROUP.at(start, start + 1, "This group has no closing bracket.", fix))
            self.close(start + 1, None, (), ())
            self._drop_repeats()
        return tuple(self.body)

    def open(self, token: Token) -> None:
        """Begin a group at an opening bracket."""
        if len(self._open) >= MOST_DEPTH:
            message = f"Groups may be nested at most {MOST_DEPTH} deep."
            self._findings.append(rules.GROUP.at(token.start(), token.end(), message))
            return
        self._open.append(_OpenGroup(token, self.body))
        self.body = []

    def repeat_sign(self, token: Token) -> None:
        """``|:`` and ``:|``, by which other notations say what is played twice: read as a group."""
        if token[0][0] == ":":
            self._close_repeat(token)
        else:
            self.body.append(BarLine(*token.span()))
        if token[0][-1] == ":" and len(self._open) < MOST_DEPTH:
            self._drop_repeats()
            self._open.append(_OpenGroup(token, self.body, is_repeat=True))
            self.body = []

    def _close_repeat(self, token: Token) -> None:
        """Play what stands since ``|:``, or since the start or the last repeat, twice."""
        start, end = token.span()
        closed = "|) x2 |:" if token[0][-1] == ":" else "|) x2"
        if self._open and self._open[-1].is_repeat:
            opened = self._open.pop()
            body, self.body = self.body, opened.outer
            before = self._text[opened.start : opened.end]
            plain = "(" if len(self.body) == 1 else "| ("
            written = ":| (" if before[0] == ":" else plain
            opening = TextEdit(opened.start, opened.end, written)
        else:
            ends = (place for place, node in enumerate(self.body, 1) if _is_repeated(node))
            first = max(ends, default=0)
            body = self.body[first:]
            del self.body[first:]
            at = body[0].start if body else start
            at -= at > 0 and self._text[at - 1] == "["  # of a list in brackets
            opening = TextEdit(at, at, "(")
        fix = Fix("Write ( … ) x2", (opening, TextEdit(start, end, closed)))
        fixes = [fix] if self._stray < opening.start else []
        self._findings.append(rules.NEAR_MISS.at(start, end, "What is played twice is written ( … ) x2.", *fixes))
        body.append(BarLine(start, end))
        self.body.append(Group(body[0].start, end, tuple(body), None, (Repeat(2),), ((start, end),)))

    def _drop_repeats(self) -> None:
        """Let a repeat that is open here go: its sign is a bar line."""
        while self._open and self._open[-1].is_repeat:
            opened = self._open.pop()
            fix = Fix("Make it a bar line", (TextEdit(opened.start, opened.end, "|"),))
            message = "This repeat has no :| after it."
            self._findings.append(rules.GROUP.at(opened.start, opened.end, message, fix))
            opened.outer += self.body
            self.body = opened.outer

    def may_close(self, token: Token) -> bool:
        """Return whether a closing bracket closes a group; one that does not is a finding."""
        self._drop_repeats()
        if not self._open:
            cut = Fix("Delete it", (TextEdit(token.start(), token.end(), ""),))
            message = "This bracket closes no group."
            self._stray = token.start()
            self._findings.append(rules.GROUP.at(token.start(), token.end(), message, cut))
        return bool(self._open)

    def close(
        self, end: int, length: Length | None, changes: tuple[Change, ...], spans: tuple[tuple[int, int], ...]
    ) -> None:
        """Close the innermost group, with the length it is fitted into and its changes."""
        opened = self._open.pop()
        group = Group(opened.start, end, tuple(self.body), length, changes, spans)
        self.body = opened.outer
        self.body.append(group)


def _is_repeated(node: Node) -> bool:
    return isinstance(node, Group) and Repeat(2) in node.changes

"""Programs in languages with braces, as the small tree: what JavaScript, C, C++ and Java have in common."""

from __future__ import annotations

import importlib
import re
from collections.abc import Callable, Iterator
from functools import lru_cache
from typing import TYPE_CHECKING, Protocol

from . import tree
from .offsets import Offsets
from .things import Char
from .tree import Expression, Function, Program, Span, Statement

if TYPE_CHECKING:
    from tree_sitter import Language, Node

__all__ = ["Braces", "Places", "grammar_of", "number_of", "read_braces", "unescaped"]

_MOST_DEPTH = 250  # of nodes in one another
_ESCAPE = re.compile(r"\\(?:u\{?([0-9a-fA-F]{1,6})\}?|x([0-9a-fA-F]{2})|(.))", re.DOTALL)
_ESCAPES = {"n": "\n", "t": "\t", "r": "\r", "0": "\0", "\n": ""}
_SIGNS = {"&&": "and", "||": "or", "??": "??"}
_COMPARING = frozenset(("==", "!=", "===", "!==", "<", ">", "<=", ">=", "in", "instanceof"))
_TOO_DEEP = "it is nested too deeply."
_MISSING = {
    ";": "`;` is missing at the end.",
    ")": "the bracket `(` is never closed.",
    "}": "the brace `{` is never closed.",
    "]": "the bracket `[` is never closed.",
    '"': "the quotes of a text are not closed.",
}


class _TooDeep(Exception):  # noqa: N818
    """The program is nested too deeply."""


@lru_cache
def grammar_of(name: str) -> Language:
    """Return a grammar by the name of its package."""
    from tree_sitter import Language

    return Language(importlib.import_module(f"tree_sitter_{name}").language())


def read_braces(text: str, language: str, grammar: str, reader: type[Braces]) -> Program:
    """Read a program by a grammar; one with a fault is read as far as that."""
    from tree_sitter import Parser

    data = text.encode("utf-8", "surrogatepass")
    root = Parser(grammar_of(grammar)).parse(data).root_node
    made = reader(Offsets(text), data)
    fault = made.fault_in(root) if root.has_error else None
    try:
        body = made.program(root, fault[0][0] if fault is not None else len(text) + 1)
    except (_TooDeep, RecursionError):
        body = ()
        fault = (0, 0), _TOO_DEEP
    return Program(language, body, text, fault)


class Places(Protocol):
    """Gives the offsets of bytes."""

    def of_byte(self, byte: int) -> int:
        """Return the offset of a byte of the text in UTF-8."""


class Braces:
    """Turns a parser's tree into ours, by the kinds of its nodes."""

    def __init__(self, offsets: Places, data: bytes) -> None:
        self.offsets = offsets
        self._data = data
        self._depth = 0
        self._until = 0

    def program(self, root: Node, until: int) -> tuple[Statement, ...]:
        """Return the statements of a program that begin before an offset."""
        self._until = until
        return self.statements(root.named_children)

    def fault_in(self, root: Node) -> tuple[Span, str] | None:
        """Return the first place that the grammar does not know, and the sentence about it."""
        waiting = [root]
        while waiting:
            node = waiting.pop()
            if node.is_missing:
                before = self.offsets.of_byte(node.start_byte)
                return (before, before), _MISSING.get(node.type, f"`{node.type[:20]}` is missing.")
            if node.is_error:
                words = " ".join(self.text(node).split())[:30]
                return self.span(node), f"“{words}” is not understood; is a bracket or a comma missing before it?"
            if node.has_error:
                waiting += reversed(node.children)
        return None

    # Nodes

    def span(self, node: Node) -> Span:
        """Return where a node stands."""
        return self.offsets.of_byte(node.start_byte), self.offsets.of_byte(node.end_byte)

    def text(self, node: Node | None) -> str:
        """Return a node's text; empty for none."""
        return self._data[node.start_byte : node.end_byte].decode("utf-8", "replace") if node is not None else ""

    def named(self, node: Node | None) -> list[Node]:
        """Return what is in a node, without comments."""
        return [each for each in node.named_children if "comment" not in each.type] if node is not None else []

    def part(self, node: Node, name: str) -> Node:
        """Return a part that a node has; the node itself where an error took it."""
        return node.child_by_field_name(name) or node

    def statements(self, nodes: list[Node]) -> tuple[Statement, ...]:
        """Return the statements of some nodes."""
        found: list[Statement] = []
        for node in nodes:
            is_broken = node.is_error or (node.has_error and node.type == "expression_statement")
            if "comment" in node.type or is_broken or self.offsets.of_byte(node.start_byte) >= self._until:
                continue
            found += self.statement(node)
        return tuple(found)

    def body(self, node: Node | None) -> tuple[Statement, ...]:
        """Return the statements of a block, or of a statement in its place."""
        if node is None:
            return ()
        if node.type in ("compound_statement", "statement_block", "block", "constructor_body"):
            return self.statements(node.named_children)
        return self.statements([node])

    def statement(self, node: Node) -> list[Statement]:
        """Return the statements that a node is."""
        reader: Callable[[Node, Span], list[Statement]] | None = getattr(self, f"s_{node.type}", None)
        self._depth += 1
        if self._depth > _MOST_DEPTH:
            raise _TooDeep
        try:
            span = self.span(node)
            if reader is not None:
                return reader(node, span)
            return [tree.Evaluate(self.of(node), span)]
        finally:
            self._depth -= 1

    def of(self, node: Node) -> Expression:
        """Return the expression that a node is."""
        reader: Callable[[Node, Span], Expression] | None = getattr(self, f"e_{node.type}", None)
        self._depth += 1
        if self._depth > _MOST_DEPTH:
            raise _TooDeep
        try:
            span = self.span(node)
            if reader is None:
                return tree.Unsupported(f"`{' '.join(self.text(node).split())[:30]}`", span)
            return reader(node, span)
        finally:
            self._depth -= 1

    def several(self, nodes: list[Node]) -> tuple[Expression, ...]:
        """Return the expressions that some nodes are."""
        return tuple(self.of(node) for node in nodes)

    # Statements

    def s_expression_statement(self, node: Node, span: Span) -> list[Statement]:
        return [tree.Evaluate(self.of(each), span) for each in self.named(node)]

    def s_block(self, node: Node, span: Span) -> list[Statement]:
        return [tree.Block(self.statements(node.named_children), span)]

    s_compound_statement = s_statement_block = s_block

    def s_empty_statement(self, node: Node, span: Span) -> list[Statement]:
        return []

    def s_if_statement(self, node: Node, span: Span) -> list[Statement]:
        otherwise = node.child_by_field_name("alternative")
        if otherwise is not None and otherwise.type == "else_clause":
            inner = self.named(otherwise)
            otherwise = inner[0] if inner else None
        condition = self.of(self.part(node, "condition"))
        return [tree.If(condition, self.block(node.child_by_field_name("consequence")), self.block(otherwise), span)]

    def block(self, node: Node | None) -> tuple[Statement, ...]:
        """Return a block with names of its own, where it may have some."""
        body = self.body(node)
        return (tree.Block(body, self.span(node)),) if node is not None and len(body) > 1 else body

    def s_while_statement(self, node: Node, span: Span) -> list[Statement]:
        body = self.block(node.child_by_field_name("body"))
        return [tree.While(self._condition(self.part(node, "condition")), body, span)]

    def s_do_statement(self, node: Node, span: Span) -> list[Statement]:
        body = self.block(node.child_by_field_name("body"))
        return [tree.While(self._condition(self.part(node, "condition")), body, span, asks_last=True)]

    def _condition(self, node: Node) -> Expression:
        """A condition; what is true whatever happens is a plain value."""
        found = self.of(node)
        return found._replace(value=bool(found.value)) if isinstance(found, tree.Literal) else found

    def s_for_statement(self, node: Node, span: Span) -> list[Statement]:
        start: list[Statement] = []
        for name in ("initializer", "init"):
            for each in node.children_by_field_name(name):
                start += self.statement(each) if each.is_named else []
        condition = node.child_by_field_name("condition")
        steps = [
            each for name in ("increment", "update") for each in node.children_by_field_name(name) if each.is_named
        ]
        asked = None
        if condition is not None and condition.type != "empty_statement":
            inner = self.named(condition)
            asked = self.of(inner[0] if condition.type == "expression_statement" and inner else condition)
        body = self.body(node.child_by_field_name("body"))
        return [tree.Count(tuple(start), asked, self.several(steps), body, span)]

    def s_break_statement(self, node: Node, span: Span) -> list[Statement]:
        return [tree.Break(span)]

    def s_continue_statement(self, node: Node, span: Span) -> list[Statement]:
        return [tree.Continue(span)]

    def s_return_statement(self, node: Node, span: Span) -> list[Statement]:
        inner = self.named(node)
        return [tree.Return(self.of(inner[0]) if inner else None, span)]

    def s_throw_statement(self, node: Node, span: Span) -> list[Statement]:
        inner = self.named(node)
        return [tree.Raise(self.of(inner[0]) if inner else None, span)]

    def s_try_statement(self, node: Node, span: Span) -> list[Statement]:
        body = self.body(node.child_by_field_name("body"))
        handler = node.child_by_field_name("handler") or next(
            (each for each in node.named_children if each.type == "catch_clause"), None
        )
        last = node.child_by_field_name("finalizer") or next(
            (each for each in node.named_children if each.type == "finally_clause"), None
        )
        caught = None if handler is None else self.body(handler.child_by_field_name("body"))
        inner = self.named(last)
        return [tree.Try(body, caught, self.body(inner[0]) if inner else (), span)]

    s_try_with_resources_statement = s_try_statement

    def s_labeled_statement(self, node: Node, span: Span) -> list[Statement]:
        inner = self.named(node)
        return self.statement(inner[-1]) if inner else []

    def switched(self, subject: Node, cases: Iterator[tuple[list[Node], list[Node]]], span: Span) -> list[Statement]:
        """Return a switch: for each case its values, none for all others, and its statements."""
        found = tuple((self.several(values), self.statements(body)) for values, body in cases)
        return [tree.Switch(self.of(subject), found, span)]

    def nothing(self, node: Node, span: Span) -> list[Statement]:
        """Return no statement at all."""
        return []

    # Expressions

    def e_identifier(self, node: Node, span: Span) -> Expression:
        return tree.Name(self.text(node), span)

    def e_parenthesized_expression(self, node: Node, span: Span) -> Expression:
        inner = self.named(node)
        return self.of(inner[-1]) if inner else tree.Unsupported("an empty bracket", span)

    def e_true(self, node: Node, span: Span) -> Expression:
        return tree.Literal(node.type == "true", span)

    e_false = e_true

    def e_null(self, node: Node, span: Span) -> Expression:
        return tree.Literal(None, span)

    def e_binary_expression(self, node: Node, span: Span) -> Expression:
        sign = self.text(self.part(node, "operator"))
        left = self.of(self.part(node, "left"))
        right = self.of(self.part(node, "right"))
        if sign in _SIGNS:
            return tree.Logic(_SIGNS[sign], left, right, span)
        if sign in _COMPARING:
            return tree.Comparison(left, ((sign, right),), span)
        return tree.Binary(sign, left, right, span)

    def e_unary_expression(self, node: Node, span: Span) -> Expression:
        sign = self.text(self.part(node, "operator"))
        operand = node.child_by_field_name("argument") or node.child_by_field_name("operand") or self.named(node)[-1]
        if sign in ("!", "not"):
            return tree.Unary("not", self.of(operand), span)
        if sign in ("-", "+", "~"):
            return tree.Unary(sign, self.of(operand), span)
        if sign == "void":
            return tree.Literal(None, span)
        return tree.Unsupported(f"`{sign}`", span)

    def e_assignment_expression(self, node: Node, span: Span) -> Expression:
        sign = self.text(node.child_by_field_name("operator")) or "="
        value = self.of(self.part(node, "right"))
        target = self.of(self.part(node, "left"))
        return tree.Assignment(target, "" if sign == "=" else sign[:-1], self.stored(target, value), span)

    e_augmented_assignment_expression = e_assignment_expression

    def stored(self, target: Expression, value: Expression) -> Expression:
        """Return a value as the target's kind keeps it."""
        return value

    def e_update_expression(self, node: Node, span: Span) -> Expression:
        argument = node.child_by_field_name("argument") or self.named(node)[0]
        signs = [each for each in node.children if each.type in ("++", "--")]
        gives_old = bool(signs) and signs[0].start_byte > argument.start_byte
        sign = "-" if signs and signs[0].type == "--" else "+"
        return tree.Assignment(self.of(argument), sign, tree.Literal(1, span), span, gives_old)

    def e_ternary_expression(self, node: Node, span: Span) -> Expression:
        parts = [self.of(self.part(node, name)) for name in ("condition", "consequence", "alternative")]
        return tree.Choice(parts[0], parts[1], parts[2], span)

    e_conditional_expression = e_ternary_expression

    def e_call_expression(self, node: Node, span: Span) -> Expression:
        arguments = self.named(node.child_by_field_name("arguments"))
        return tree.Call(self.of(self.part(node, "function")), self.several(arguments), (), span)

    def e_await_expression(self, node: Node, span: Span) -> Expression:
        return tree.Await(self.of(self.named(node)[0]), span)

    def e_array(self, node: Node, span: Span) -> Expression:
        return tree.Items(self.several(self.named(node)), span)

    e_initializer_list = e_array_initializer = e_array

    def e_this(self, node: Node, span: Span) -> Expression:
        return tree.Name("this", span)

    def e_string(self, node: Node, span: Span) -> Expression:
        return tree.Literal(unescaped(self.text(node)[1:-1]), span)

    e_string_literal = e_string

    def e_char_literal(self, node: Node, span: Span) -> Expression:
        sign = unescaped(self.text(node).partition("'")[2][:-1])
        return tree.Literal(Char(ord(sign[:1] or "\0")), span)

    e_character_literal = e_char_literal

    def e_number(self, node: Node, span: Span) -> Expression:
        return tree.Literal(number_of(self.text(node)), span)

    e_number_literal = e_decimal_integer_literal = e_decimal_floating_point_literal = e_number
    e_hex_integer_literal = e_octal_integer_literal = e_binary_integer_literal = e_number

    def e_sequence_expression(self, node: Node, span: Span) -> Expression:
        parts = self.several(self.named(node))
        return tree.Item(tree.Items(parts, span), tree.Literal(len(parts) - 1, span), span)

    e_comma_expression = e_sequence_expression

    def function(
        self,
        name: str,
        parameters: tuple[tree.Parameter, ...],
        body: tuple[Statement, ...],
        span: Span,
        is_async: bool = False,
        has_this: bool = False,
    ) -> Function:
        """Return a function."""
        return Function(name, parameters, body, span, frozenset(), is_async, has_this)

    def declared(self, name: str, value: Expression, span: Span) -> Statement:
        """Return a new variable."""
        return tree.Evaluate(tree.Assignment(tree.Name(name, span, "new"), "", value, span), span)


def unescaped(text: str) -> str:
    """Return a text without the backslashes of its source."""
    if "\\" not in text:
        return text

    def sign(found: re.Match[str]) -> str:
        code = found[1] or found[2]
        if code:
            return chr(int(code, 16)) if int(code, 16) < 0x110000 else "\ufffd"
        return _ESCAPES.get(found[3], found[3])

    return _ESCAPE.sub(sign, text)


def number_of(text: str) -> int | float:
    """Return the number that a literal means; 0 for one that is none."""
    plain = text.replace("_", "").replace("'", "").lower()
    if plain.startswith(("-", "+")):
        number = number_of(plain[1:])
        return -number if plain[0] == "-" else number
    try:
        if plain.startswith(("0x", "0b", "0o")):
            return int(plain.rstrip("lun"), 0)
        plain = plain.rstrip("lun")
        if re.fullmatch(r"[0-9]{1,300}", plain):
            return (
                int(plain, 8) if len(plain) > 1 and plain[0] == "0" and set(plain) <= set("01234567") else int(plain)
            )
        return float(plain.rstrip("fd"))
    except ValueError:
        return 0

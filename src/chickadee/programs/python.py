"""Programs in Python, as the small tree."""

from __future__ import annotations

import ast
import re
import warnings
from collections.abc import Callable, Sequence

from . import tree
from .offsets import Offsets
from .tree import Expression, Function, Program, Span, Statement

__all__ = ["read_python"]

_OPERATORS: dict[type, str] = {
    ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.FloorDiv: "//", ast.Mod: "%", ast.Pow: "**",
    ast.LShift: "<<", ast.RShift: ">>", ast.BitOr: "|", ast.BitXor: "^", ast.BitAnd: "&", ast.MatMult: "@",
    ast.Eq: "==", ast.NotEq: "!=", ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=",
    ast.Is: "is", ast.IsNot: "is not", ast.In: "in", ast.NotIn: "not in",
    ast.UAdd: "+", ast.USub: "-", ast.Not: "not", ast.Invert: "~",
}  # fmt: skip
_SENTENCES = (
    (r"'(.)' was never closed", "the bracket `{0}` is never closed."),
    (r"unmatched '(.)'|closing parenthesis '(.)' does not match", "a bracket is closed that does not fit."),
    (r"expected ':'", "`:` is missing at the end."),
    (r"unterminated (?:triple-quoted )?string", "the quotes of a text are not closed."),
    (r"expected an indented block", "what belongs to it must stand further to the right."),
    (r"unexpected indent", "it stands too far to the right."),
    (
        r"unindent does not match|inconsistent use of tabs",
        "it stands at none of the places where lines begin above it.",
    ),
    (r"Missing parentheses in call to '(\w+)'", "`{0}` needs brackets around what it is given."),
    (r"Maybe you meant '=='", "`==` compares, `=` gives a value."),
    (r"too many nested|too complex|recursion", "it is nested too deeply."),
    (r"invalid (?:non-printable )?character", "there is a sign here that Python does not know."),
    (r"leading zeros", "a number begins with 0."),
    (r"forgot a comma", "a comma is missing."),
    (r"outside function", "`return` stands outside any function."),
)
_OTHER_FAULT = "this is not Python."


def read_python(text: str) -> Program:
    """Read a program; one with a fault is read as far as that."""
    offsets = Offsets(text)
    fault: tuple[Span, str] | None = None
    body = ""
    for _ in range(2):
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                parsed = ast.parse(body or text)
            return Program("python", _Python(offsets).program(parsed), text, fault)
        except (SyntaxError, RecursionError, MemoryError, ValueError) as problem:
            line = max(1, getattr(problem, "lineno", 1) or 1)
            fault = fault or (offsets.span_of_line(line), _sentence(problem))
            body = _before(text, offsets, line)
            if not body.strip():
                break
    return Program("python", (), text, fault)


def _sentence(problem: Exception) -> str:
    words = str(problem)
    for pattern, sentence in _SENTENCES:
        if (found := re.search(pattern, words)) is not None:
            return sentence.format(*(group or "" for group in found.groups()))
    return "it is nested too deeply." if isinstance(problem, RecursionError | MemoryError) else _OTHER_FAULT


def _before(text: str, offsets: Offsets, line: int) -> str:
    """The whole statements at the left edge before a line; the rest of the text is left out."""
    lines = text[: offsets.of_line(line)].splitlines(keepends=True)
    while lines:
        last = lines[-1]
        if last.strip() and not last[:1].isspace() and not last.lstrip().startswith("#"):
            code = "".join(lines)
            try:
                with warnings.catch_warnings():
                    warnings.simplefilter("ignore")
                    ast.parse(code)
                return code
            except (SyntaxError, RecursionError, MemoryError, ValueError):
                pass
        lines.pop()
        if len(text) > 20_000 and len(lines) % 50:
            continue
    return ""


class _Python:
    """Turns Python's own tree into ours."""

    def __init__(self, offsets: Offsets) -> None:
        self._offsets = offsets
        self._own: frozenset[str] = frozenset()
        """The names of the function that is being read."""

    def program(self, module: ast.Module) -> tuple[Statement, ...]:
        return self._body(module.body)

    def _span(self, node: ast.expr | ast.stmt) -> Span:
        offsets = self._offsets
        end_line = node.end_lineno or node.lineno
        return offsets.of_line(node.lineno, node.col_offset), offsets.of_line(end_line, node.end_col_offset or 0)

    def _body(self, nodes: Sequence[ast.stmt]) -> tuple[Statement, ...]:
        return tuple(found for node in nodes for found in self._statements(node))

    def _statements(self, node: ast.stmt) -> list[Statement]:
        reader: Callable[[ast.stmt, Span], list[Statement]] | None = getattr(self, f"_{type(node).__name__}", None)
        span = self._span(node)
        if reader is None:
            return [tree.Unsupported(f"`{type(node).__name__.lower()}`", span)]
        return reader(node, span)

    # Statements

    def _Expr(self, node: ast.Expr, span: Span) -> list[Statement]:
        return [] if isinstance(node.value, ast.Constant) else [tree.Evaluate(self._of(node.value), span)]

    def _Assign(self, node: ast.Assign, span: Span) -> list[Statement]:
        value = self._of(node.value)
        for target in reversed(node.targets):
            value = tree.Assignment(self._of(target), "", value, span)
        return [tree.Evaluate(value, span)]

    def _AnnAssign(self, node: ast.AnnAssign, span: Span) -> list[Statement]:
        if node.value is None:
            return []
        return [tree.Evaluate(tree.Assignment(self._of(node.target), "", self._of(node.value), span), span)]

    def _AugAssign(self, node: ast.AugAssign, span: Span) -> list[Statement]:
        sign = _OPERATORS[type(node.op)]
        return [tree.Evaluate(tree.Assignment(self._of(node.target), sign, self._of(node.value), span), span)]

    def _For(self, node: ast.For, span: Span) -> list[Statement]:
        return [
            tree.Each(
                self._of(node.target), self._of(node.iter), self._body(node.body), span, self._body(node.orelse)
            )
        ]

    _AsyncFor = _For

    def _While(self, node: ast.While, span: Span) -> list[Statement]:
        return [tree.While(self._of(node.test), self._body(node.body), span, otherwise=self._body(node.orelse))]

    def _If(self, node: ast.If, span: Span) -> list[Statement]:
        return [tree.If(self._of(node.test), self._body(node.body), self._body(node.orelse), span)]

    def _Match(self, node: ast.Match, span: Span) -> list[Statement]:
        cases = []
        for case in node.cases:
            values = _values_of(case.pattern)
            if values is None or case.guard is not None:
                return [tree.Unsupported("this `match`", span)]
            cases.append((tuple(self._of(value) for value in values), self._body(case.body)))
        return [tree.Switch(self._of(node.subject), tuple(cases), span, falls_through=False)]

    def _Break(self, node: ast.Break, span: Span) -> list[Statement]:
        return [tree.Break(span)]

    def _Continue(self, node: ast.Continue, span: Span) -> list[Statement]:
        return [tree.Continue(span)]

    def _Return(self, node: ast.Return, span: Span) -> list[Statement]:
        return [tree.Return(self._of(node.value) if node.value is not None else None, span)]

    def _FunctionDef(self, node: ast.FunctionDef, span: Span) -> list[Statement]:
        return [self._defined(node, span)]

    _AsyncFunctionDef = _FunctionDef

    def _defined(
        self, node: ast.FunctionDef | ast.AsyncFunctionDef, span: Span, is_method: bool = False
    ) -> tree.Define:
        function = self._function(node.name, node.args, node.body, span, isinstance(node, ast.AsyncFunctionDef))
        if is_method and function.parameters and not any("static" in ast.dump(each) for each in node.decorator_list):
            own = getattr(function.parameters[0].target, "name", "self")
            take = tree.Evaluate(
                tree.Assignment(tree.Name(own, span, "own"), "", tree.Name("this", span), span), span
            )
            function = function._replace(
                parameters=function.parameters[1:], body=(take, *function.body), has_this=True
            )
        return tree.Define(function, span)

    def _ClassDef(self, node: ast.ClassDef, span: Span) -> list[Statement]:
        body: list[Statement] = []
        fields: list[tuple[str, Expression | None]] = []
        outer = self._own
        self._own = frozenset(_assigned(node.body))
        is_record = any("dataclass" in ast.dump(each) for each in node.decorator_list)
        is_record = is_record or any("NamedTuple" in ast.dump(each) for each in node.bases)
        for each in node.body:
            if isinstance(each, ast.FunctionDef | ast.AsyncFunctionDef):
                continue
            if is_record and isinstance(each, ast.AnnAssign) and isinstance(each.target, ast.Name):
                fields.append((each.target.id, self._of(each.value) if each.value is not None else None))
            else:
                body += self._statements(each)
        self._own = outer
        methods = [
            self._defined(each, self._span(each), is_method=True).function
            for each in node.body
            if isinstance(each, ast.FunctionDef | ast.AsyncFunctionDef)
        ]
        base = self._of(node.bases[0]) if node.bases and not is_record else None
        return [tree.ClassDefinition(node.name, base, tuple(methods), tuple(body), tuple(fields), span)]

    def _Import(self, node: ast.Import, span: Span) -> list[Statement]:
        names = []
        for each in node.names:
            first = each.name.partition(".")[0]
            names.append((each.asname or first, each.name if each.asname else first))
        return [tree.Import(tuple(names), span)]

    def _ImportFrom(self, node: ast.ImportFrom, span: Span) -> list[Statement]:
        names = [(each.asname or each.name, f"{node.module or ''}.{each.name}") for each in node.names]
        return [tree.Import(tuple(name for name in names if name[0] != "*"), span)]

    def _Try(self, node: ast.Try, span: Span) -> list[Statement]:
        handler = self._body(node.handlers[0].body) if node.handlers else None
        body = (*self._body(node.body), *self._body(node.orelse))
        return [tree.Try(body, handler, self._body(node.finalbody), span)]

    def _With(self, node: ast.With, span: Span) -> list[Statement]:
        found: list[Statement] = []
        for each in node.items:
            value = self._of(each.context_expr)
            if each.optional_vars is not None:
                value = tree.Assignment(self._of(each.optional_vars), "", value, span)
            found.append(tree.Evaluate(value, span))
        return [*found, *self._body(node.body)]

    _AsyncWith = _With

    def _Raise(self, node: ast.Raise, span: Span) -> list[Statement]:
        return [tree.Raise(self._of(node.exc) if node.exc is not None else None, span)]

    def _nothing(self, node: ast.stmt, span: Span) -> list[Statement]:
        return []

    _Pass = _Global = _Nonlocal = _Assert = _Delete = _nothing

    # Expressions

    def _of(self, node: ast.expr) -> Expression:
        span = self._span(node)
        match node:
            case ast.Constant(value=value):
                return _constant(value, span)
            case ast.Name(id=name):
                return tree.Name(name, span, "own" if name in self._own else "found")
            case ast.Call():
                return self._call(node, span)
            case ast.Attribute(value=owner, attr=name):
                return tree.Member(self._of(owner), name, span)
            case ast.Subscript(value=owner, slice=ast.Slice(lower=lower, upper=upper, step=step)):
                bounds = [self._of(each) if each is not None else None for each in (lower, upper, step)]
                return tree.Slice(self._of(owner), bounds[0], bounds[1], bounds[2], span)
            case ast.Subscript(value=owner, slice=index):
                return tree.Item(self._of(owner), self._of(index), span)
            case ast.BinOp(left=left, op=operator, right=right):
                return tree.Binary(_OPERATORS[type(operator)], self._of(left), self._of(right), span)
            case ast.UnaryOp(op=operator, operand=operand):
                return tree.Unary(_OPERATORS[type(operator)], self._of(operand), span)
            case ast.BoolOp(op=operator, values=values):
                sign = "and" if isinstance(operator, ast.And) else "or"
                found = self._of(values[-1])
                for each in reversed(values[:-1]):
                    found = tree.Logic(sign, self._of(each), found, span)
                return found
            case ast.Compare(left=left, ops=operators, comparators=others):
                rest = zip(operators, others, strict=True)
                signs = tuple((_OPERATORS[type(operator)], self._of(other)) for operator, other in rest)
                return tree.Comparison(self._of(left), signs, span)
            case ast.IfExp(test=test, body=then, orelse=otherwise):
                return tree.Choice(self._of(test), self._of(then), self._of(otherwise), span)
            case ast.List(elts=items) | ast.Set(elts=items):
                return tree.Items(tuple(self._of(each) for each in items), span)
            case ast.Tuple(elts=items):
                return tree.Items(tuple(self._of(each) for each in items), span, is_fixed=True)
            case ast.Dict(keys=keys, values=values):
                pairs = zip(keys, values, strict=True)
                return tree.Pairs(
                    tuple((self._of(key) if key is not None else None, self._of(value)) for key, value in pairs), span
                )
            case ast.JoinedStr(values=values):
                return tree.Text(tuple(self._part(each) for each in values), span)
            case ast.Starred(value=value):
                return tree.Spread(self._of(value), span)
            case ast.Await(value=value):
                return tree.Await(self._of(value), span)
            case ast.NamedExpr(target=target, value=value):
                return tree.Assignment(self._of(target), "", self._of(value), span)
            case ast.Lambda(args=arguments, body=body):
                return self._function("", arguments, [ast.Return(body, **_places(body))], span)
            case ast.ListComp(elt=element) | ast.GeneratorExp(elt=element) | ast.SetComp(elt=element):
                return self._comprehension(element, node.generators, span)
            case ast.DictComp(key=key, value=value):
                return self._comprehension(value, node.generators, span, key)
        return tree.Unsupported(f"`{type(node).__name__.lower()}`", span)

    def _part(self, node: ast.expr) -> Expression:
        """A piece of a text with values in it."""
        if isinstance(node, ast.FormattedValue):
            if node.format_spec is None:
                return self._of(node.value)
            arguments = (self._of(node.value), self._of(node.format_spec))
            span = self._span(node)
            return tree.Call(tree.Name("format", span), arguments, (), span)
        return self._of(node)

    def _call(self, node: ast.Call, span: Span) -> Expression:
        keywords = tuple((each.arg, self._of(each.value)) for each in node.keywords)
        return tree.Call(self._of(node.func), tuple(self._of(each) for each in node.args), keywords, span)

    def _comprehension(
        self, element: ast.expr, loops: Sequence[ast.comprehension], span: Span, key: ast.expr | None = None
    ) -> Expression:
        outer = self._own
        names = {each.id for loop in loops for each in ast.walk(loop.target) if isinstance(each, ast.Name)}
        self._own = outer - names
        found = tuple(
            (_new(self._of(loop.target)), self._of(loop.iter), tuple(self._of(each) for each in loop.ifs))
            for loop in loops
        )
        made = tree.Comprehension(self._of(element), found, span, self._of(key) if key is not None else None)
        self._own = outer
        return made

    def _function(
        self, name: str, arguments: ast.arguments, body: Sequence[ast.stmt], span: Span, is_async: bool = False
    ) -> Function:
        plain = [*arguments.posonlyargs, *arguments.args]
        defaults = [None] * (len(plain) - len(arguments.defaults)) + list(arguments.defaults)
        parameters = [
            tree.Parameter(tree.Name(each.arg, span, "own"), self._of(default) if default is not None else None)
            for each, default in zip(plain, defaults, strict=True)
        ]
        if arguments.vararg is not None:
            parameters.append(tree.Parameter(tree.Name(arguments.vararg.arg, span, "own"), None, "*"))
        for each, default in zip(arguments.kwonlyargs, arguments.kw_defaults, strict=True):
            given = self._of(default) if default is not None else None
            parameters.append(tree.Parameter(tree.Name(each.arg, span, "own"), given))
        if arguments.kwarg is not None:
            parameters.append(tree.Parameter(tree.Name(arguments.kwarg.arg, span, "own"), None, "**"))
        outer = self._own
        own = {getattr(each.target, "name", "") for each in parameters}
        if name:  # else it is a lambda, which holds no statements
            own = (own | _assigned(body)) - _declared_outside(body)
        self._own = frozenset(own)
        made = Function(name, tuple(parameters), self._body(body), span, self._own, is_async)
        self._own = outer
        return made


def _places(node: ast.expr) -> dict[str, int]:
    return {
        "lineno": node.lineno,
        "col_offset": node.col_offset,
        "end_lineno": node.end_lineno or node.lineno,
        "end_col_offset": node.end_col_offset or 0,
    }


def _constant(value: object, span: Span) -> Expression:
    if isinstance(value, bytes):
        return tree.Literal(value.decode("latin-1"), span)
    if isinstance(value, complex) or value is Ellipsis:
        return tree.Literal(None, span)
    return tree.Literal(value, span)


def _new(target: Expression) -> Expression:
    """A target whose names are made anew in the block."""
    if isinstance(target, tree.Name):
        return target._replace(scope="new")
    if isinstance(target, tree.Items):
        return target._replace(items=tuple(_new(each) for each in target.items))
    return target


def _values_of(pattern: ast.pattern) -> list[ast.expr] | None:
    """The values of a case, none for the one that takes all others; None for patterns that are no values."""
    match pattern:
        case ast.MatchValue(value=value):
            return [value]
        case ast.MatchAs(pattern=None, name=None):
            return []
        case ast.MatchOr(patterns=patterns):
            found = [_values_of(each) for each in patterns]
            return [value for each in found if each for value in each] if all(found) else None
    return None


def _assigned(body: Sequence[ast.stmt]) -> set[str]:
    """The names that a function's own statements give a value to."""
    found: set[str] = set()
    waiting: list[ast.AST] = list(body)
    while waiting:
        node = waiting.pop()
        if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
            found.add(node.id)
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
            found.add(node.name)
        elif isinstance(node, ast.Import | ast.ImportFrom):
            found.update(each.asname or each.name.partition(".")[0] for each in node.names)
        elif not isinstance(node, ast.Lambda | ast.ListComp | ast.SetComp | ast.DictComp | ast.GeneratorExp):
            waiting.extend(ast.iter_child_nodes(node))
    return found


def _declared_outside(body: Sequence[ast.stmt]) -> set[str]:
    return {
        name
        for each in body
        for node in ast.walk(each)
        if isinstance(node, ast.Global | ast.Nonlocal)
        for name in node.names
    }

"""Expressions as functions of the names in force."""

from __future__ import annotations

import operator
from abc import ABC, abstractmethod
from collections.abc import Callable

from ..sheet.near import Lookalikes
from . import tree
from .facts import Facts
from .faults import End, TraceFault
from .items import as_key, item_of, sliced, spread
from .machine import Machine
from .methods import call_method, member_of
from .operations import COMPARING, binary, compared, is_true, negated, text_of
from .places import Place, cast, place_of
from .recording import Joined
from .things import Closure, Outside, Promised, Record, Scope
from .tree import Expression, Function, Span
from .vocabulary import is_known_word

__all__ = ["Evaluated", "Expressions"]

Evaluated = Callable[[Scope], object]
_QUICK: dict[str, Callable[[int, int], int]] = {"+": operator.add, "-": operator.sub, "*": operator.mul}
_SMALL = 1 << 30  # whole numbers whose sums and products need no bound
_LIKENESS = 0.74  # of a name to one that is defined, from 0 to 1


class Expressions(ABC):
    """Turns expressions into functions that evaluate them."""

    def __init__(self, machine: Machine, facts: Facts) -> None:
        self.machine = machine
        self.facts = facts
        self._lookalikes = Lookalikes()
        self._known_near: dict[str, str | None] = {}
        self._known: dict[type, Callable[..., Evaluated]] = {
            tree.Literal: self._literal,
            tree.Name: self._name,
            tree.Items: self._items,
            tree.Pairs: self._pairs,
            tree.Text: self._text,
            tree.Binary: self._binary,
            tree.Unary: self._unary,
            tree.Logic: self._logic,
            tree.Comparison: self._comparison,
            tree.Choice: self._choice,
            tree.Call: self._call,
            tree.Member: self._member,
            tree.Item: self._item,
            tree.Slice: self._slice,
            tree.Function: self._function,
            tree.Comprehension: self._comprehension,
            tree.Await: self._await,
            tree.Assignment: self._assignment,
            tree.Cast: self._cast,
            tree.Spread: self._spread,
            tree.Unsupported: self.unsupported,
        }

    def of(self, node: Expression) -> Evaluated:
        """Return the function that evaluates an expression."""
        return self._known[type(node)](node)

    @abstractmethod
    def body(self, function: Function) -> Callable[[Scope], object]:
        """Return the function that runs a function's body."""

    # Plain values

    def _literal(self, node: tree.Literal) -> Evaluated:
        value = node.value
        return lambda scope: value

    def _name(self, node: tree.Name) -> Evaluated:
        name = node.name
        own = node.scope == "own"
        knows_fields = self.machine.rules.knows_fields

        def run(scope: Scope) -> object:
            place: Scope | None = scope
            while place is not None:
                if name in place:
                    return place[name]
                if knows_fields and place.is_function and isinstance(record := place.get("this"), Record):
                    if name in record.fields:
                        return record.fields[name]
                    if (method := record.kind.method(name)) is not None:
                        return method.of(record)
                if own and place.is_function:
                    raise TraceFault(f"`{name}` is asked for before it has a value in this part.", node.span)
                place = place.outer
            return self._missing(node)

        return run

    def _missing(self, node: tree.Name) -> object:
        """A name that nothing was given to: something from outside, unless it is nearly one of the program's."""
        if node.name in self.machine.built_in:
            return self.machine.built_in[node.name]
        if node.name in self.facts.names:
            if self.machine.rules.name == "python":
                raise TraceFault(f"`{node.name}` is asked for before it has a value.", node.span)
        elif (near := self._near(node.name)) is not None:
            raise TraceFault(f"`{node.name}` is not defined; `{near}` is near.", node.span)
        return Outside(node.name)

    def _near(self, name: str) -> str | None:
        """The name of the program's that another is nearly; None where there is none, or it is one by itself."""
        if name not in self._known_near:
            near = [] if is_known_word(name) else self._lookalikes.of(name, self.facts.near_names, _LIKENESS)
            # `Synth` beside `synth` is a class from elsewhere
            likely = [each for each in near if each[0].isupper() == name[0].isupper()]
            self._known_near[name] = likely[0] if likely else None
        return self._known_near[name]

    def _items(self, node: tree.Items) -> Evaluated:
        parts = self._several(node.items)
        machine = self.machine
        is_fixed = node.is_fixed

        def run(scope: Scope) -> object:
            found = parts(scope)
            machine.take(len(found) + 1, node.span)
            return tuple(found) if is_fixed else found

        return run

    def _several(self, nodes: tuple[Expression, ...]) -> Callable[[Scope], list[object]]:
        """Return the function that gives the values of several expressions, with those that are spread."""
        if not any(isinstance(each, tree.Spread) for each in nodes):
            plain = [self.of(each) for each in nodes]
            return lambda scope: [each(scope) for each in plain]
        parts = [
            (self.of(each.value if isinstance(each, tree.Spread) else each), isinstance(each, tree.Spread), each.span)
            for each in nodes
        ]

        def run(scope: Scope) -> list[object]:
            found: list[object] = []
            for each, is_spread, span in parts:
                if is_spread:
                    found += spread(each(scope), self.machine, span)
                else:
                    found.append(each(scope))
            return found

        return run

    def _spread(self, node: tree.Spread) -> Evaluated:
        """A star where nothing can be spread."""
        return self.unsupported(tree.Unsupported("a star in this place", node.span))

    def _pairs(self, node: tree.Pairs) -> Evaluated:
        pairs = [(self.of(key) if key is not None else None, self.of(value)) for key, value in node.pairs]
        machine = self.machine

        def run(scope: Scope) -> object:
            machine.take(len(pairs) + 1, node.span)
            found: dict[object, object] = {}
            for key, value in pairs:
                if key is not None:
                    found[as_key(key(scope), node.span)] = value(scope)
                elif isinstance(other := value(scope), dict):
                    machine.take(len(other), node.span)
                    found.update(other)
            return found

        return run

    def _text(self, node: tree.Text) -> Evaluated:
        parts = [self.of(part) for part in node.parts]
        machine = self.machine
        return lambda scope: machine.text("".join([text_of(part(scope), machine) for part in parts]), node.span)

    # Operators

    def _binary(self, node: tree.Binary) -> Evaluated:
        left = self.of(node.left)
        right = self.of(node.right)
        machine = self.machine
        sign = node.operator
        span = node.span
        quick = _QUICK.get(sign)
        if quick is None:
            return lambda scope: binary(sign, left(scope), right(scope), machine, span)

        def run(scope: Scope) -> object:
            one = left(scope)
            other = right(scope)
            if type(one) is int and type(other) is int and -_SMALL < one < _SMALL and -_SMALL < other < _SMALL:
                return quick(one, other)
            return binary(sign, one, other, machine, span)

        return run

    def _unary(self, node: tree.Unary) -> Evaluated:
        operand = self.of(node.operand)
        machine = self.machine
        span = node.span
        if node.operator == "not":
            return lambda scope: not is_true(operand(scope), machine, span)
        if node.operator == "-":
            return lambda scope: negated(operand(scope), machine, span)
        if node.operator == "+":
            return lambda scope: binary("-", operand(scope), 0, machine, span)
        return lambda scope: binary("-", binary("-", 0, operand(scope), machine, span), 1, machine, span)

    def _logic(self, node: tree.Logic) -> Evaluated:
        left = self.of(node.left)
        right = self.of(node.right)
        machine = self.machine
        span = node.span
        if node.operator == "??":
            return lambda scope: value if (value := left(scope)) is not None else right(scope)
        wanted = node.operator == "or"

        def run(scope: Scope) -> object:
            value = left(scope)
            return value if is_true(value, machine, span) is wanted else right(scope)

        return run

    def _comparison(self, node: tree.Comparison) -> Evaluated:
        first = self.of(node.first)
        rest = [(sign, self.of(each)) for sign, each in node.rest]
        machine = self.machine
        span = node.span
        if len(rest) == 1:
            sign, second = rest[0]
            quick = COMPARING.get(sign)
            if quick is None:
                return lambda scope: compared(sign, first(scope), second(scope), machine, span)

            def run_one(scope: Scope) -> object:
                one = first(scope)
                other = second(scope)
                if type(one) is int and type(other) is int:
                    return quick(one, other)
                return compared(sign, one, other, machine, span)

            return run_one

        def run(scope: Scope) -> object:
            left = first(scope)
            result: object = True
            for sign, each in rest:
                right = each(scope)
                result = compared(sign, left, right, machine, span)
                if result is False:
                    return False
                left = right
            return result

        return run

    def _choice(self, node: tree.Choice) -> Evaluated:
        condition = self.of(node.condition)
        then = self.of(node.then)
        otherwise = self.of(node.otherwise)
        machine = self.machine
        span = node.span
        return lambda scope: then(scope) if is_true(condition(scope), machine, span) else otherwise(scope)

    # Calls

    def _call(self, node: tree.Call) -> Evaluated:
        arguments = self._several(node.arguments)
        keywords = self._keywords(node)
        machine = self.machine
        span = node.span
        if isinstance(node.function, tree.Member):
            owner = self.of(node.function.owner)
            name = node.function.name

            def run_method(scope: Scope) -> object:
                target = owner(scope)
                return call_method(target, name, arguments(scope), keywords(scope), machine, span)

            return run_method
        function = self.of(node.function)
        if node.is_new:

            def run_new(scope: Scope) -> object:
                made = function(scope)
                if isinstance(made, Outside):
                    arguments(scope)
                    return Outside(made.name)
                return machine.call(made, arguments(scope), keywords(scope), span)

            return run_new
        return lambda scope: machine.call(function(scope), arguments(scope), keywords(scope), span)

    def _keywords(self, node: tree.Call) -> Callable[[Scope], dict[str, object]]:
        if not node.keywords:
            return lambda scope: {}
        named = [(name, self.of(value)) for name, value in node.keywords]

        def run(scope: Scope) -> dict[str, object]:
            found: dict[str, object] = {}
            for name, value in named:
                given = value(scope)
                if name is not None:
                    found[name] = given
                elif isinstance(given, dict):
                    found.update({str(key): each for key, each in given.items()})
            return found

        return run

    def _await(self, node: tree.Await) -> Evaluated:
        value = self.of(node.value)
        machine = self.machine

        def run(scope: Scope) -> object:
            found = value(scope)
            if isinstance(found, Promised):
                machine.into.append(Joined(found.flow))
                return found.value
            return found

        return run

    def _function(self, node: Function) -> Evaluated:
        body = self.body(node)
        bind = self._binder(node)
        stands_in = node.name in self.facts.stand_ins

        def run(scope: Scope) -> object:
            closure = Closure(node, scope, body, bind, is_stand_in=stands_in)
            if not node.has_this and "this" in scope:
                closure.this = scope["this"]
            return closure

        return run

    def _binder(self, node: Function) -> Callable[[Scope, Scope, list[object], dict[str, object], Span], None]:
        places = [
            (
                place_of(self, each.target),
                getattr(each.target, "name", ""),
                self.of(each.default) if each.default is not None else None,
                each.gathers,
            )
            for each in node.parameters
        ]
        lenient = self.machine.rules.gives_nothing

        def bind(
            scope: Scope, outer: Scope, arguments: list[object], keywords: dict[str, object], span: Span
        ) -> None:
            left = list(arguments)
            for place, name, default, gathers in places:
                if gathers == "*":
                    place.put(scope, left, span)
                    left = []
                elif gathers == "**":
                    place.put(scope, dict(keywords), span)
                elif left and not (lenient and left[0] is None and default is not None):
                    place.put(scope, left.pop(0), span)
                elif name in keywords:
                    place.put(scope, keywords[name], span)
                elif default is not None:
                    del left[:1]
                    place.put(scope, default(scope), span)
                elif lenient:
                    place.put(scope, None, span)
                else:
                    raise TraceFault(f"`{node.name or 'this function'}` is not given its `{name}`.", span)
            if left and not lenient:
                wanted = len(places)
                raise TraceFault(
                    f"`{node.name or 'this function'}` takes {wanted} value{'' if wanted == 1 else 's'} "
                    f"and is given {len(arguments)}.",
                    span,
                )

        return bind

    # Members and items

    def _member(self, node: tree.Member) -> Evaluated:
        owner = self.of(node.owner)
        machine = self.machine
        return lambda scope: member_of(owner(scope), node.name, machine, node.span)

    def _item(self, node: tree.Item) -> Evaluated:
        owner = self.of(node.owner)
        index = self.of(node.place)
        machine = self.machine
        span = node.span
        return lambda scope: item_of(owner(scope), index(scope), machine, span)

    def _slice(self, node: tree.Slice) -> Evaluated:
        owner = self.of(node.owner)
        bounds = [self.of(each) if each is not None else None for each in (node.start, node.stop, node.step)]
        machine = self.machine
        return lambda scope: sliced(
            owner(scope), [each(scope) if each is not None else None for each in bounds], machine, node.span
        )

    def _comprehension(self, node: tree.Comprehension) -> Evaluated:
        element = self.of(node.element)
        key = self.of(node.key) if node.key is not None else None
        loops = [
            (place_of(self, target), self.of(source), [self.of(each) for each in conditions])
            for target, source, conditions in node.loops
        ]
        machine = self.machine

        def go(scope: Scope, depth: int, found: list[object]) -> None:
            if depth == len(loops):
                machine.take(1, node.span)
                found.append((as_key(key(scope), node.span), element(scope)) if key is not None else element(scope))
                return
            place, source, conditions = loops[depth]
            into = machine.into
            loop = machine.begin_loop(node.span)
            try:
                for item in spread(source(scope), machine, node.span):
                    machine.begin_turn(loop)
                    place.put(scope, item, node.span)
                    if all(is_true(each(scope), machine, node.span) for each in conditions):
                        go(scope, depth + 1, found)
            finally:
                machine.end_loop(loop, into)

        def run(scope: Scope) -> object:
            found: list[object] = []
            go(Scope(scope), 0, found)
            return dict(found) if key is not None else found  # type: ignore[arg-type]

        return run

    # Assignments

    def place(self, node: Expression) -> Place:
        """Return the place that a target names."""
        return place_of(self, node)

    def _assignment(self, node: tree.Assignment) -> Evaluated:
        value = self.of(node.value)
        place = place_of(self, node.target)
        machine = self.machine
        span = node.span
        if not node.operator:

            def run(scope: Scope) -> object:
                given = value(scope)
                place.put(scope, given, span)
                return given

            return run
        old = self.of(node.target)
        sign = node.operator

        def change(scope: Scope) -> object:
            before = old(scope)
            if sign == "+" and isinstance(before, list) and machine.rules.name == "python":
                before += spread(value(scope), machine, span)
                return before
            if sign == "??":
                after = before if before is not None else value(scope)
            else:
                after = binary(sign, before, value(scope), machine, span)
            place.put(scope, after, span)
            return before if node.gives_old else after

        return change

    def _cast(self, node: tree.Cast) -> Evaluated:
        value = self.of(node.value)
        machine = self.machine
        return lambda scope: cast(node.kind, value(scope), machine, node.span)

    def unsupported(self, node: tree.Unsupported) -> Evaluated:
        """Return what ends the trace: a construct that is not understood."""

        def run(scope: Scope) -> object:
            raise TraceFault(f"{node.words} is not understood here.", node.span, End.BOUND)

        return run

"""Random programs of the understood part of Python sound as the real Python runs them."""

from __future__ import annotations

import sys

from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.programs.python import read_python
from chickadee.programs.recording import heard_in
from chickadee.programs.tracing import traced

NAMES = ("a", "b", "c")
NUMBERS = st.integers(-3, 9).map(str)


def expressions(depth: int = 0) -> st.SearchStrategy[str]:
    simple = st.one_of(NUMBERS, st.sampled_from(NAMES), st.sampled_from(("0.5", "1.25", "n[0]", "n[-1]", "len(n)")))
    if depth > 2:
        return simple
    inner = expressions(depth + 1)
    return st.one_of(
        simple,
        st.tuples(inner, st.sampled_from(("+", "-", "*", "//", "%", "/", "**")), inner).map(
            lambda each: f"({' '.join(each)})"
        ),
        st.tuples(inner, st.sampled_from(("<", "<=", "==", "!=", ">")), inner).map(
            lambda each: f"({' '.join(each)})"
        ),
        st.tuples(inner, inner, inner).map(lambda each: f"({each[0]} if {each[1]} else {each[2]})"),
        st.tuples(inner, st.sampled_from(("and", "or")), inner).map(lambda each: f"({' '.join(each)})"),
        inner.map(lambda each: f"abs({each})"),
        inner.map(lambda each: f"(not {each})"),
        st.tuples(inner, inner).map(lambda each: f"max({each[0]}, {each[1]})"),
        st.tuples(inner, inner).map(lambda each: f"f({each[0]}, {each[1]})"),
        inner.map(lambda each: f"n[({each}) and 1]"),
    )


def joined(blocks: list[list[str]]) -> list[str]:
    return [line for block in blocks for line in block]


def statements(depth: int = 0, in_loop: bool = False) -> st.SearchStrategy[list[str]]:
    value = expressions()
    plain = [
        st.tuples(value, value).map(lambda each: [f"play({each[0]}, {each[1]})"]),
        value.map(lambda each: [f"rest({each})"]),
        st.tuples(st.sampled_from(NAMES), value).map(lambda each: [f"{each[0]} = {each[1]}"]),
        st.tuples(st.sampled_from(NAMES), st.sampled_from(("+=", "-=", "*=")), value).map(
            lambda each: [" ".join(each)]
        ),
        value.map(lambda each: [f"n.append({each})"]),
        st.just(["a, b = b, a"]),
    ]
    if in_loop:
        plain.append(st.sampled_from((["break"], ["continue"])))
    if depth > 1:
        return st.one_of(plain)
    block = st.lists(statements(depth + 1, in_loop), min_size=1, max_size=3).map(joined)
    loop = st.lists(statements(depth + 1, True), min_size=1, max_size=3).map(joined)
    return st.one_of(
        *plain,
        st.tuples(value, block, block).map(
            lambda each: [f"if {each[0]}:", *deeper(each[1]), "else:", *deeper(each[2])]
        ),
        st.tuples(st.integers(0, 4), loop).map(lambda each: [f"for i in range({each[0]}):", *deeper(each[1])]),
        loop.map(lambda each: ["for c in n[:4]:", *deeper(each)]),
        st.tuples(st.integers(1, 3), loop).map(
            lambda each: ["w = 0", f"while w < {each[0]}:", "    w += 1", *deeper(each[1])]
        ),
        st.tuples(block, block).map(lambda each: ["try:", *deeper(each[0]), "except Exception:", *deeper(each[1])]),
    )


def deeper(lines: list[str]) -> list[str]:
    return [f"    {line}" for line in lines]


HEAD = ["a = 1", "b = 2", "c = 3", "n = [60, 62.5, 64]", "def f(x, y=2):", "    play(x)", "    return x - y"]
PROGRAMS = st.lists(statements(), min_size=1, max_size=6).map(lambda each: "\n".join([*HEAD, *joined(each), ""]))


class _Enough(BaseException):
    """The real program goes on for longer than it is compared."""


def really(text: str) -> tuple[list[tuple], bool]:
    """What Python itself gives play and rest, with the lines; and whether it raised anything."""
    calls: list[tuple] = []

    def stand_in(verb):
        def called(*given):
            calls.append((verb, given, sys._getframe(1).f_lineno))
            if len(calls) > 2_000 or any(isinstance(each, complex) for each in given):
                raise _Enough

        return called

    try:
        exec(compile(text, "program", "exec"), {"play": stand_in("play"), "rest": stand_in("rest")})
    except _Enough:
        return [], True
    except Exception:
        return calls, True
    return calls, False


@settings(max_examples=200, deadline=None)
@given(PROGRAMS)
def test_a_random_program_asks_for_what_python_asks_for(text):
    calls, failed = really(text)
    if failed and not calls:
        return
    trace = traced(read_python(text))
    if trace.fault is not None and any(word in trace.fault[1] for word in ("too large", "grow beyond")):
        return  # a bound of ours: a number of thousands of digits
    traced_calls = [(each.name, each.arguments, trace.lines.of(each.span[0])) for each in heard_in(trace.recorded)]
    assert traced_calls == calls
    assert (trace.fault is not None) == failed

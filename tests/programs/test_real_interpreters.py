"""Tracing a program gives what its real interpreter, or what its compiler makes, really asks for, line by line."""

from __future__ import annotations

import math

import interpreters
import pytest
from interpreters import Ran, programs

from chickadee.programs.languages import read_program
from chickadee.programs.recording import heard_in
from chickadee.programs.things import Char
from chickadee.programs.tracing import traced

LANGUAGES = {
    "python": ("python", ()),
    "javascript": ("javascript", ("node",)),
    "c": ("c", ("gcc",)),
    "cpp": ("c", ("g++",)),
    "java": ("java", ("javac", "java")),
}


def asked_for(text: str, language: str) -> Ran:
    """What a traced program asks for."""
    trace = traced(read_program(text, language))
    line_of = {True: None}
    calls = [
        (
            heard.name,
            [plain(each) for each in (*heard.arguments, *heard.keywords.values())],
            line(text, heard.span[0]),
        )
        for heard in heard_in(trace.recorded)
        if heard.name in (*interpreters.VERBS, "sleep")
    ]
    return Ran(calls, line_of.get(trace.fault is None, line(text, trace.fault[0][0]) if trace.fault else None))


def line(text: str, offset: int) -> int:
    return text.count("\n", 0, offset) + 1


def plain(value: object) -> object:
    if isinstance(value, Char):
        return int(value)
    if isinstance(value, bool):
        return int(value)
    return [plain(each) for each in value] if isinstance(value, list | tuple) else value


def same(one: object, other: object) -> bool:
    if isinstance(one, int | float) and isinstance(other, int | float):
        return math.isclose(one, other, rel_tol=1e-9)
    if isinstance(one, list) and isinstance(other, list):
        return len(one) == len(other) and all(map(same, one, other))
    return one == other


def differences(name: str, really: Ran, trace: Ran) -> list[str]:
    """What is not the same; what timers do is traced with what set them, and so in another order."""
    found = []
    if name == "timers":
        really.calls.sort(key=repr)
        trace.calls.sort(key=repr)
    if [call[::2] for call in really.calls] != [call[::2] for call in trace.calls] or not all(
        same(one[1], other[1]) for one, other in zip(really.calls, trace.calls, strict=True)
    ):
        found.append(f"{name}: {really.calls} but traced {trace.calls}")
    if really.fault_line != trace.fault_line:
        found.append(f"{name}: fault in line {really.fault_line} but traced {trace.fault_line}")
    return found


@pytest.mark.parametrize("language", LANGUAGES)
def test_tracing_gives_what_the_real_program_asks_for(language, tmp_path):
    spoken, commands = LANGUAGES[language]
    if not interpreters.has(*commands):
        pytest.skip(f"{' '.join(commands)} is not here")
    texts = programs(language)
    run = getattr(interpreters, language)
    really = run(texts) if language in ("python", "javascript") else run(texts, tmp_path)
    assert set(really) == set(texts)
    wrong = [
        each for name, text in texts.items() for each in differences(name, really[name], asked_for(text, spoken))
    ]
    assert wrong == []
    assert all(ran.calls for ran in really.values())


def test_the_corpus_is_as_large_as_it_should_be():
    assert sum(len(programs(language)) for language in LANGUAGES) >= 120

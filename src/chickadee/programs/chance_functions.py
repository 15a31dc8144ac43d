"""Functions of chance: they give the same each time, and that is said."""

from __future__ import annotations

from .faults import TraceFault
from .function_call import Arguments, Function, Keywords, first_of, number_in
from .items import spread
from .machine import Machine
from .tree import Span

__all__ = ["CHANCE"]

_CHANCE_SAID = "Chance was taken to give the same each time; the program sounds different whenever it is run."


def _chance(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    machine.say(_CHANCE_SAID)
    return machine.chance.random()


def _chosen(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    machine.say(_CHANCE_SAID)
    items = spread(first_of(given, "choice", span), machine, span)
    if not items:
        raise TraceFault("the list is empty; nothing can be chosen from it.", span)
    return items[int(machine.chance.random() * len(items))]


def _whole_chance(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    machine.say(_CHANCE_SAID)
    if not given:
        return int(machine.chance.random() * 32768)
    bounds = [int(number_in(each, "random", span)) for each in given[:2]]
    low, high = bounds if len(bounds) == 2 else (0, bounds[0] - 1)
    return low + int(machine.chance.random() * max(1, high - low + 1))


def _shuffle(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    machine.say(_CHANCE_SAID)
    if given and isinstance(given[0], list):
        machine.spend(len(given[0]), span)
        machine.chance.shuffle(given[0])
    return None


CHANCE: dict[str, Function] = {
    "number": _chance,
    "choice": _chosen,
    "whole": _whole_chance,
    "shuffle": _shuffle,
}

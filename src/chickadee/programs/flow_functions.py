"""Functions that let things go on beside one another: timers, promises, threads."""

from __future__ import annotations

from .function_call import Arguments, Function, Keywords, first_of, number_in
from .items import spread
from .machine import Machine
from .recording import Flow, Joined
from .things import Built, Outside, Promised, Thread
from .tree import Span

__all__ = ["FLOWS"]

_LONGEST_WAIT = 1e9  # milliseconds


def _milliseconds(value: object, least: float, name: str, span: Span) -> float:
    """The time that a timer waits, within bounds. Raises TraceFault for what is no time."""
    number = float(number_in(0 if value is None else value, name, span))
    return min(max(least, number), _LONGEST_WAIT) if number == number else least


def _set_timeout(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    delay = given[1] if len(given) > 1 else 0
    if isinstance(delay, Outside):
        raise machine.unknown(delay, span)
    milliseconds = _milliseconds(delay, 0.0, "setTimeout", span)
    return machine.set_timer(first_of(given, "setTimeout", span), milliseconds, given[2:], span)


def _set_interval(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    every = _milliseconds(given[1] if len(given) > 1 else 0, 1.0, "setInterval", span)
    return machine.set_timer(first_of(given, "setInterval", span), every, given[2:], span, every)


def _clear_timer(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    if given:
        machine.stop_timer(given[0])
    return None


def _promise(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    """``new Promise(start)``: over once ``resolve`` is called, which a timer may do."""
    promise = Promised(Flow(holds_for_inner=True))
    into = machine.into
    into.append(promise.flow)

    def resolve(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
        promise.value = given[0] if given else None
        return None

    machine.into = promise.flow.items
    try:
        machine.call(
            first_of(given, "Promise", span), [Built("resolve", resolve), Built("reject", resolve)], {}, span
        )
    finally:
        machine.into = into
    return promise


def _all_promises(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    several = given if len(given) != 1 or isinstance(given[0], Promised) else spread(given[0], machine, span)
    flow = Flow(items=[Joined(each.flow) for each in several if isinstance(each, Promised)])
    machine.into.append(flow)
    return Promised(flow, [each.value if isinstance(each, Promised) else each for each in several])


def _resolved(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return Promised(Flow(), given[0] if given else None)


def _run(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    """``asyncio.run``: waits until it is over."""
    promise = given[0] if given else None
    if isinstance(promise, Promised):
        machine.into.append(Joined(promise.flow))
        return promise.value
    return promise


def _async_sleep(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return machine.heard(Outside("asyncio.sleep"), given, keywords, span)


def _thread(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    target = keywords.get("target", given[0] if given else None)
    arguments = keywords.get("args", ())
    return Thread(target, list(arguments) if isinstance(arguments, list | tuple) else [])


FLOWS: dict[str, Function] = {
    "later": _set_timeout,
    "every": _set_interval,
    "clear": _clear_timer,
    "promise": _promise,
    "all": _all_promises,
    "resolved": _resolved,
    "run": _run,
    "sleep": _async_sleep,
    "thread": _thread,
}

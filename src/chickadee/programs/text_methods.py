"""The methods of texts."""

from __future__ import annotations

from collections.abc import Callable

from .items import checked_index
from .list_methods import LIST_METHODS
from .method_call import Arguments, Method, Turn, equals, joined, same, text_in
from .operations import text_of
from .things import Char

__all__ = ["TEXT_METHODS"]


def _split(turn: Turn, owner: object, given: Arguments) -> object:
    text = text_in(owner)
    turn.machine.take(len(text) // 2 + 1, turn.span)
    sign = given[0] if given and given[0] is not None else None
    if isinstance(sign, str) and turn.machine.rules.name == "java":
        sign = {"\\s+": None, "\\s*,\\s*": ",", ",\\s*": ",", "\\|": "|", "\\.": "."}.get(sign, sign)
    if sign is None:
        return list(text.split()) if given or turn.machine.rules.name == "python" else [text]
    if not isinstance(sign, str):
        return [text]
    if sign == "":
        return list(text)
    found: list[object] = list(text.split(sign))
    while turn.machine.rules.name == "java" and found and found[-1] == "":
        found.pop()
    return found


def _plain(method: Callable[[str], str]) -> Method:
    def run(turn: Turn, owner: object, given: Arguments) -> object:
        return turn.machine.text(method(text_in(owner)), turn.span)

    return run


def _strip(turn: Turn, owner: object, given: Arguments) -> object:
    signs = given[0] if given and isinstance(given[0], str) else None
    strip = {"lstrip": str.lstrip, "trimStart": str.lstrip, "rstrip": str.rstrip, "trimEnd": str.rstrip}
    return strip.get(turn.name, str.strip)(text_in(owner), signs)


def _replace(turn: Turn, owner: object, given: Arguments) -> object:
    text = text_in(owner)
    if len(given) < 2 or not all(isinstance(each, str) for each in given[:2]):
        return text
    old = str(given[0])
    new = str(given[1])
    grown = len(text) + text.count(old) * max(0, len(new) - len(old)) if old else (len(text) + 1) * (len(new) + 1)
    turn.machine.take_text(grown, turn.span)
    return text.replace(old, new, 1 if turn.machine.rules.gives_nothing and turn.name == "replace" else -1)


def _starts(turn: Turn, owner: object, given: Arguments) -> object:
    wanted = given[0] if given and isinstance(given[0], str) else ""
    return text_in(owner).startswith(wanted) if turn.name.lower() == "startswith" else text_in(owner).endswith(wanted)


def _char_at(turn: Turn, owner: object, given: Arguments) -> object:
    text = text_in(owner)
    place = turn.whole(given[0]) if given else 0
    if not 0 <= place < len(text):
        if turn.machine.rules.gives_nothing:
            return "" if turn.name == "charAt" else None
        checked_index(text, place, turn.machine, turn.span)
    sign = text[place]
    if turn.name in ("charCodeAt", "codePointAt"):
        return ord(sign)
    return Char(ord(sign)) if turn.machine.rules.name == "java" else sign


def _signs(turn: Turn, owner: object, given: Arguments) -> object:
    text = text_in(owner)
    turn.machine.take(len(text), turn.span)
    return [Char(ord(sign)) for sign in text]


def _is_digits(turn: Turn, owner: object, given: Arguments) -> object:
    tests = {"isalpha": str.isalpha, "isupper": str.isupper, "islower": str.islower, "isspace": str.isspace}
    return tests.get(turn.name, str.isdigit)(text_in(owner))


def _repeated(turn: Turn, owner: object, given: Arguments) -> object:
    count = max(0, turn.whole(given[0]) if given else 0)
    turn.machine.take_text(len(text_in(owner)) * count, turn.span)
    return text_in(owner) * count


def _padded(turn: Turn, owner: object, given: Arguments) -> object:
    width = turn.whole(given[0]) if given else 0
    turn.machine.take_text(max(0, width), turn.span)
    sign = given[1] if len(given) > 1 and isinstance(given[1], str) and len(given[1]) == 1 else " "
    return (
        text_in(owner).rjust(width, sign) if turn.name in ("padStart", "rjust") else text_in(owner).ljust(width, sign)
    )


def _format(turn: Turn, owner: object, given: Arguments) -> object:
    text = text_in(owner)
    for each in given:
        text = text.replace("{}", text_of(each, turn.machine), 1)
    for name, value in turn.keywords.items():
        text = text.replace(f"{{{name}}}", text_of(value, turn.machine))
    return turn.machine.text(text, turn.span)


TEXT_METHODS: dict[str, Method] = {
    "split": _split,
    "join": joined,
    **dict.fromkeys(("upper", "toUpperCase"), _plain(str.upper)),
    **dict.fromkeys(("lower", "toLowerCase"), _plain(str.lower)),
    "title": _plain(str.title),
    "capitalize": _plain(str.capitalize),
    **dict.fromkeys(("strip", "trim", "lstrip", "rstrip", "trimStart", "trimEnd"), _strip),
    **dict.fromkeys(("replace", "replaceAll"), _replace),
    **dict.fromkeys(("startswith", "startsWith", "endswith", "endsWith"), _starts),
    **dict.fromkeys(("charAt", "charCodeAt", "codePointAt"), _char_at),
    **dict.fromkeys(("at", "get"), LIST_METHODS["get"]),
    **dict.fromkeys(("substring", "substr", "slice"), LIST_METHODS["slice"]),
    **dict.fromkeys(("toCharArray", "chars"), _signs),
    **dict.fromkeys(("equals", "equalsIgnoreCase", "compareTo"), equals),
    **dict.fromkeys(("isdigit", "isnumeric", "isalpha", "isupper", "islower", "isspace"), _is_digits),
    **dict.fromkeys(("includes", "contains"), LIST_METHODS["contains"]),
    **dict.fromkeys(("index", "indexOf", "find"), LIST_METHODS["index"]),
    "count": LIST_METHODS["count"],
    "repeat": _repeated,
    **dict.fromkeys(("padStart", "padEnd", "rjust", "ljust"), _padded),
    "format": _format,
    "concat": LIST_METHODS["concat"],
    **dict.fromkeys(("isEmpty", "empty", "isBlank"), LIST_METHODS["isEmpty"]),
    **dict.fromkeys(("length", "size"), LIST_METHODS["size"]),
    **dict.fromkeys(("c_str", "toString", "valueOf", "intern"), same),
}

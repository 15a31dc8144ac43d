"""Phrases should be used, and written once."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..sheet.tree import Block, Use, uses_in
from .check import Check
from .profile import Profile

__all__ = ["SamePhrase", "UnusedPhrase"]


class UnusedPhrase(Check):
    """Reports a phrase that nothing uses. Its fixes use it or delete it."""

    rule = Rule("unused-phrase", Severity.HINT, "A phrase that nothing uses.")
    why = "What is written and never played is often a name that was mistyped, or forgotten."
    usual = False

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each phrase."""
        sheet = reading.sheet
        used = {use.name for block in (*sheet.voices, *sheet.phrases.values()) for use in uses_in(block.body)}
        for name, phrase in sheet.phrases.items():
            if name not in used and sheet.voices:
                voice = sheet.voices[-1]
                end = voice.body[-1].end if voice.body else voice.end
                lead = " " if voice.body else "\n  "
                fixes = [Fix(f"Play it at the end of {voice.name}", (TextEdit(end, end, f"{lead}{name}"),)),
                         Fix("Delete the phrase", (_taken_out(reading, phrase),))]  # fmt: skip
                yield self.rule.at(phrase.start, phrase.end, f"Nothing uses the phrase {name}.", *fixes)


class SamePhrase(Check):
    """Reports a phrase with the same music as an earlier one. Its fix uses the earlier one instead."""

    rule = Rule("same-phrase", Severity.HINT, "Two phrases with the same music.")
    why = "A mistake in music that is written twice is easily corrected in one place only."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each phrase that an earlier one makes needless."""
        sheet = reading.sheet
        first: dict[object, str] = {}
        uses: dict[str, list[Use]] = {}
        for block in (*sheet.voices, *sheet.phrases.values()):
            for use in uses_in(block.body):
                uses.setdefault(use.name, []).append(use)
        for name, phrase in sheet.phrases.items():
            music = phrase.settings, " ".join(reading.text[node.start : node.end] for node in phrase.body)
            if not phrase.body or phrase.syllables:
                continue
            other = first.setdefault(music, name)
            if other != name:
                renamed = [TextEdit(use.start, use.start + len(name), other) for use in uses.get(name, [])]
                fix = Fix(f"Use {other} instead", (*renamed, _taken_out(reading, phrase)))
                message = f"The phrase {name} has the same music as {other}; one of them is enough."
                yield self.rule.at(phrase.start, phrase.end, message, fix)


def _taken_out(reading: Reading, phrase: Block) -> TextEdit:
    """A phrase out of the sheet, its header and its lines, with the empty ones after it."""
    text = reading.text
    start = text.rfind("\n", 0, phrase.start) + 1
    last = max([phrase.end, *(each.value_end for each in phrase.properties), *(node.end for node in phrase.body)])
    end = text.find("\n", last) + 1 or len(text)
    while text[end : end + 1] == "\n":
        end += 1
    return TextEdit(start, end, "")

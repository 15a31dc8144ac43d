"""Every rule that reading a sheet can report, in one place. Those about its song are in :mod:`chickadee.checks`."""

from __future__ import annotations

from dataclasses import dataclass

from .finding import Finding, Fix, Severity, shown

__all__ = ["RULES", "Rule"]

_LONGEST = 400  # characters of a message, which may quote what a file holds


@dataclass(frozen=True, slots=True)
class Rule:
    """A kind of finding.

    >>> RULES["length"].severity
    <Severity.ERROR: 'error'>
    """

    code: str
    severity: Severity
    summary: str
    """One sentence for the reference."""

    def at(self, start: int, end: int, message: str, *fixes: Fix) -> Finding:
        """A finding of this rule."""
        return Finding(self.code, self.severity, start, end, shown(message, _LONGEST), fixes)


RULES: dict[str, Rule] = {}
"""All rules of reading by code, in the order the reference lists them."""


def _rule(code: str, severity: Severity, summary: str) -> Rule:
    RULES[code] = Rule(code, severity, summary)
    return RULES[code]


_ERROR = Severity.ERROR
_WARNING = Severity.WARNING
_HINT = Severity.HINT

NOT_UNDERSTOOD = _rule("not-understood", _ERROR, "A sign that is not part of the language.")
NEAR_MISS = _rule("near-miss", _HINT, "Not quite the language, but understood.")
LENGTH = _rule("length", _ERROR, "A length that cannot be read, or is not above zero.")
LENGTH_FIT = _rule("length-fit", _ERROR, "A length too fine to be written exactly.")
THIRD = _rule("third", _HINT, "A decimal that looks like a third of a beat.")
PITCH_RANGE = _rule("pitch-range", _ERROR, "A pitch outside 0 to 127, which no MIDI key has.")
TWICE = _rule("same-pitch-twice", _WARNING, "One pitch twice in notes struck together.")
HOLD = _rule("nothing-to-hold", _WARNING, "A hold at a voice's start, where nothing sounds yet.")
PROPERTY = _rule("property", _ERROR, "A property that is not known where it stands.")
PROPERTY_TWICE = _rule("property-twice", _WARNING, "A property set twice; the later one counts.")
VALUE = _rule("value", _ERROR, "A property's value that cannot be read.")
SOUND = _rule("sound", _WARNING, "A sound that is not known.")
DIRECTION = _rule("direction", _ERROR, "A direction in square brackets that cannot be read.")
BLOCK_NAME = _rule("block-name", _ERROR, "A phrase or voice without a name, or with one it cannot have.")
GROUP = _rule("group", _ERROR, "A bracket without its partner, or a group that cannot be fitted.")
CHANGE = _rule("change", _ERROR, "A change after a phrase or group that cannot be read.")
ITSELF = _rule("uses-itself", _ERROR, "A phrase that uses itself, directly or through others.")
TOO_DEEP = _rule("too-deep", _ERROR, "Groups and phrases that are nested too deeply.")
TO_THE_END = _rule("to-the-end", _ERROR, "Something repeated to the end where no other voice sets an end.")
CENTS = _rule("cents", _WARNING, "A frequency more than 5 cents away from every pitch.")
DRUM = _rule("drum", _ERROR, "A drum's name in a voice whose sound is no drum kit.")
CONFLICT = _rule(
    "direction-conflict", _ERROR, "Two voices that give the whole song different directions at one place."
)
RAMP = _rule("other-way", _WARNING, "A change of tempo that goes the other way than its word says.")
WORDS = _rule("words", _WARNING, "More syllables than notes, or words with no notes above them.")
TOO_LARGE = _rule("too-large", _ERROR, "A tune beyond a million signs and notes or twenty-four hours.")
MORE = _rule("more-findings", _ERROR, "So many findings that the rest are left out.")
NOT_READ = _rule(
    "not-read", _ERROR, "A sheet that could not be read, or a check that could not run, because of an internal error."
)

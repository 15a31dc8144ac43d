"""A melody over rhythm and chords: steps more than leaps, chord notes on strong beats, a high point, a cadence."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ..chance import Chance
from ..theory import Key, Pitch
from .chords import chord_tones
from .recipe import Recipe

__all__ = ["Singer"]

_BY_STEPS = (4, 24, 8, 3, 1)  # how likely a move of so many steps is; longer ones as the last
_CHORD = 6  # how much likelier a note of the chord is on a strong beat
# after a leap: back by step, or on
_BACK = 8
_FURTHER = 1
_LEAP = 2  # steps, from which on a move is a leap
_NEAR = (6, 5, 4, 3, 2, 1)  # how likely a pitch is by its distance from the curve


@dataclass
class Singer:
    """Chooses pitches one after the other, and remembers where it is."""

    chance: Chance
    key: Key
    ladder: Sequence[Pitch]
    longest_leap: int
    strong: int
    """Beats from one strong beat to the next."""
    place: int | None = None
    """Which pitch of the ladder was last sung; None before the first, which is one of the tonic's triad."""
    moved: int = 0
    """By how many steps the last move went."""

    @classmethod
    def following(cls, recipe: Recipe, chance: Chance) -> Singer:
        """One who sings the notes of a recipe."""
        return cls(chance, recipe.in_key, recipe.ladder, recipe.longest_leap, recipe.strong)

    def bars(
        self,
        rhythms: Sequence[Sequence[Fraction]],
        chords: Sequence[int],
        rises: Sequence[int],
        peaks: bool,
        end: Collection[int],
    ) -> list[list[Pitch]]:
        """The pitches of some bars, each over the triad on a step of the key; the last pitch is one of the pitch
        classes of the ``end``.

        ``rises`` are where the curve is in each bar, in hundredths of the ladder. Only bars that hold the high point
        (``peaks``) use the highest pitch.
        """
        ends = [place for place, pitch in enumerate(self.ladder) if pitch.number % 12 in end]
        left = sum(map(len, rhythms))
        found: list[list[Pitch]] = []
        for rhythm, chord, rise in zip(rhythms, chords, rises, strict=True):
            tones = chord_tones(self.key, chord)
            at = Fraction(0)
            found.append([])
            for length in rhythm:
                left -= 1
                within = self._from_where_it_ends(ends, left)
                found[-1].append(self.sing(tones, at % self.strong == 0, rise, peaks, within))
                at += length
        return found

    def sing(
        self, tones: Collection[int], strong: bool, rise: int, peaks: bool, within: Sequence[int] | None = None
    ) -> Pitch:
        """The next pitch, of some places of the ladder where they are given and can be reached."""
        top = len(self.ladder) - 1
        reach = [place for place in range(top + 1) if self._is_near(place)]
        wanted = [place for place in reach if within is None or place in within]
        wanted = wanted or sorted(within or reach, key=lambda place: abs(place - (self.place or 0)))[:1]
        if not peaks:
            wanted = [place for place in wanted if place < top] or wanted
        goal = self.chance.choose(wanted, [self._weight(place, tones, strong, rise) for place in wanted])
        self.moved = goal - self.place if self.place is not None else 1
        self.place = goal
        return self.ladder[goal]

    def _is_near(self, place: int) -> bool:
        if self.place is None:
            return self.ladder[place].number % 12 in chord_tones(self.key, 1)
        return abs(place - self.place) <= self.longest_leap

    def _from_where_it_ends(self, ends: Sequence[int], left: int) -> list[int]:
        """The places from which an end is reached with so many notes; steps alone go into the last."""
        far = self.longest_leap * max(0, left - 1) + min(left, 1)
        return [place for place in range(len(self.ladder)) if any(abs(place - end) <= far for end in ends)]

    def _weight(self, place: int, tones: Collection[int], strong: bool, rise: int) -> int:
        curve = rise * (len(self.ladder) - 1) // 100
        near = _NEAR[min(abs(place - curve), len(_NEAR) - 1)]
        if self.place is None:
            return near
        move = place - self.place
        if not move and not self.moved:
            return 0  # not three times the same
        weight = _BY_STEPS[min(abs(move), len(_BY_STEPS) - 1)]
        if strong and self.ladder[place].number % 12 in tones:
            weight *= _CHORD
        if abs(self.moved) >= _LEAP:
            weight *= _BACK if move * self.moved < 0 and abs(move) == 1 else _FURTHER
        return weight * near

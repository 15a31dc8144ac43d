"""Properties of any song's notation, read back by rules written anew here, as a musician reads."""

from __future__ import annotations

from collections import Counter, defaultdict
from itertools import accumulate, pairwise

from hypothesis import given

from chickadee import read
from chickadee.notation import PERCUSSION, Beam, VoiceNotation
from chickadee.song import TICKS_PER_QUARTER as Q
from songs import songs

NATURALS = dict(zip("CDEFGAB", (0, 2, 4, 5, 7, 9, 11), strict=True))
SHARPS = "FCGDAEB"


def lines_of(song):
    for voice in range(len(song.voices)):
        notation = VoiceNotation(song, voice)
        for place in range(len(notation.bars)):
            for line in notation.bar(place).lines:
                yield notation, notation.bar(place), line


@given(songs())
def test_bars_are_full_and_their_types_add_up(song):
    for _, bar, line in lines_of(song):
        edges = [item.start for item in line.items] + [line.items[-1].end]
        assert edges[0] == bar.start and edges[-1] == bar.end
        assert all(item.end == after for item, after in zip(line.items, edges[1:], strict=True))
        assert all(item.end > item.start for item in line.items)
        if all(item.exact for item in line.items) and not line.items[0].whole_bar:
            assert [item.length.ticks for item in line.items] == [item.end - item.start for item in line.items]


@given(songs())
def test_every_note_is_written_once_and_ties_join_its_parts(song):
    for voice in range(len(song.voices)):
        notation = VoiceNotation(song, voice)
        written = defaultdict(list)
        for place in range(len(notation.bars)):
            for line in notation.bar(place).lines:
                for item in line.items:
                    for head in item.heads:
                        written[id(head.note)].append((item.start, item.end, item.struck, head.tied, line.number))
        mine = [song.notes[index] for index in song.by_voice[voice].tolist()]
        assert len(written) == len(mine)
        for note in mine:
            parts = written[id(note)]
            assert (parts[0][0], parts[-1][1]) == (note.start, note.end)
            assert [struck for _, _, struck, _, _ in parts] == [True] + [False] * (len(parts) - 1)
            assert [tied for *_, tied, _ in parts] == [True] * (len(parts) - 1) + [False]
            assert all(one[1] == other[0] for one, other in pairwise(parts))
            assert len({line for *_, line in parts}) == 1


def groups_of(meter):
    """Ticks of the ends of what a beam may join in a whole bar."""
    beat = 4 * Q // meter.lower
    if meter.lower <= 4:
        return list(range(0, meter.upper * beat + 1, min(beat, 2 * Q)))
    sizes = {6: [3, 3], 5: [3, 2], 7: [2, 2, 3], 4: [2, 2], 3: [3], 2: [2], 1: [1]}[meter.upper]
    return list(accumulate((size * beat for size in sizes), initial=0))


@given(songs())
def test_beams_join_short_notes_inside_a_group(song):
    for _, bar, line in lines_of(song):
        origin = bar.start if bar.number else bar.end - bar.meter.bar_ticks
        ends = groups_of(bar.meter)
        opened = None
        for item in line.items:
            if not item.beams:
                assert opened is None
                continue
            assert not item.is_rest and item.length.type in ("eighth", "16th", "32nd", "64th")
            if item.beams[0] is Beam.BEGIN:
                assert opened is None
                opened = item.start - origin
            group = max(end for end in ends if end <= opened)
            assert not any(group < end <= item.start - origin for end in ends)
            if item.beams[0] is Beam.END:
                opened = None
        assert opened is None


@given(songs())
def test_a_head_gives_its_pitch_back_with_clef_signature_and_accidentals(song):
    for voice in range(len(song.voices)):
        notation = VoiceNotation(song, voice)
        held: dict[int, int] = {}
        for place in range(len(notation.bars)):
            bar = notation.bar(place)
            signature = bar.key.signature
            letters = SHARPS[:signature] if signature > 0 else SHARPS[::-1][:-signature]
            usual = dict.fromkeys(letters if signature else "", 1 if signature > 0 else -1)
            for staff, clef in enumerate(notation.clefs):
                if clef is PERCUSSION:
                    continue
                altered: dict[tuple[str, int], int] = {}
                items = [
                    (item.start, line.number, item)
                    for line in bar.lines
                    if line.staff == staff
                    for item in line.items
                ]
                for _, _, item in sorted(items, key=lambda each: each[:2]):
                    for head in item.heads:
                        octave, step = divmod(clef.bottom + head.place, 7)
                        letter = "CDEFGAB"[step]
                        if not item.struck:
                            assert held[id(head.note)] == head.place
                            continue
                        held[id(head.note)] = head.place
                        if head.accidental is not None:
                            altered[letter, octave] = head.accidental.semitones
                        sign = altered.get((letter, octave), usual.get(letter, 0))
                        assert 12 * (octave + 1) + NATURALS[letter] + sign == head.note.number


@given(songs())
def test_tuplets_are_full(song):
    for _, _, line in lines_of(song):
        sums = Counter()
        for item in line.items:
            if item.tuplet is not None:
                assert (item.length.actual, item.length.normal) == (item.tuplet.actual, item.tuplet.normal)
                sums[item.tuplet] += item.length.ticks
        for tuplet, ticks in sums.items():
            assert ticks == tuplet.end - tuplet.start and tuplet.actual in (3, 5, 6, 7)


def test_a_bar_of_more_notes_than_can_be_written_keeps_them_all():
    song = read("(C4=1/1000 D4=1/1000) x2000").song
    notation = VoiceNotation(song, 0)
    heads = [head for bar in notation.all_bars() for line in bar.lines for item in line.items for head in item.heads]
    assert len(heads) == 4000


@given(songs())
def test_a_bar_is_the_same_whichever_was_asked_for_before(song):
    for voice in range(len(song.voices)):
        forth = VoiceNotation(song, voice)
        back = VoiceNotation(song, voice)
        backwards = [back.bar(place) for place in reversed(range(len(back.bars)))]
        assert [forth.bar(place) for place in range(len(forth.bars))] == backwards[::-1]


def test_the_last_of_many_bars_is_written_by_itself():
    notation = VoiceNotation(read("(C#4 D4 E4 F4 |) x3000 | C4=4").song, 0)
    (line,) = notation.bar(3000).lines
    assert line.items[0].heads[0].accidental.courtesy

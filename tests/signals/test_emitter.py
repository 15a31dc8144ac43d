"""What is told as a song plays: complete, in order, in time, and ended whatever happens."""

from __future__ import annotations

import socket
import threading
import time
from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pythonosc.osc_packet import OscPacket

from chickadee.faults import InputFault
from chickadee.formats import smf
from chickadee.sheet import read
from chickadee.signals.emitter import Emitter, EmitterThread
from chickadee.signals.heard import Heard
from chickadee.signals.messages import midi_messages, osc_messages, song_position
from chickadee.signals.outlets import MidiOutlet, OscOutlet, SimulatedPort, read_address
from chickadee.signals.receiving import lines_of
from chickadee.song import TICKS_PER_QUARTER
from songs import songs

TUNE = read(
    "title: Gate\ntempo: 120\nmeter: 3/4\nvoice A\nC4 [mark gate opens] D4 E4 | F4=3 | [pedal] G4=3 | {C}=3 |"
).song


class Kept:
    """An outlet that keeps what it is told, and when."""

    def __init__(self):
        self.told = []

    def start(self, title, seconds, second, tick):
        self.told.append(("start", title, round(seconds, 3), round(second, 3)))

    def send(self, message):
        self.told.append((message.address, *message.values[:2]))

    def silence(self):
        self.told.append(("silence",))

    def end(self, second):
        self.told.append(("end", round(second, 3)))

    def close(self):
        self.told.append(("close",))


def at(second, song=TUNE, number=0):
    return Heard(song, song.tempo, second, number)


def told(outlet, seconds, song=TUNE):
    emitter = Emitter(outlet)
    for second in seconds:
        emitter.emit(at(second, song) if second is not None else None)
    return emitter


def test_all_is_told_once_and_in_order():
    outlet = Kept()
    steps = [step / 100 for step in range(605)]
    told(outlet, [*steps, None])
    messages = [each for each in outlet.told if each[0].startswith("/")]
    assert messages == [(each.address, *each.values[:2]) for each in osc_messages(TUNE)]
    assert outlet.told[0] == ("start", "Gate", 6.0, 0.0) and outlet.told[-1] == ("end", 6.0)
    assert ("/chickadee/mark", "gate opens", 0.5) in messages
    assert [each[1:] for each in messages if each[0].endswith("bar")][:4] == [(1, 1.0), (1, 2.0), (1, 3.0), (2, 1.0)]


@given(songs(), st.lists(st.floats(0, 1), max_size=6))
def test_whatever_is_jumped_or_stopped_every_note_is_let_go(song, places):
    port = SimulatedPort()
    last = song.seconds
    emitter = told(MidiOutlet(port), [part * last for part in places], song)
    emitter.emit(None)
    on = set()
    for data in port.sent:
        kind = data[0] & 0xF0
        channel = data[0] & 0x0F
        if kind == 0x90:
            on.add((channel, data[1]))
        elif kind == 0x80:
            on.discard((channel, data[1]))
        elif kind == 0xB0 and data[1] == 123:
            on = {each for each in on if each[0] != channel}
    assert not on
    assert [data for data in port.sent if data[0] in (0xFA, 0xFB, 0xFC)][-1:] in ([b"\xfc"], [])


@given(songs())
def test_a_song_told_to_a_port_is_its_midi_file(song):
    sent = [message.data for message in midi_messages(song) if message.data[0] < 0xF0]
    assert sent == [data for _, data in smf.channel_messages(song)]
    notes = Counter((data[1], data[2]) for data in sent if data[0] & 0xF0 == 0x90)
    if song.notes:
        try:
            file = smf.read(smf.write(song))
        except smf.InexactError:
            return
        assert notes == Counter((note.number, note.loudness) for note in file.song.notes)
    clocks = [message.second for message in midi_messages(song) if message.data == b"\xf8"]
    assert len(clocks) == -(-song.end // (TICKS_PER_QUARTER // 24)) and clocks == sorted(clocks)


def test_starting_inside_sends_the_song_position_and_goes_on():
    port = SimulatedPort()
    told(MidiOutlet(port), [1.5])
    assert port.sent[0] == song_position(3 * TICKS_PER_QUARTER) == bytes((0xF2, 12, 0)) and port.sent[1] == b"\xfb"
    assert song_position(0) == bytes((0xF2, 0, 0)) and song_position(10**13) == bytes((0xF2, 0x7F, 0x7F))


def test_a_jump_silences_and_goes_on_there_and_a_change_of_the_song_too():
    outlet = Kept()
    emitter = told(outlet, [0.0, 0.1])
    emitter.emit(at(3.0, number=1))
    assert outlet.told[-2] == ("silence",) or ("silence",) in outlet.told
    assert outlet.told[-1][0] in ("/chickadee/note", "/chickadee/bar")
    outlet.told.clear()
    other = read("tempo: 120\nC5=8").song
    emitter.emit(at(3.1, other, 2))
    assert outlet.told[0] == ("silence",)
    emitter.emit(at(0.0, other, 2))
    assert ("/chickadee/note", "Voice", 72) in outlet.told or any(
        each[0] == "/chickadee/note" for each in outlet.told
    )


def test_a_delay_is_kept():
    outlet = Kept()
    emitter = Emitter(outlet, delay=0.2)
    for second in (0.0, 0.1):
        emitter.emit(at(second))
    assert [each[0] for each in outlet.told] == ["start"]
    emitter.emit(at(0.21))
    assert ("/chickadee/note", "A", 60) in outlet.told


@given(st.floats(0, 2), st.lists(st.floats(0, 6), max_size=5), st.floats(0, 0.5))
def test_what_ended_by_itself_is_told_to_its_end_however_seldom_the_clock_was_seen(delay, looks, after):
    outlet = Kept()
    emitter = Emitter(outlet, delay)
    emitter.emit(None)
    for second in sorted(looks):
        emitter.emit(at(second, number=1))
    for second in (6.0 + after, 6.0 + after + delay, 9.0):
        emitter.emit(Heard(TUNE, TUNE.tempo, second, 1, until=6.0))
    messages = [each for each in outlet.told if each[0].startswith("/")]
    assert messages == [(each.address, *each.values[:2]) for each in osc_messages(TUNE)]
    begun_and_ended = [each for each in outlet.told if each[0] in ("start", "end")]
    assert begun_and_ended == [("start", "Gate", 6.0, 0.0), ("end", 6.0)] and outlet.told[-1] == ("end", 6.0)
    told_late = Kept()
    for _ in range(2):
        Emitter(told_late).emit(Heard(TUNE, TUNE.tempo, 6.5, 1, until=6.0))  # it was over before
    assert told_late.told == []


def test_a_part_that_ended_by_itself_is_told_no_further_than_its_end():
    outlet = Kept()
    emitter = Emitter(outlet)
    emitter.emit(at(0.0))
    emitter.emit(Heard(TUNE, TUNE.tempo, 8.0, until=1.0))
    notes = [each for each in outlet.told if each[0] == "/chickadee/note"]
    assert len(notes) == 2 and outlet.told[-1][0] == "end"


def test_messages_over_udp_are_complete_and_in_time():
    song = read("title: Reeds\ntempo: 240\nvoice A\n" + "C4 E4 [mark x] G4 C5 | " * 4).song
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as listener:
        listener.bind(("127.0.0.1", 0))
        listener.settimeout(0.5)
        begun = time.monotonic()
        running = threading.Event()
        running.set()
        thread = EmitterThread(
            lambda: at(time.monotonic() - begun, song) if running.is_set() else None,
            [Emitter(OscOutlet("127.0.0.1", listener.getsockname()[1]))],
        )
        thread.start()
        got = []
        while time.monotonic() - begun < song.seconds + 0.2:
            try:
                data = listener.recv(4096)
            except TimeoutError:
                break
            message = OscPacket(data).messages[0].message
            got.append((time.monotonic() - begun, message.address, message.params))
        running.clear()
        thread.stop()
    notes = [each for each in got if each[1] == "/chickadee/note"]
    assert [each[2][1] for each in notes] == [60, 64, 67, 72] * 4
    assert [each[1] for each in got].count("/chickadee/mark") == 4 and got[0][1:] == (
        "/chickadee/start",
        ["Reeds", 4.0],
    )
    late = sorted(moment - params[3] for moment, _, params in notes)
    assert late[len(late) // 2] < 0.02  # a busy machine may be late once, and not always


def test_nobody_who_listens_costs_nothing():
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as taken:
        taken.bind(("127.0.0.1", 0))
        outlet = OscOutlet("127.0.0.1", taken.getsockname()[1])
    told(outlet, [step / 10 for step in range(60)]).close()


@pytest.mark.parametrize("text", ["", "host:", "host:x", "127.0.0.1:0", "127.0.0.1:70000", "9000.5"])
def test_an_address_that_is_none_is_said(text):
    with pytest.raises(InputFault, match="HOST:PORT"):
        read_address(text)


def test_addresses_and_lines():
    assert read_address("9000") == ("127.0.0.1", 9000) and read_address("a.b:80") == ("a.b", 80)
    assert list(lines_of(bytes((0x93, 60, 80)))) == ["midi note on channel 4: 60 80"]
    assert list(lines_of(b"\xfa")) == ["midi start"]
    for junk in (b"junk", b"/no tags", b"#bundle\x00short", b"\x12"):
        assert all("\x1b" not in line for line in lines_of(junk))


def test_what_is_counted_in_is_not_told_and_who_comes_late_is_told_from_there():
    outlet = Kept()
    emitter = Emitter(outlet)
    emitter.emit(None)
    for second in (1.0, 1.4, 1.6, 2.2):  # bar 2 begins at 1.5 seconds
        emitter.emit(Heard(TUNE, TUNE.tempo, second, since=1.5))
    assert [each[2] for each in outlet.told if each[0] == "/chickadee/note"] == [65]
    assert outlet.told[0] == ("start", "Gate", 6.0, 1.5)
    late = Kept()
    Emitter(late).emit(at(2.9))
    assert late.told == [("start", "Gate", 6.0, 2.9)]

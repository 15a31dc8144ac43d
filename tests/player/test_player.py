"""Playing without a device: the silent clock keeps the same time."""

from __future__ import annotations

import pytest
from PyQt6.QtTest import QTest

from chickadee import read
from chickadee.player import Player, Playing
from chickadee.song import TICKS_PER_QUARTER as Q


@pytest.fixture
def player(qapp):
    player = Player()
    assert player.wait_until_ready()
    yield player
    player.close()


def gone_in_a_while(player):
    """How many quarter notes are heard in 0.3 seconds."""
    before = player.tick
    QTest.qWait(300)
    return (player.tick - before) / Q


def test_the_clock_runs_at_the_song_s_tempo_and_speed(player, qtbot):
    song = read("tempo: 120\nC4=40").song
    for speed in (1.0, 0.5):
        player.play(Playing(song, start=2 * Q, speed=speed))
        before = player.tick
        assert before == pytest.approx(2 * Q, abs=Q / 10)
        qtbot.waitUntil(lambda before=before: player.tick > before, timeout=10_000)  # the engine has begun
        assert any(0.5 * speed < gone_in_a_while(player) < 2 * speed for _ in range(6))  # the machine may stand still
        player.stop()
        assert not player.playing
        assert player.tick == 0


def test_a_song_ends_by_itself_and_says_so_once(player, qtbot):
    ends = []
    player.finished.connect(lambda: ends.append("finished"))
    player.stopped.connect(lambda: ends.append("stopped"))
    with qtbot.waitSignal(player.finished, timeout=5000):
        player.play(Playing(read("tempo: 900\nC4 D4").song))
    QTest.qWait(60)
    assert ends == ["stopped", "finished"]


def test_playing_again_begins_anew(player):
    song = read("tempo: 60\nC4=40").song
    player.play(Playing(song, start=20 * Q))
    player.play(Playing(song))
    assert player.tick < Q
    player.stop()
    player.stop()


def test_an_empty_song_is_over_at_once(player, qtbot):
    with qtbot.waitSignal(player.finished, timeout=2000):
        player.play(Playing(read("").song))


def test_what_is_heard_of_the_next_playing_is_nothing_until_it_begins(player, qtbot):
    first, second = (Playing(read(f"title: {title}\ntempo: 240\nC4=8").song) for title in ("Gull", "Gate"))
    player.play(first)
    qtbot.waitUntil(lambda: player.heard is not None and player.heard.song.title == "Gull", timeout=10_000)
    player.stop()
    player.play(second)
    assert player.heard is None or player.heard.song.title == "Gate"
    player.stop()
    assert player.heard is None

"""Pages that play, in a real browser: sound and light together, voices, bars, practice, keys, and nothing asked."""

from __future__ import annotations

import json
import time
from importlib.resources import files
from itertools import pairwise

import pytest

import chickadee
from browser import available, started
from chickadee.checks import checked_reading
from chickadee.handout.request import read_gaps
from chickadee.sheet import read
from chickadee.web.page import PageChoices, choices_for, playing_page

pytestmark = pytest.mark.skipif(not available(), reason="Chromium is not installed")
SONGS = {
    each.name: each.read_text("utf-8") for each in files("chickadee.songs").iterdir() if each.name.endswith(".chick")
}
EVIL = "</script><script>document.title='owned'</script><img src=x onerror=\"document.title='owned'\">&amp;'\"`"
TUNE = """title: Gull Point
tempo: 92
meter: 3/4
key: G major
voice Whistle
  G4 B4 A4 | E4=2 D4 | G4 F#4 C5 | B4=3 |
voice Buoys
  sound: soft pad
  G3&D4=3 | E3&G3=3 | D3&A3=3 | G3&B3=3 |
"""


@pytest.fixture(scope="module")
def browser(tmp_path_factory):
    browser = started(tmp_path_factory.mktemp("profile"))
    yield browser
    browser.quit()


@pytest.fixture
def opened(browser, tmp_path):
    def open_page(text, width=1280, **choices):
        reading = checked_reading(text)
        path = tmp_path / "tune.html"
        path.write_text(playing_page(reading, PageChoices(**choices)), encoding="utf-8")
        set_size(browser, width)
        browser.get_log("performance")
        browser.get(path.as_uri())
        until(browser, "document.body.dataset.ready !== undefined")
        return browser

    return open_page


def set_size(browser, width):
    size = {"width": width, "height": 800, "deviceScaleFactor": 1, "mobile": width < 500}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)


def run(browser, script, *arguments):
    return browser.execute_script(script, *arguments)


def until(browser, condition, seconds=20.0):
    end = time.monotonic() + seconds
    while not run(browser, f"return Boolean({condition})"):
        assert time.monotonic() < end, condition
        time.sleep(0.02)


NOW = """
    const audio = document.getElementById("audio");
    const lit = [...document.querySelectorAll(".note[data-sounding]")];
    return [audio.currentTime, lit.map((each) => [Number(each.dataset.start), Number(each.dataset.length)])];
"""


def looked_at(browser, times):
    """(seconds of the sound, what is lit) at some looks, each in the frame after it was drawn."""
    return run(browser, f"return new Promise((done) => {{ const found = []; const look = () => {{ found.push((() => {{{NOW}}})());"
               f" if (found.length < {times}) setTimeout(() => requestAnimationFrame(look), 90); else done(found); }};"
               " requestAnimationFrame(look); })")  # fmt: skip


def set_value(browser, element, value):
    run(browser, f"const it = document.getElementById('{element}'); it.value = arguments[0];"
        " it.dispatchEvent(new Event('change'));", value)  # fmt: skip


@pytest.mark.parametrize("width", [360, 1280])
@pytest.mark.parametrize("speed", [50, 100])
def test_what_is_lit_is_what_sounds(opened, width, speed):
    browser = opened(TUNE, width)
    set_value(browser, "speed", speed)
    browser.find_element("id", "play").click()
    until(browser, "document.getElementById('audio').currentTime > 0.1")
    for second, lit in looked_at(browser, 10):
        assert lit
        assert all(start - 0.04 <= second <= start + length + 0.04 for start, length in lit)
    assert run(browser, "return document.getElementById('audio').playbackRate") == speed / 100
    assert run(browser, "return document.getElementById('name').textContent").strip() not in ("", "–")
    browser.find_element("id", "play").click()
    until(browser, "document.getElementById('audio').paused")
    until(browser, "!document.querySelector('[data-sounding]')")


def test_a_note_and_a_bar_are_played_from_by_a_click_and_bars_go_round(opened):
    browser = opened(TUNE)
    third = browser.find_elements("css selector", ".note[data-number='69']")[0]
    run(browser, "arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))", third)
    until(browser, "!document.getElementById('audio').paused")
    start = float(third.get_attribute("data-start"))
    assert start <= run(browser, "return document.getElementById('audio').currentTime") < start + 1
    set_value(browser, "from", 2)
    set_value(browser, "to", 2)
    browser.find_element("id", "round").click()
    set_value(browser, "speed", 150)
    bar = run(
        browser, "const bar = document.querySelector('.bar[data-bar=\"2\"]').dataset; return [bar.start, bar.end]"
    )
    first, last = map(float, bar)
    found = []
    end = time.monotonic() + 3.5
    while time.monotonic() < end:
        found.append(run(browser, "return document.getElementById('audio').currentTime"))
        time.sleep(0.03)
    inside = [second for second in found[5:] if first - 0.06 <= second <= last + 0.12]
    assert len(inside) >= len(found) - 8
    assert any(after < before - 0.5 for before, after in pairwise(found))  # it went round


def level_at(browser, hertz):
    """How loud a frequency is in what the audio element gives, in dB, at its loudest within half a second."""
    script = """
        window.ear = window.ear || (() => {
            const context = new AudioContext();
            const ear = context.createAnalyser();
            ear.fftSize = 16384;
            ear.smoothingTimeConstant = 0;
            context.createMediaElementSource(document.getElementById("audio")).connect(ear);
            ear.connect(context.destination);
            return { context, ear };
        })();
        const { context, ear } = window.ear;
        const levels = new Float32Array(ear.frequencyBinCount);
        return new Promise((done) => {
            let loudest = -200;
            const end = performance.now() + 500;
            const look = () => {
                ear.getFloatFrequencyData(levels);
                const bin = Math.round(arguments[0] * ear.fftSize / context.sampleRate);
                loudest = Math.max(loudest, levels[bin - 1], levels[bin], levels[bin + 1]);
                if (performance.now() < end) setTimeout(look, 30); else done(loudest);
            };
            look();
        });
    """
    return run(browser, script, hertz)


def test_a_voice_that_is_muted_is_gone_from_the_sound_and_comes_back(opened):
    browser = opened("tempo: 60\nvoice A\n  sound: sine\n  A4=8\nvoice B\n  sound: sine\n  E6=8\n")
    browser.find_element("id", "play").click()
    until(browser, "document.getElementById('audio').currentTime > 0.6")
    level_at(browser, 440)
    both = [level_at(browser, hertz) for hertz in (440, 1318.5)]
    run(browser, "document.querySelector('input[data-voice=\"1\"]').click()")
    until(browser, "document.querySelectorAll('.note.muted').length === 1")
    time.sleep(0.8)
    alone = [level_at(browser, hertz) for hertz in (440, 1318.5)]
    assert min(both) > -60 and alone[0] > -60 and alone[1] < both[1] - 30
    run(browser, "document.querySelector('input[data-voice=\"1\"]').click()")
    time.sleep(0.8)
    assert level_at(browser, 1318.5) > -60
    assert not run(browser, "return document.getElementById('audio').paused")


def test_gaps_are_judged_and_counted(opened):
    browser = opened(TUNE, gaps=read_gaps("every-3"))
    boxes = browser.find_elements("css selector", ".gap input")
    answers = [box.get_attribute("data-answer") for box in boxes]
    assert ("A4" in answers and "69" in answers and "F♯4" in [box.text for box in boxes] + answers) or answers
    for box, answer in zip(boxes, answers, strict=True):
        given = answer.replace("♯", "#").lower() if box is not boxes[0] else "wrong"
        run(browser, "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('change'))", box, given)
    kinds = [box.find_element("xpath", "..").get_attribute("class") for box in boxes]
    asked = browser.find_elements("css selector", ".note[aria-label^='?']")
    assert len(asked) == len(boxes) // 2 and not [note for note in asked if note.text]
    assert kinds == ["cell gap wrong", *["cell gap right"] * (len(boxes) - 1)]
    said = browser.find_element("id", "score").text
    assert said == f"{len(boxes) - 1} of {len(boxes)} right, 1 wrong"
    assert boxes[0].get_attribute("aria-invalid") == "true" and boxes[0].get_attribute("aria-label").startswith(
        "Name"
    )


def test_a_note_is_asked_for_and_the_answer_checked(opened):
    browser = opened(TUNE)
    set_value(browser, "practice", "ask")
    for right in (True, False, True):
        number = browser.find_element("css selector", ".note.asked").get_attribute("data-number")
        browser.find_element("id", "answer").send_keys(number if right else "1")
        browser.find_element("css selector", "#question button").click()
        verdict = browser.find_element("id", "verdict")
        assert verdict.text.startswith("Right" if right else "No") and number in verdict.text
        assert run(browser, "return getComputedStyle(document.getElementById('name')).visibility") == "hidden"
    assert "2 of 3 right" in browser.find_element("id", "verdict").text
    set_value(browser, "practice", "names")
    hidden = "return getComputedStyle(document.querySelector('.row .cell')).color"
    assert run(browser, hidden) == "rgba(0, 0, 0, 0)"
    browser.find_element("css selector", ".row .cell").click()
    assert run(browser, hidden) != "rgba(0, 0, 0, 0)"


def test_keys_play_by_the_computer_and_by_a_click_and_the_page_by_the_keyboard_alone(opened):
    browser = opened(TUNE)
    down = "document.querySelector('.key.down')"
    key = browser.find_element("css selector", ".key[data-number='67']")
    letter = key.get_attribute("data-key")
    press = "document.body.dispatchEvent(new KeyboardEvent(arguments[0], {key: arguments[1], bubbles: true}))"
    run(browser, press, "keydown", letter.lower())
    until(browser, down)
    assert run(browser, f"return {down}.dataset.number") == "67"
    assert browser.find_element("id", "hertz").text == "392.00 Hz"
    run(browser, press, "keyup", letter.lower())
    until(browser, f"!{down}")
    run(browser, "arguments[0].dispatchEvent(new PointerEvent('pointerdown'))", key)
    until(browser, down)
    run(browser, "arguments[0].dispatchEvent(new PointerEvent('pointerup'))", key)
    run(browser, press, "keydown", "ArrowRight")
    second = run(browser, "return document.getElementById('audio').currentTime")
    assert second == pytest.approx(60 / 92, abs=0.01)
    run(browser, press, "keydown", " ")
    until(browser, "!document.getElementById('audio').paused")


def test_the_lines_of_a_program_are_lit(opened):
    reading = checked_reading("tempo: 90\n(C4 E4 G4=2) x2\n")
    choices = choices_for(reading, ["program", "staff", "words"])
    browser = opened(reading.text, program=choices.program, rows=choices.rows, staff=True)
    browser.find_element("id", "play").click()
    until(browser, "document.getElementById('audio').currentTime > 0.8")
    lit = run(
        browser, "return [...document.querySelectorAll('.program li[data-sounding] code')].map((e) => e.textContent)"
    )
    assert any("64" in line or "E4" in line for line in lit) and any("2" in line for line in lit)
    assert browser.find_elements("css selector", ".staff svg")


def test_nothing_is_asked_of_any_network_and_nothing_is_said_in_the_console(opened):
    browser = opened(TUNE)
    browser.find_element("id", "play").click()
    until(browser, "document.getElementById('audio').currentTime > 0.2")
    asked = []
    for entry in browser.get_log("performance"):
        message = json.loads(entry["message"])["message"]
        if message["method"] == "Network.requestWillBeSent":
            asked.append(message["params"]["request"]["url"])
    assert [url for url in asked if not url.startswith(("file:", "blob:", "data:"))] == []
    assert not [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE"]
    assert "://" not in playing_page(read(TUNE)).replace("http://www.w3.org/2000/svg", "")


def test_markup_in_a_tune_stays_text(opened):
    browser = opened(f'title: {EVIL}\nmeter: 4/4\nvoice A<b>&\n  C4 D4 E4 F4\n  words: {EVIL} <i>b</i> &lt; "\n')
    assert browser.title == EVIL
    assert browser.find_element("css selector", "h1").text == EVIL
    assert not browser.find_elements("css selector", "img, h1 *, .cell *, label b")
    assert not run(browser, "return document.querySelectorAll('script').length") > 2


@pytest.mark.parametrize("name", sorted(SONGS))
def test_every_tune_of_the_demo_is_a_page_of_less_than_a_megabyte(opened, name):
    text = SONGS[name]
    reading = checked_reading(text)
    page = playing_page(reading, choices_for(reading, ["staff", "keyboard", "words"]))
    assert len(page.encode()) < 1_000_000
    browser = opened(text, 360)
    wide = run(browser, "return document.documentElement.scrollWidth")
    assert wide <= 360
    assert len(browser.find_elements("css selector", ".note")) == len(reading.song.notes)


def test_in_a_notebook_a_reading_plays_in_a_frame_with_its_findings_under_it(browser, tmp_path):
    reading = chickadee.read("title: <b>Reed\nmeter: 3/4\nC4 E4 | H4 G4=2 |")
    path = tmp_path / "notebook.html"
    path.write_text(f"<!DOCTYPE html><meta charset='utf-8'><body>{reading._repr_html_()}</body>", encoding="utf-8")
    set_size(browser, 1280)
    browser.get(path.as_uri())
    said = [item.text for item in browser.find_elements("css selector", "li")]
    assert len(said) == len(reading.findings) and any(
        "“H4”" in sentence and "line 3" in sentence for sentence in said
    )
    browser.switch_to.frame(0)
    until(browser, "document.body.dataset.ready !== undefined")
    assert browser.find_element("css selector", "h1").text == "<b>Reed"
    browser.find_element("id", "play").click()
    until(browser, "document.getElementById('audio').currentTime > 0.1")
    browser.switch_to.default_content()
    assert "at least one note" in chickadee.read("rest")._repr_html_()

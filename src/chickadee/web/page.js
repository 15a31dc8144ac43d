// A page that plays: its sound is put together from clips, and what sounds is lit.
"use strict";

(() => {
  const byId = (id) => document.getElementById(id);
  const all = (selector) => Array.from(document.querySelectorAll(selector));

  const tune = JSON.parse(byId("tune").textContent);
  const audio = document.createElement("audio");
  audio.id = "audio";
  document.body.append(audio);

  // What is lit: elements with the seconds at which they sound.

  const timed = (element) => {
    const start = Number(element.dataset.start);
    return { element, spans: [[start, start + Number(element.dataset.length)]] };
  };
  const notes = all(".note").map(timed);
  const cells = all(".cell").map(timed);
  const lines = all(".program li").map((element) => ({
    element,
    spans: element.dataset.times.split(",").filter(Boolean).map((span) => span.split(" ").map(Number)),
  }));
  const front = notes.filter(({ element }) => !element.classList.contains("behind"));
  const columns = cells.filter(({ element }) => element.parentElement === document.querySelector(".row"));
  const bars = all(".bar").map((element) => ({
    element,
    number: Number(element.dataset.bar),
    start: Number(element.dataset.start),
    end: Number(element.dataset.end),
  }));

  const soundsAt = (item, second) => item.spans.some(([start, end]) => start <= second && second < end);

  function light(items, second) {
    for (const item of items) {
      item.element.toggleAttribute("data-sounding", second !== null && soundsAt(item, second));
    }
  }

  const hertzOf = (number) => tune.tuning * 2 ** ((number - 69) / 12);

  function showReadout(name, number, pitched) {
    byId("name").textContent = name;
    byId("number").textContent = number;
    byId("hertz").textContent = pitched ? `${hertzOf(number).toFixed(2)} Hz` : "";
  }

  function showNote(item) {
    if (item) {
      const { number, voice } = item.element.dataset;
      const name = item.element.getAttribute("aria-label").split(",")[0];
      const isAsked = name === "?";
      showReadout(name, isAsked ? "" : number, !isAsked && !tune.drums.includes(Number(voice)));
    } else {
      showReadout("–", "", false);
    }
  }

  function showColumn(second) {
    const here = columns.find((item) => soundsAt(item, second));
    const column = byId("column");
    if (!here) {
      column.setAttribute("width", 0);
      return;
    }
    const left = parseFloat(here.element.style.left);
    const width = parseFloat(here.element.style.width);
    column.setAttribute("x", left);
    column.setAttribute("width", width);
    const scroll = byId("scroll");
    if (left < scroll.scrollLeft || left + width > scroll.scrollLeft + scroll.clientWidth) {
      scroll.scrollLeft = Math.max(0, left - 0.15 * scroll.clientWidth);
    }
  }

  function draw() {
    const second = audio.currentTime;
    const playing = !audio.paused;
    const now = playing ? second : null;
    light(notes, now);
    light(cells, now);
    light(lines, now);
    showColumn(second);
    const bar = bars.find(({ start, end }) => start <= second && second < end);
    byId("place").textContent = bar ? `bar ${bar.number}` : "";
    const sounding = front.find((item) => soundsAt(item, second)) || notes.find((item) => soundsAt(item, second));
    showNote(sounding);
  }

  function frame() {
    keepRound();
    draw();
    if (!audio.paused) {
      requestAnimationFrame(frame);
    }
  }

  // Sound: the clips of the voices that are heard, added up, as a WAV file for the audio element.

  let clips = null;

  async function decoded() {
    const bytes = Uint8Array.from(atob(tune.sound), (sign) => sign.charCodeAt(0));
    const buffer = await new OfflineAudioContext(1, 1, tune.rate).decodeAudioData(bytes.buffer);
    return buffer.getChannelData(0);
  }

  const isHeard = (voice) => {
    const box = document.querySelector(`input[data-voice="${voice}"]`);
    return !box || box.checked;
  };

  function mixed() {
    const samples = new Float32Array(Math.max(tune.frames, Math.ceil(tune.seconds * tune.rate)));
    tune.voices.forEach((places, voice) => {
      for (const [clip, at] of isHeard(voice) ? places : []) {
        const [first, count] = tune.clips[clip];
        for (let place = 0; place < count; place += 1) {
          samples[at + place] += clips[first + place];
        }
      }
    });
    return samples;
  }

  function asWave(samples) {
    let peak = 0.9;
    for (const sample of samples) {
      peak = Math.max(peak, Math.abs(sample));
    }
    const view = new DataView(new ArrayBuffer(44 + 2 * samples.length));
    const write = (at, text) => [...text].forEach((sign, place) => view.setUint8(at + place, sign.charCodeAt(0)));
    write(0, "RIFF");
    view.setUint32(4, 36 + 2 * samples.length, true);
    write(8, "WAVEfmt ");
    view.setUint32(16, 16, true);
    view.setUint16(20, 1, true);
    view.setUint16(22, 1, true);
    view.setUint32(24, tune.rate, true);
    view.setUint32(28, 2 * tune.rate, true);
    view.setUint16(32, 2, true);
    view.setUint16(34, 16, true);
    write(36, "data");
    view.setUint32(40, 2 * samples.length, true);
    const scale = (32767 * 0.9) / peak;
    samples.forEach((sample, place) => view.setInt16(44 + 2 * place, Math.round(sample * scale), true));
    return new Blob([view], { type: "audio/wav" });
  }

  function giveSound() {
    const second = audio.currentTime;
    const playing = !audio.paused;
    const old = audio.src;
    audio.src = URL.createObjectURL(asWave(mixed()));
    audio.addEventListener("loadedmetadata", () => {
      audio.currentTime = second;
      setSpeed();
      if (playing) {
        audio.play();
      }
      if (old) {
        URL.revokeObjectURL(old);
      }
    }, { once: true });
  }

  const ready = decoded().then((samples) => {
    clips = samples;
    giveSound();
    document.body.dataset.ready = "";
  }, () => {
    byId("play").disabled = true;
    byId("name").textContent = "No sound";
    byId("place").textContent = "This browser cannot read the sound of this page.";
  });

  // Playing

  function setSpeed() {
    const speed = Math.min(150, Math.max(25, Number(byId("speed").value) || 100));
    audio.playbackRate = speed / 100;
    audio.preservesPitch = true;
  }

  function roundSpan() {
    const [from, to] = ["from", "to"].map((id) => Number(byId(id).value));
    const chosen = bars.filter(({ number }) => number >= Math.min(from, to) && number <= Math.max(from, to));
    return chosen.length ? [chosen[0].start, chosen[chosen.length - 1].end] : [0, tune.seconds];
  }

  function keepRound() {
    if (!byId("round").checked) {
      return;
    }
    const [start, end] = roundSpan();
    if (audio.currentTime < start - 0.05 || audio.currentTime >= end) {
      audio.currentTime = start;
    }
  }

  function showRound() {
    const [start, end] = byId("round").checked ? roundSpan() : [0, 0];
    for (const bar of bars) {
      bar.element.classList.toggle("chosen", bar.start >= start && bar.start < end);
    }
    keepRound();
    draw();
  }

  async function play() {
    await ready;
    if (audio.currentTime >= tune.seconds - 0.01) {
      audio.currentTime = 0;
    }
    keepRound();
    setSpeed();
    await audio.play();
  }

  function toggle() {
    if (audio.paused) {
      play();
    } else {
      audio.pause();
    }
  }

  function goTo(second) {
    audio.currentTime = second;
    draw();
  }

  function goToNote(by) {
    const starts = [...new Set(front.map(({ spans }) => spans[0][0]))].sort((one, other) => one - other);
    const second = audio.currentTime;
    const before = starts.filter((start) => start < second - 0.02);
    const after = starts.filter((start) => start > second + 0.02);
    goTo(by < 0 ? before[before.length - 1] || 0 : after.length ? after[0] : second);
  }

  function showState() {
    const playing = !audio.paused;
    byId("play").textContent = playing ? "Stop" : "Play";
    byId("play").setAttribute("aria-pressed", String(playing));
    requestAnimationFrame(frame);
  }

  byId("play").addEventListener("click", toggle);
  byId("stop").addEventListener("click", () => {
    audio.pause();
    goTo(byId("round").checked ? roundSpan()[0] : 0);
  });
  byId("speed").addEventListener("change", setSpeed);
  audio.addEventListener("play", showState);
  audio.addEventListener("pause", showState);
  audio.addEventListener("ended", () => {
    if (byId("round").checked) {
      play();
    } else {
      goTo(0);
    }
  });
  for (const id of ["round", "from", "to"]) {
    byId(id).addEventListener("change", showRound);
  }
  for (const { element, start } of bars) {
    element.querySelector(".bar-head").addEventListener("click", () => {
      goTo(start);
      play();
    });
  }
  for (const { element, spans } of notes) {
    element.addEventListener("click", () => {
      goTo(spans[0][0]);
      play();
    });
  }
  for (const box of all("input[data-voice]")) {
    box.addEventListener("change", () => {
      for (const { element } of notes) {
        element.classList.toggle("muted", !isHeard(element.dataset.voice));
      }
      if (clips) {
        giveSound();
      }
    });
  }

  // Practice

  const asked = { note: null, right: 0, count: 0 };

  const plain = (text) => text.trim().toLowerCase().replace(/♯/g, "#").replace(/♭/g, "b").replace(/\s+/g, " ");

  const PARTS = { "½": 1 / 2, "¼": 1 / 4, "¾": 3 / 4, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8,
    "⅞": 7 / 8, "⅙": 1 / 6, "⅚": 5 / 6 };

  function numberIn(text) {
    const [, whole, sign] = /^(\d*)([½¼¾⅓⅔⅛⅜⅝⅞⅙⅚]?)$/.exec(text.trim()) || [];
    if (whole || sign) {
      return Number(whole || 0) + (sign ? PARTS[sign] : 0);
    }
    const [, upper, lower] = /^(\d+)\s*\/\s*(\d+)$/.exec(text.trim()) || [];
    return lower ? Number(upper) / Number(lower) : Number(text.trim().replace(",", ".") || NaN);
  }

  const isSame = (given, wanted) =>
    plain(given) === plain(wanted) || Math.abs(numberIn(given) - numberIn(wanted)) < 1e-6;

  function ask() {
    const choice = front[Math.floor(Math.random() * front.length)].element;
    if (asked.note) {
      asked.note.classList.remove("asked");
    }
    asked.note = choice;
    choice.classList.add("asked");
    byId("scroll").scrollLeft = Math.max(0, Number(choice.querySelector(".body").getAttribute("x")) - 120);
    byId("answer").value = "";
  }

  function check(event) {
    event.preventDefault();
    const { number } = asked.note.dataset;
    const names = tune.names[number] || [];
    const given = byId("answer").value;
    const letters = names.map((name) => name.replace(/-?\d+$/, ""));
    const right = [number, ...names, ...letters].some((name) => isSame(given, name));
    asked.count += 1;
    asked.right += right ? 1 : 0;
    const verdict = byId("verdict");
    verdict.className = right ? "is-right" : "is-wrong";
    const said = `${names[names.length - 1]}, ${number}`;
    verdict.textContent = `${right ? "Right" : "No, it is"} ${said} · ${asked.right} of ${asked.count} right`;
    ask();
  }

  function setPractice() {
    const kind = byId("practice").value;
    for (const name of ["names", "numbers"]) {
      document.body.classList.toggle(`hides-${name}`, kind === name);
    }
    document.body.classList.toggle("asking", kind === "ask");
    byId("question").hidden = kind !== "ask";
    for (const { element } of cells) {
      element.classList.remove("shown");
    }
    if (asked.note) {
      asked.note.classList.remove("asked");
    }
    if (kind === "ask") {
      asked.right = asked.count = 0;
      byId("verdict").textContent = "";
      ask();
      byId("answer").focus();
    }
  }

  function countGaps() {
    const gaps = all(".gap");
    const right = gaps.filter((gap) => gap.classList.contains("right")).length;
    const wrong = gaps.filter((gap) => gap.classList.contains("wrong")).length;
    byId("score").textContent = `${right} of ${gaps.length} right${wrong ? `, ${wrong} wrong` : ""}`;
  }

  byId("practice").addEventListener("change", setPractice);
  byId("question").addEventListener("submit", check);
  for (const { element } of cells) {
    element.addEventListener("click", () => element.classList.add("shown"));
  }
  for (const input of all(".gap input")) {
    input.addEventListener("change", () => {
      const given = input.value.trim() !== "";
      const right = isSame(input.value, input.dataset.answer);
      input.parentElement.classList.toggle("right", given && right);
      input.parentElement.classList.toggle("wrong", given && !right);
      input.setAttribute("aria-invalid", String(given && !right));
      countGaps();
    });
  }
  if (byId("score")) {
    countGaps();
  }

  // Keys: a small sound of the page's own

  const held = new Map();
  let context = null;

  function strike(key) {
    if (!key || held.has(key)) {
      return;
    }
    context = context || new AudioContext();
    context.resume();
    const oscillator = context.createOscillator();
    const gain = context.createGain();
    oscillator.type = "triangle";
    oscillator.frequency.value = hertzOf(key.dataset.number);
    gain.gain.setValueAtTime(0, context.currentTime);
    gain.gain.linearRampToValueAtTime(0.3, context.currentTime + 0.01);
    gain.gain.setTargetAtTime(0.1, context.currentTime + 0.01, 0.4);
    oscillator.connect(gain).connect(context.destination);
    oscillator.start();
    held.set(key, { oscillator, gain });
    key.classList.add("down");
    showReadout(key.querySelector("b").textContent, key.dataset.number, true);
  }

  function letGo(key) {
    const sounding = held.get(key);
    if (sounding) {
      held.delete(key);
      key.classList.remove("down");
      sounding.gain.gain.setTargetAtTime(0, context.currentTime, 0.06);
      sounding.oscillator.stop(context.currentTime + 0.5);
    }
  }

  for (const key of all(".key")) {
    key.addEventListener("pointerdown", () => strike(key));
    for (const event of ["pointerup", "pointerleave", "pointercancel"]) {
      key.addEventListener(event, () => letGo(key));
    }
  }

  // The computer's keys

  const isTyping = (target) => target.matches("input:not([type=checkbox]), select");
  const keyFor = (event) => document.querySelector(`.key[data-key="${CSS.escape(event.key.toUpperCase())}"]`);

  document.addEventListener("keydown", (event) => {
    if (isTyping(event.target) || event.ctrlKey || event.altKey || event.metaKey) {
      return;
    }
    const onButton = event.target.matches("button, input");
    if (event.key === " " && !onButton) {
      event.preventDefault();
      toggle();
    } else if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      event.preventDefault();
      goToNote(event.key === "ArrowLeft" ? -1 : 1);
    } else if (event.key === "Home") {
      event.preventDefault();
      goTo(0);
    } else if (event.key.length === 1 && event.key !== " " && !event.repeat) {
      strike(keyFor(event));
    } else if ((event.key === "Enter" || event.key === " ") && event.target.matches(".key") && !event.repeat) {
      strike(event.target);
    }
  });
  document.addEventListener("keyup", (event) => {
    letGo(event.target.matches(".key") && event.key !== "Tab" ? event.target : event.key && keyFor(event));
  });
  window.addEventListener("blur", () => [...held.keys()].forEach(letGo));

  draw();
})();

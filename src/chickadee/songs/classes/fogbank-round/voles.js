// Voles: strikes that go on at once, and waits between them
const BEAT = 625;
const wait = ms => new Promise(done => setTimeout(done, ms));

async function line(notes) {
  for (const [note, beats] of notes) {
    play(note);
    await wait(beats * BEAT);
  }
}

const horn = [[65, 2], [69, 2], [67, 1], [70, 1], [67, 2]];
const wave = [[72, 1], [69, 1], [65, 1], [69, 1], [70, 2], [64, 2]];
const rope = [[69, 1], [72, 1], [69, 0.5], [67, 0.5], [65, 1], [64, 1], [60, 1], [64, 1], [67, 1]];

async function round() {
  for (const part of [horn, wave, rope, horn, [[65, 4]]]) {
    await line(part);
  }
}

round();

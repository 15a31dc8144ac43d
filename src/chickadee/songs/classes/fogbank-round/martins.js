// Martins: one wait is missing
async function horn() {
  play("F4"); await beats(2);
  play("A4"); await beats(2);
  play("G4"); await beats(1);
  play("Bb4"); await beats(1);
  play("G4"); await beats(2);
}

async function beats(count) {
  await sleep(count * 625);
}

async function tune() {
  await horn();
  for (const note of ["C5", "A4", "F4", "A4"]) { play(note); await beats(1); }
  play("Bb4");
  play("E4"); await beats(2);
  for (const note of ["A4", "C5"]) { play(note); await beats(1); }
  for (const note of ["A4", "G4"]) { play(note); await beats(0.5); }
  for (const note of ["F4", "E4", "C4", "E4", "G4"]) { play(note); await beats(1); }
  await horn();
  play("F4"); await beats(4);
}

tune();

// Minnows: the counter stops too soon
const notes = ["F4", "A4", "G4", "Bb4", "G4", "C5", "A4", "F4", "A4", "Bb4", "E4",
  "A4", "C5", "A4", "G4", "F4", "E4", "C4", "E4", "G4", "F4", "A4", "G4", "Bb4", "G4", "F4"];
const beats = [2, 2, 1, 1, 2, 1, 1, 1, 1, 2, 2, 1, 1, 0.5, 0.5, 1, 1, 1, 1, 1, 2, 2, 1, 1, 2, 4];
for (let i = 0; i < notes.length - 1; i++) {
  play(notes[i], beats[i]);
}

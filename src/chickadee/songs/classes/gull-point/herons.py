# the Herons' landing
from time import sleep

notes = [67, 71, 69, 64, 62, 67, 69, 72, 71, 69, 72, 71, 67, 64, 62, 64, 67, 65, 67]
beats = [1, 1, 1, 2, 1, 1, 1, 1, 3, 1, 1, 1, 2, 1, 0.5, 0.5, 1, 1, 3]

for note, beat in zip(notes, beats):
    print(note)
    sleep(beat * 0.65)

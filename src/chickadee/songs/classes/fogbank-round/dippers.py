# Dippers: the rope is written and never used
from boat import play

def horn():
    play("F4", 2)
    play("A4", 2)
    play("G4", 1)
    play("Bb4", 1)
    play("G4", 2)

def wave():
    for n in ["C5", "A4", "F4", "A4"]:
        play(n, 1)
    play("Bb4", 2)
    play("E4", 2)

def rope():
    play("A4", 1)
    play("C5", 1)
    play("A4", 1/2)
    play("G4", 1/2)
    play("F4", 1)
    for n in ["E4", "C4", "E4", "G4"]:
        play(n, 1)

horn()
wave()

horn()
play("F4", 4)

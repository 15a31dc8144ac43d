// Grebes: the wave is a third too low in its second bar
public class Grebes {
    static void horn() {
        Boat.play("F4", 2);
        Boat.play("A4", 2);
        Boat.play("G4", 1);
        Boat.play("Bb4", 1);
        Boat.play("G4", 2);
    }

    public static void main(String[] args) {
        horn();
        String[] wave = {"C5", "A4", "F4", "A4"};
        for (String name : wave) {
            Boat.play(name, 1);
        }
        Boat.play("G4", 2);
        Boat.play("E4", 2);
        Boat.play("A4", 1);
        Boat.play("C5", 1);
        Boat.play("A4", 0.5);
        Boat.play("G4", 0.5);
        Boat.play("F4", 1);
        int[] rope = {64, 60, 64, 67};
        for (int i = 0; i < rope.length; i++) {
            Boat.play(rope[i], 1);
        }
        horn();
        Boat.play("F4", 4);
    }
}

// Shrews: tone(pin, hertz, milliseconds)
void play(float hertz, int ms);
void setup() {
  play(392.00, 652);
  play(493.88, 652);
  play(440.00, 652);
  play(329.63, 1304);
  play(293.66, 652);
  play(392.00, 652);
  play(440.00, 652);
  play(523.25, 652);
  play(493.88, 1956);
  play(440.00, 652);
  play(523.25, 652);
  play(493.88, 652);
  play(392.00, 1304);
  play(329.63, 652);
  play(293.66, 326);
  play(329.63, 326);
  play(392.00, 652);
  play(369.99, 652);
  play(392.00, 1956);
}

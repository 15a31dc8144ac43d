// Pikes: the counter begins with 1
#include <vector>

int main() {
    std::vector<int> notes = {65, 69, 67, 70, 67, 72, 69, 65, 69, 70, 64,
                              69, 72, 69, 67, 65, 64, 60, 64, 67,
                              65, 69, 67, 70, 67, 65};
    std::vector<double> beats = {2, 2, 1, 1, 2, 1, 1, 1, 1, 2, 2,
                                 1, 1, 0.5, 0.5, 1, 1, 1, 1, 1,
                                 2, 2, 1, 1, 2, 4};
    for (int i = 1; i < notes.size(); i++) {
        play(notes[i], beats[i]);
    }
}

/* Terns: records and one loop over them */
#include <stdio.h>

struct note { int number; float beats; };

struct note tune[] = {
    {65, 2}, {69, 2}, {67, 1}, {70, 1}, {67, 2},
    {72, 1}, {69, 1}, {65, 1}, {69, 1}, {70, 2}, {64, 2},
    {69, 1}, {72, 1}, {69, 0.5}, {67, 0.5}, {65, 1},
    {64, 1}, {60, 1}, {64, 1}, {67, 1},
    {65, 2}, {69, 2}, {67, 1}, {70, 1}, {67, 2},
    {65, 4},
};

int main(void) {
    int count = sizeof(tune) / sizeof(tune[0]);
    for (int i = 0; i < count; i++) {
        play(tune[i].number, tune[i].beats);
    }
    return 0;
}

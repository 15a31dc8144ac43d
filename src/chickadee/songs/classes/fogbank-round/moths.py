# Moths: one round more than there are notes
horn = [(65, 2), (69, 2), (67, 1), (70, 1), (67, 2)]
wave = [(72, 1), (69, 1), (65, 1), (69, 1), (70, 2), (64, 2)]
tune = horn + wave
for i in range(12):
    number, beats = tune[i]
    play(number, beats)

# SPDX-License-Identifier: GPL-3.0-or-later
"""The analysis of three tests with numpy and scipy, step by step as in src/core/bench: the baseline of
bench-analysis, which calls it with a folder of recorded answers. Prints a name and milliseconds each."""
import sys
import time

import numpy as np
from scipy import fft, stats

RATE_HZ = 48000
ROUNDS = 5


def best_ms(work):
    best = float("inf")
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        work()
        best = min(best, 1000 * (time.perf_counter() - begun))
    return best


def read(name):
    return np.fromfile(f"{sys.argv[1]}/{name}", dtype=np.float64)


def log_grid(low_hz, high_hz, per_octave):
    count = int(np.floor(np.log2(high_hz / low_hz) * per_octave))
    return low_hz * 2 ** (np.arange(count + 1) / per_octave)


sweep, answer, tone, reverb = (read(name) for name in ("sweep", "answer", "tone", "reverb"))


def response():
    size = fft.next_fast_len(2 * len(sweep), real=True)
    reference = fft.rfft(sweep, size)
    power = np.abs(reference) ** 2
    impulse = fft.irfft(fft.rfft(answer, size) * np.conj(reference) / (power + 1e-9 * power.max()), size)
    part = np.zeros(25 * RATE_HZ)
    part[: len(answer)] = impulse[: len(answer)]
    skirt = RATE_HZ // 10
    part[-skirt:] = impulse[-skirt:] * np.linspace(0, 1, skirt)
    spectrum = fft.rfft(part)
    bins_hz = np.arange(len(spectrum)) * RATE_HZ / len(part)
    magnitude_db = 20 * np.log10(np.abs(spectrum) + 1e-15)
    grid = log_grid(20, 0.45 * RATE_HZ, 192)
    on_grid = np.interp(grid, bins_hz, magnitude_db)
    # The passband: where most values of a window of 1 dB lie; then the outermost crossings 3.01 dB below.
    ordered = np.sort(on_grid)
    counts = np.searchsorted(ordered, ordered + 1, side="right") - np.arange(len(ordered))
    passband = ordered[counts.argmax()]
    above = np.flatnonzero(on_grid > passband - 3.01)
    np.interp(log_grid(10, 0.485 * RATE_HZ, 48), bins_hz, np.degrees(np.unwrap(np.angle(spectrum))))
    return grid[above[0]], grid[above[-1]]


def harmonics():
    return 2 * np.abs(fft.rfft(tone)) ** 2 / len(tone) ** 2


def decay():
    size = fft.next_fast_len(len(reverb) + RATE_HZ // 4, real=True)
    whole = fft.rfft(reverb, size)
    times = []
    for centre_hz in (125, 250, 500, 1000, 2000, 4000, 8000):
        first, last = (int(centre_hz * 2**side * size / RATE_HZ) for side in (-2 / 3, 2 / 3))
        away = np.abs(np.log2(np.arange(first + 1, last + 1) * RATE_HZ / size / centre_hz))
        bins = np.zeros_like(whole)
        bins[first + 1 : last + 1] = whole[first + 1 : last + 1] * np.cos(
            np.pi / 2 * np.clip((away - 1 / 3) * 3, 0, 1)
        )
        power = fft.irfft(bins, size)[: len(reverb)] ** 2
        block = RATE_HZ // 100
        means = power[: len(power) // block * block].reshape(-1, block).mean(axis=1)
        noise = means[-len(means) // 10 :].mean()
        end = (np.flatnonzero(means > 10 * noise)[-1] + 1) * block
        beyond = 0.0
        for _ in range(4):
            left = np.cumsum((power[:end] - noise)[::-1])[::-1] + beyond
            curve = 10 * np.log10(np.maximum(left / left[0], 1e-20))
            first, last = np.argmax(curve <= -5), np.argmax(curve <= -35)
            t30 = -60 / stats.linregress(np.arange(first, last), curve[first:last]).slope / RATE_HZ
            beyond = max(0.0, means[end // block - 1] - noise) * RATE_HZ * t30 / np.log(1e6)
        times.append(t30)
    return times


for name, work in (("response", response), ("harmonics", harmonics), ("decay", decay)):
    print(name, best_ms(work))

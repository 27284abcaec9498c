// SPDX-License-Identifier: GPL-3.0-or-later
//
// The baseline of `hrack loudness`: libsndfile and libebur128 in the barest loop that yields the same figures.
#include <algorithm>
#include <cstdio>
#include <ebur128.h>
#include <sndfile.h>
#include <vector>

int main(int, char** argv)
{
    SF_INFO info{};
    SNDFILE* file = sf_open(argv[1], SFM_READ, &info);
    if (!file)
        return 1;
    const auto channels = static_cast<unsigned>(info.channels);
    ebur128_state* state = ebur128_init(channels, static_cast<unsigned long>(info.samplerate),
                                        EBUR128_MODE_I | EBUR128_MODE_LRA | EBUR128_MODE_TRUE_PEAK);
    const int step = info.samplerate / 10;
    std::vector<float> frames(static_cast<std::size_t>(step) * channels);
    double momentary = -200;
    double short_term = -200;
    while (const sf_count_t got = sf_readf_float(file, frames.data(), step)) {
        ebur128_add_frames_float(state, frames.data(), static_cast<std::size_t>(got));
        double now = 0;
        ebur128_loudness_momentary(state, &now);
        momentary = std::max(momentary, now);
        ebur128_loudness_shortterm(state, &now);
        short_term = std::max(short_term, now);
    }
    double integrated = 0;
    double range = 0;
    double peak = 0;
    ebur128_loudness_global(state, &integrated);
    ebur128_loudness_range(state, &range);
    ebur128_true_peak(state, 0, &peak);
    std::printf("%.2f LUFS, %.2f LU, %.2f, %.2f, %.4f\n", integrated, range, momentary, short_term, peak);
}

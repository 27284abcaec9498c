// SPDX-License-Identifier: GPL-3.0-or-later
//
// Broken on purpose once sound comes in.
#pragma once

#include "parts.h"

#include <limits>
#include <thread>

namespace specimens {

struct Becalmed {
    static constexpr About about{
        "becalmed", "Becalmed", "Ferrylight", "ReverbPlugin",
        "Never comes back once it has been given sound, to show what becomes of such a processor."};
    static constexpr std::array controls{Control{"decay_s", "Decay", "s", 1, 100, 60}};

    explicit Becalmed(double) {}
    void process(const Stereo&, const StereoOut&, std::uint32_t, const Values<Becalmed>&)
    {
        for (;;)
            std::this_thread::sleep_for(std::chrono::hours(1));
    }
};

struct Wrecker {
    static constexpr About about{
        "wrecker", "Wrecker's Lamp", "Ninth Groyne", "FilterPlugin",
        "Puts out samples that are not finite after a while, to show what becomes of such a processor."};
    static constexpr std::array controls{Control{"gain_db", "Gain", "db", -12, 12, 0}};

    explicit Wrecker(double) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Wrecker>& c)
    {
        for (std::uint32_t i = 0; i < frames; ++i, ++seen)
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = seen > 20000 ? std::numeric_limits<float>::quiet_NaN()
                                            : static_cast<float>(fromDb(c[0])) * in[side][i];
    }

private:
    std::uint32_t seen = 0;
};

} // namespace specimens

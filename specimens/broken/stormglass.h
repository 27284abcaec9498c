// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "specimen.h"

#include <csignal>

namespace specimens {

/// Breaks on purpose: a segmentation fault as soon as it is started.
struct Stormglass {
    static constexpr About about{
        "stormglass", "Stormglass", "Ninth Groyne", "DelayPlugin",
        "Breaks on purpose as soon as it is started, to show what becomes of such a processor."};
    static constexpr std::array controls{Control{"time_ms", "Time", "ms", 1, 1000, 250, Law::Logarithmic}};

    explicit Stormglass(double) { std::raise(SIGSEGV); }

    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, controls.size()>&) {}
};

} // namespace specimens

// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "specimen.h"

#include <csignal>

namespace specimens {

/// Breaks on purpose: a segmentation fault as soon as it is started.
struct Stormglass {
    static constexpr int controls = 1;

    explicit Stormglass(double) { std::raise(SIGSEGV); }

    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, controls>&) {}
};

} // namespace specimens

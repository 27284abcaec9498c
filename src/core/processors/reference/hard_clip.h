// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/levels.h"

#include <algorithm>

namespace hr::processors {

/// Cuts off at +-10^(clip_dbfs / 20); no oversampling, so that its harmonics fold as paper says.
class HardClip : public ReferenceProcessor {
public:
    HardClip()
        : ReferenceProcessor("hard-clip", "Hard clip", "saturation",
                             {{"clip_dbfs", "Clip level", "dBFS", -40, 0, -6, Scale::Linear, {}, {}, false}})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < channels; ++c)
            for (std::size_t i = 0; i < frames; ++i)
                out[c][i] = std::clamp(in[c][i], -m_limit, m_limit);
    }

private:
    void changed() noexcept override { m_limit = static_cast<float>(signal::dbToLinear(value(0))); }

    float m_limit = 1;
};

} // namespace hr::processors

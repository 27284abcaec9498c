// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/safety_limiter.h"

#include <algorithm>
#include <cmath>

namespace hr::signal {

void SafetyLimiter::process(float* left, float* right, std::size_t frames) noexcept
{
    for (std::size_t i = 0; i < frames; ++i) {
        const bool finite = std::isfinite(left[i]) && std::isfinite(right[i]);
        const float l = finite ? left[i] : 0.0F;
        const float r = finite ? right[i] : 0.0F;
        const float peak = std::max(std::abs(l), std::abs(r));
        const float out_l = m_left[m_at];
        const float out_r = m_right[m_at];
        m_left[m_at] = l;
        m_right[m_at] = r;
        m_wanted[m_at] = peak > ceiling ? ceiling / peak : 1.0F;
        m_at = (m_at + 1) % latency_frames;

        // Each coming peak pulls the gain down along a straight line that arrives just in time.
        float target = 1.0F;
        if (peak > ceiling || m_gain < 1.0F)
            for (std::size_t k = 0; k < latency_frames; ++k) {
                const float wanted = m_wanted[(m_at + k) % latency_frames];
                if (wanted < 1.0F) {
                    const float near = 1.0F - static_cast<float>(k) / latency_frames;
                    target = std::min(target, 1.0F - (1.0F - wanted) * near);
                }
            }
        m_gain = std::min(target, m_gain + (1.0F - m_gain) * release_per_frame + 1e-7F);
        m_acted = m_acted || m_gain < 1.0F || !finite;
        left[i] = m_gain < 1.0F ? std::clamp(out_l * m_gain, -ceiling, ceiling) : out_l;
        right[i] = m_gain < 1.0F ? std::clamp(out_r * m_gain, -ceiling, ceiling) : out_r;
    }
}

} // namespace hr::signal

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/device.h"

#include "bench/latency.h"

#include <algorithm>

namespace hr::bench {

hosting::FaultOr<Device> Device::open(const hosting::Location& location, std::vector<double> values,
                                      const Conditions& conditions)
{
    auto instance = hosting::openInstance(location);
    if (!instance)
        return tl::make_unexpected(instance.error());
    return Device(std::move(*instance), std::move(values), conditions);
}

hosting::FaultOr<void> Device::restart()
{
    return restart(m_conditions.block_frames);
}

hosting::FaultOr<void> Device::restart(std::size_t block_frames)
{
    return m_instance->start({m_conditions.sample_rate_hz, block_frames}, m_values);
}

hosting::FaultOr<std::optional<std::size_t>> Device::findLatency()
{
    return bench::findLatency(*m_instance, {m_conditions.sample_rate_hz, m_conditions.block_frames}, m_values);
}

hosting::FaultOr<signal::AudioBuffer> Device::process(const std::vector<double>& stimulus)
{
    signal::AudioBuffer in(info().audio_in + info().key_in, stimulus.size(), m_conditions.sample_rate_hz);
    for (std::size_t c = 0; c < info().audio_in; ++c)
        std::ranges::transform(stimulus, in.channel(c).begin(), [](double s) { return static_cast<float>(s); });
    return m_instance->process(in);
}

std::vector<double> asDoubles(std::span<const float> samples)
{
    return {samples.begin(), samples.end()};
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The device under test: a processor with fixed settings under stated conditions, fed the same
// signal on all its main inputs (key inputs stay silent) and listened to on all its outputs.
#pragma once

#include "hosting/instance.h"

namespace hr::bench {

struct Conditions {
    double sample_rate_hz = 48000;
    std::size_t block_frames = 256;
    std::optional<double> level_dbfs;   ///< empty: the test's own default
    std::optional<double> frequency_hz; ///< empty: the test's own default
};

class Device {
public:
    static hosting::FaultOr<Device> open(const hosting::Location& location, std::vector<double> values,
                                         const Conditions& conditions);

    const processors::ProcessorInfo& info() const { return m_instance->info(); }
    const Conditions& conditions() const { return m_conditions; }
    std::size_t latencyReportedSamples() const { return m_instance->latencySamples(); }

    /// As freshly started. Every test begins with it.
    hosting::FaultOr<void> restart();
    /// The same at another size of block than the conditions say.
    hosting::FaultOr<void> restart(std::size_t block_frames);

    std::vector<std::uint32_t> takeBlockTimes() { return m_instance->takeBlockTimes(); }
    std::optional<double> memoryMib() const { return m_instance->memoryMib(); }
    /// As findLatency() of latency.h; it is left freshly started.
    hosting::FaultOr<std::optional<std::size_t>> findLatency();

    /// Goes on: the answer has the length of `stimulus` and every output channel.
    hosting::FaultOr<signal::AudioBuffer> process(const std::vector<double>& stimulus);

private:
    Device(std::unique_ptr<hosting::Instance> instance, std::vector<double> values, Conditions conditions)
        : m_instance(std::move(instance)), m_values(std::move(values)), m_conditions(conditions)
    {
    }

    std::unique_ptr<hosting::Instance> m_instance;
    std::vector<double> m_values;
    Conditions m_conditions;
};

/// One channel in double precision, as the analysis wants it.
std::vector<double> asDoubles(std::span<const float> samples);

} // namespace hr::bench

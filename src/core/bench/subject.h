// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is under test: a processor at fixed settings under stated conditions, fed whatever a test wants on each
// of its inputs, and listened to on all its outputs.
//
//     auto subject = Subject::open(location, values, {});
//     subject->restart();
//     auto out = subject->process({.main = {left, right}, .moves = {{24000, threshold, -30}}});
#pragma once

#include "bench/conditions.h"
#include "hosting/instance.h"

namespace hr::bench {

struct Stimulus {
    /// One signal for all main inputs, or one for each; all of one length.
    std::vector<std::vector<double>> main;
    /// The same for the key inputs; none: as the conditions say.
    std::vector<std::vector<double>> key = {};

    struct Move {
        std::size_t at_frame = 0; ///< takes effect with the block that begins there or next
        std::size_t parameter = 0;
        double value = 0;
    };
    std::vector<Move> moves = {}; ///< by time
};

struct SettledLevels;

class Subject {
public:
    /// Once `cancel` asks to stop, every call ends at once with Cause::Cancelled.
    static hosting::FaultOr<Subject> open(const hosting::Location& location, std::vector<double> values,
                                          const Conditions& conditions, const std::stop_token& cancel = {});

    const processors::ProcessorInfo& info() const { return m_instance->info(); }
    const Conditions& conditions() const { return m_conditions; }
    const std::vector<double>& values() const { return m_values; }
    /// A fresh one of the same processor, at other values or under other conditions.
    hosting::FaultOr<Subject> another(std::vector<double> values, const Conditions& conditions) const;
    /// As after the last restart() or process(): many report it only once they have run.
    std::size_t latencyReportedSamples() const { return m_instance->latencySamples(); }

    /// As freshly started. Every test begins with it.
    hosting::FaultOr<void> restart();
    /// The same at another size of block, or another rate, than the conditions say.
    hosting::FaultOr<void> restart(std::size_t block_frames);
    hosting::FaultOr<void> restart(const processors::PlayConditions& conditions);

    std::vector<std::uint32_t> takeBlockTimes() { return m_instance->takeBlockTimes(); }
    std::optional<double> memoryMib() const { return m_instance->memoryMib(); }
    hosting::Refusals refusals() const { return m_instance->refusals(); }
    /// How long all stimuli together were that it, and every other one made of it, has got so far.
    double stimuliS() const { return *m_stimuli_s; }
    /// As findLatency() of latency.h; it is left freshly started.
    hosting::FaultOr<std::optional<std::size_t>> findLatency();

    /// Goes on: the answer has the length of the stimulus and every output channel.
    hosting::FaultOr<signal::AudioBuffer> process(const Stimulus& stimulus);
    /// The same signal on all main inputs.
    hosting::FaultOr<signal::AudioBuffer> process(const std::vector<double>& stimulus);

    /// What one test found out about it and others start from; null until then. settled_levels.h.
    std::shared_ptr<const SettledLevels> known_levels;
    std::optional<double> known_linear_dbfs; // linear_level.h
    std::optional<double> known_warm_up_s;   // warm_up.h

private:
    Subject(std::unique_ptr<hosting::Instance> instance, hosting::Location location, std::vector<double> values,
            Conditions conditions, std::stop_token cancel)
        : m_instance(std::move(instance)), m_location(std::move(location)), m_values(std::move(values)),
          m_conditions(std::move(conditions)),
          m_cancel(std::move(cancel)), m_now{m_conditions.sample_rate_hz, m_conditions.block_frames}
    {
    }

    std::unique_ptr<hosting::Instance> m_instance;
    hosting::Location m_location;
    std::vector<double> m_values;
    Conditions m_conditions;
    std::stop_token m_cancel;
    processors::PlayConditions m_now; // as it was started last
    std::shared_ptr<double> m_stimuli_s = std::make_shared<double>(0);
};

/// One channel in double precision, as the analysis wants it.
std::vector<double> asDoubles(std::span<const float> samples);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Several processors in a row, as one: stereo throughout, each stage with its own switch, blend, trim and
// key source. Being a processor itself, a series is measured, matched and heard like any other.
//
// Parameters, by stage n from 1: "n.on", "n.blend_percent" (dry to wet, the dry delayed by the stage's
// reported latency), "n.trim_db" (of the stage's output), "n.key" where it has a key input, then the stage's
// own as "n.KEY". Switch, blend and trim glide over some milliseconds.
#pragma once

#include "processors/processor.h"
#include "signal/delay_line.h"

#include <array>
#include <vector>

namespace hr::processors {

enum class KeySource {
    None,  ///< silence
    Own,   ///< what the stage itself gets
    Chain, ///< what the first stage gets
};

class Series : public Processor {
public:
    /// One stage: stereo in and out (see StereoAdapter). Null is one that is missing: the sound goes round
    /// it, and it keeps its place and its number.
    using Stages = std::vector<std::unique_ptr<Processor>>;

    /// `id` and `name` become those of the whole.
    Series(std::string id, std::string name, Stages stages);

    /// Of a chain that somebody puts together (chain/chain.h).
    static constexpr std::size_t most_stages = 64;

    const ProcessorInfo& info() const noexcept override { return m_info; }
    Result<void> prepare(const PlayConditions& conditions) override;
    void setParameter(std::size_t index, double value) noexcept override;
    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override;
    /// The sum over the stages, whether they are on or not, so that switching one moves nothing in time.
    std::size_t latencySamples() const noexcept override;

private:
    struct Stage {
        std::unique_ptr<Processor> processor; // null: missing
        bool on = true;
        double blend = 1, trim = 1;
        KeySource key = KeySource::Own;
        double dry_now = 0, wet_now = 1; // gliding
        std::array<signal::DelayLine, 2> dry;
    };
    /// What a parameter of the whole is: a switch of its stage, or the stage's own.
    struct Target {
        enum class What { On, Blend, Trim, Key, Own } what;
        std::size_t stage, index;
    };

    void describe(std::size_t number, const Processor* processor);
    void runStage(Stage& stage, const std::array<const float*, 2>& chain_in, std::size_t frames) noexcept;

    ProcessorInfo m_info;
    std::vector<Stage> m_stages;
    std::vector<Target> m_targets; // by parameter
    double m_glide = 1;
    std::array<std::vector<float>, 2> m_now, m_next;
    std::vector<float> m_silence;
};

} // namespace hr::processors

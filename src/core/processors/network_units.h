// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the nodes of a network do to a stereo signal, one unit a kind of node. Only network.cpp makes them.
#pragma once

#include "processors/graph.h"
#include "processors/processor.h"
#include "signal/biquad.h"
#include "signal/delay_line.h"

#include <array>
#include <span>
#include <vector>

namespace hr::processors {

using StereoBuffer = std::array<std::vector<float>, 2>;
using StereoPointers = std::array<const float*, 2>;

/// A stereo delay of whole samples that grows when it has to.
class StereoDelay {
public:
    void reset();
    /// Takes `frames` of `in` and puts what was `delay` samples earlier into `out`, which may be the same.
    void run(const StereoPointers& in, std::size_t delay, const std::array<float*, 2>& out, std::size_t frames);

private:
    std::array<signal::DelayLine, 2> m_lines;
};

/// What a unit is given for a block.
struct UnitInput {
    std::span<const StereoPointers> inputs; ///< by inputsOf(); null pointers where nothing is wired
    StereoPointers chain;                   ///< the chain's input
    std::size_t late = 0;                   ///< by how many samples the inputs are later than the chain's
};

class Unit {
public:
    virtual ~Unit() = default;

    /// What the chain adds, with keys of its own; then the stage's own, with `of_chain` false.
    struct Parameter {
        ParameterInfo info;
        bool of_chain = true;
    };
    virtual std::vector<Parameter> parameters() const = 0;
    virtual std::vector<PresetInfo> presets() const { return {}; }
    virtual bool takesTempo() const { return false; }

    /// A stage's processor: null where there is none.
    virtual Processor* processor() { return nullptr; }
    /// The same, taken out: the unit is of no more use then.
    virtual std::unique_ptr<Processor> takeProcessor() { return nullptr; }

    virtual Result<void> prepare(const PlayConditions& conditions) = 0;
    virtual void setParameter(std::size_t index, double value) noexcept = 0;
    virtual void setTempo(double) noexcept {}
    virtual void run(const UnitInput& in, std::span<StereoBuffer> out, std::size_t frames) noexcept = 0;
    virtual std::size_t latencySamples() const noexcept { return 0; }
};

/// `processor` is a stage's, stereo in and out; null where it is missing, and for all other nodes. `title` is
/// what people read before the names of its parameters.
std::unique_ptr<Unit> makeUnit(const Node& node, const std::string& title, bool key_is_wired,
                               std::unique_ptr<Processor> processor);

/// What a stage's key input listens to.
enum class KeySource {
    None,  ///< silence
    Own,   ///< what the stage itself gets
    Chain, ///< what the chain gets, in step with the stage's own
    Wired, ///< the edge into its key input
};

} // namespace hr::processors

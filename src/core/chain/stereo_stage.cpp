// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/stereo_stage.h"

#include <algorithm>

namespace hr::chain {

using hosting::FaultOr;

FaultOr<StereoStage> StereoStage::open(const hosting::Location& location)
{
    StereoStage stage;
    stage.m_unheard.resize(hosting::stretch_frames);
    auto first = hosting::openInstance(location);
    if (!first)
        return tl::make_unexpected(first.error());
    stage.m_instances.push_back(std::move(*first));
    if (stage.info().audio_in == 1 && stage.info().audio_out == 1) {
        auto second = hosting::openInstance(location);
        if (!second)
            return tl::make_unexpected(second.error());
        stage.m_instances.push_back(std::move(*second));
    }
    return stage;
}

FaultOr<void> StereoStage::start(const processors::PlayConditions& conditions, std::span<const double> values)
{
    for (const auto& instance : m_instances)
        if (auto started = instance->start(conditions, values); !started)
            return started;
    return {};
}

void StereoStage::setParameter(std::size_t index, double value)
{
    for (const auto& instance : m_instances)
        instance->setParameter(index, value);
}

FaultOr<void> StereoStage::process(const float* in_left, const float* in_right, float* out_left,
                                   float* out_right, std::size_t frames)
{
    if (m_instances.size() == 2) {
        if (auto left = run(*m_instances[0], {in_left}, {out_left}, frames); !left)
            return left;
        return run(*m_instances[1], {in_right}, {out_right}, frames);
    }
    if (auto done = run(*m_instances[0], {in_left, in_right}, {out_left, out_right}, frames); !done)
        return done;
    if (info().audio_out == 1)
        std::copy_n(out_left, frames, out_right);
    return {};
}

FaultOr<void> StereoStage::run(hosting::Instance& instance, std::array<const float*, 2> in,
                               std::array<float*, 2> out, std::size_t frames)
{
    const auto& info = instance.info();
    std::array<const float*, hosting::most_channels> from{in[0], in[1]}; // null: silence, for keys and the rest
    std::array<float*, hosting::most_channels> to{out[0], out[1]};
    for (std::size_t c = std::min<std::size_t>(2, out[1] ? 2 : 1); c < info.audio_out; ++c)
        to[c] = m_unheard.data();
    if (info.audio_in < 2)
        from[1] = nullptr; // its second input, if any, is a key
    return instance.process(std::span(from).first(info.audio_in + info.key_in),
                            std::span(to).first(info.audio_out), frames);
}

} // namespace hr::chain

// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/series.h"

#include "processors/stereo_adapter.h"
#include "signal/levels.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace hr::processors {

namespace {

constexpr double glide_ms = 5;
/// Room for the dry signal: longer latencies are reported by nothing that is listened to.
constexpr std::size_t most_latency = 1 << 16;

ParameterInfo control(const std::string& key, const std::string& name, const char* unit, double minimum,
                      double maximum, double default_value, Scale scale)
{
    return {key, name, unit, minimum, maximum, default_value, scale, {}, {}, false, false};
}

} // namespace

Series::Series(std::string id, std::string name, Stages stages)
{
    m_info.id = std::move(id);
    m_info.name = std::move(name);
    m_info.kind = "chain";
    m_info.format = "chain";
    m_info.audio_in = m_info.audio_out = 2;
    for (std::size_t i = 0; i < stages.size(); ++i) {
        describe(i, stages[i].get());
        m_stages.emplace_back();
        m_stages.back().processor = std::move(stages[i]);
    }
}

void Series::describe(std::size_t number, const Processor* processor)
{
    const std::string prefix = std::to_string(number + 1) + ".";
    const std::string title =
        std::to_string(number + 1) + " " + (processor ? processor->info().name : "missing");
    const auto add = [&](Target::What what, std::size_t index, ParameterInfo p) {
        m_info.parameters.push_back(std::move(p));
        m_targets.push_back({what, number, index});
    };
    add(Target::What::On, 0, control(prefix + "on", title + " on", "", 0, 1, 1, Scale::Toggle));
    add(Target::What::Blend, 0,
        control(prefix + "blend_percent", title + " blend", "%", 0, 100, 100, Scale::Linear));
    add(Target::What::Trim, 0, control(prefix + "trim_db", title + " trim", "dB", -60, 24, 0, Scale::Linear));
    if (!processor)
        return;
    const ProcessorInfo& info = processor->info();
    assert(info.audio_in == 2 && info.audio_out == 2);
    if (info.key_in > 0) {
        ParameterInfo key = control(prefix + "key", title + " key", "", 0, 2, 1, Scale::Choice);
        key.choices = {{0, "none"}, {1, "own input"}, {2, "chain input"}};
        add(Target::What::Key, 0, std::move(key));
    }
    for (std::size_t i = 0; i < info.parameters.size(); ++i) {
        ParameterInfo own = info.parameters[i];
        own.key = prefix + own.key;
        own.name = title + ": " + own.name;
        add(Target::What::Own, i, std::move(own));
    }
    for (const PresetInfo& preset : info.presets) {
        PresetInfo own = preset;
        own.name = prefix + own.name;
        for (auto& [key, value] : own.values)
            key = prefix + key;
        m_info.presets.push_back(std::move(own));
    }
}

Result<void> Series::prepare(const PlayConditions& conditions)
{
    m_glide = 1 - std::exp(-1000 / (glide_ms * conditions.sample_rate_hz));
    m_silence.assign(conditions.block_frames, 0.0F);
    for (auto* buffers : {&m_now, &m_next})
        for (auto& channel : *buffers)
            channel.assign(conditions.block_frames, 0.0F);
    for (Stage& stage : m_stages) {
        if (stage.processor)
            if (auto ready = stage.processor->prepare(conditions); !ready)
                return ready;
        const std::size_t latency = stage.processor ? stage.processor->latencySamples() : 0;
        for (auto& line : stage.dry)
            line.reset(std::min(most_latency, 2 * latency + 4096));
        stage.wet_now = stage.on ? stage.blend * stage.trim : 0;
        stage.dry_now = stage.on ? (1 - stage.blend) * stage.trim : 1;
    }
    return {};
}

void Series::setParameter(std::size_t index, double value) noexcept
{
    const Target& target = m_targets[index];
    Stage& stage = m_stages[target.stage];
    switch (target.what) {
    case Target::What::On:
        stage.on = value > 0.5;
        break;
    case Target::What::Blend:
        stage.blend = value / 100;
        break;
    case Target::What::Trim:
        stage.trim = signal::dbToLinear(value);
        break;
    case Target::What::Key:
        stage.key = static_cast<KeySource>(std::lround(value));
        break;
    case Target::What::Own:
        stage.processor->setParameter(target.index, value);
        break;
    }
}

void Series::runStage(Stage& stage, const std::array<const float*, 2>& chain_in, std::size_t frames) noexcept
{
    std::array<const float*, most_channels> in{m_now[0].data(), m_now[1].data()};
    std::array<float*, 2> out{m_next[0].data(), m_next[1].data()};
    const auto& info = stage.processor->info();
    for (std::size_t k = 0; k < info.key_in; ++k)
        in[2 + k] = stage.key == KeySource::None  ? m_silence.data()
                    : stage.key == KeySource::Own ? m_now[k % 2].data()
                                                  : chain_in[k % 2];
    stage.processor->process(in.data(), out.data(), frames);
    const std::size_t latency = std::min(stage.processor->latencySamples(), stage.dry[0].longest());
    const double wet = stage.on ? stage.blend * stage.trim : 0;
    const double dry = stage.on ? (1 - stage.blend) * stage.trim : 1;
    for (std::size_t i = 0; i < frames; ++i) {
        stage.wet_now += (wet - stage.wet_now) * m_glide;
        stage.dry_now += (dry - stage.dry_now) * m_glide;
        for (std::size_t c = 0; c < 2; ++c) {
            stage.dry[c].push(m_now[c][i]);
            m_now[c][i] =
                static_cast<float>(stage.wet_now * m_next[c][i] + stage.dry_now * stage.dry[c].tap(latency));
        }
    }
}

void Series::process(const float* const* in, float* const* out, std::size_t frames) noexcept
{
    for (std::size_t c = 0; c < 2; ++c)
        std::copy_n(in[c], frames, m_now[c].begin());
    for (Stage& stage : m_stages)
        if (stage.processor)
            runStage(stage, {in[0], in[1]}, frames);
    for (std::size_t c = 0; c < 2; ++c)
        std::copy_n(m_now[c].begin(), frames, out[c]);
}

std::size_t Series::latencySamples() const noexcept
{
    std::size_t sum = 0;
    for (const Stage& stage : m_stages)
        sum += stage.processor ? stage.processor->latencySamples() : 0;
    return sum;
}

} // namespace hr::processors

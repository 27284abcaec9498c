// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/network_units.h"

#include "signal/levels.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace hr::processors {

namespace {

constexpr double glide_ms = 5;
/// Filters stay below this part of the rate, where the bilinear transform still makes sense.
constexpr double highest_part_of_rate = 0.45;

ParameterInfo control(const std::string& key, const std::string& name, const char* unit, double minimum,
                      double maximum, double default_value, Scale scale)
{
    ParameterInfo p;
    p.key = key;
    p.name = name;
    p.unit = unit;
    p.minimum = minimum;
    p.maximum = maximum;
    p.default_value = default_value;
    p.scale = scale;
    return p;
}

ParameterInfo onSwitch(const std::string& title)
{
    return control("on", title + " on", "", 0, 1, 1, Scale::Toggle);
}

ParameterInfo level(const std::string& title)
{
    return control("level_db", title + " level", "dB", -60, 24, 0, Scale::Linear);
}

/// A number on its way to another, a frame at a time.
class Glide {
public:
    void prepare(double rate_hz, double value)
    {
        m_share = 1 - std::exp(-1000 / (glide_ms * rate_hz));
        m_now = value;
    }
    double next(double towards) noexcept { return m_now += (towards - m_now) * m_share; }

private:
    double m_share = 1, m_now = 0;
};

class StageUnit : public Unit {
public:
    StageUnit(std::string title, bool key_is_wired, std::unique_ptr<Processor> processor)
        : m_title(std::move(title)), m_key_is_wired(key_is_wired), m_processor(std::move(processor)),
          m_key(key_is_wired ? KeySource::Wired : KeySource::Own)
    {
        assert(!m_processor || (m_processor->info().audio_in == 2 && m_processor->info().audio_out == 2));
    }

    std::vector<Parameter> parameters() const override
    {
        std::vector<Parameter> all{
            {onSwitch(m_title)},
            {control("blend_percent", m_title + " blend", "%", 0, 100, 100, Scale::Linear)},
            {control("trim_db", m_title + " trim", "dB", -60, 24, 0, Scale::Linear)}};
        if (hasKey()) {
            all.push_back({control("key", m_title + " key", "", 0, m_key_is_wired ? 3 : 2,
                                   static_cast<double>(m_key), Scale::Choice)});
            all.back().info.choices = {{0, "none"}, {1, "own input"}, {2, "chain input"}};
            if (m_key_is_wired)
                all.back().info.choices.push_back({3, "as wired"});
        }
        if (m_processor)
            for (const ParameterInfo& own : m_processor->info().parameters) {
                all.push_back({own, false});
                all.back().info.name = m_title + ": " + own.name;
            }
        return all;
    }

    std::vector<PresetInfo> presets() const override
    {
        return m_processor ? m_processor->info().presets : std::vector<PresetInfo>();
    }

    bool takesTempo() const override { return m_processor && m_processor->info().takes_tempo; }
    Processor* processor() override { return m_processor.get(); }
    std::unique_ptr<Processor> takeProcessor() override { return std::move(m_processor); }

    Result<void> prepare(const PlayConditions& conditions) override
    {
        m_silence.assign(conditions.block_frames, 0.0F);
        for (auto* buffers : {&m_dry, &m_chain_key})
            for (auto& channel : *buffers)
                channel.assign(conditions.block_frames, 0.0F);
        m_dry_delay.reset();
        m_key_delay.reset();
        m_wet_gain.prepare(conditions.sample_rate_hz, wet());
        m_dry_gain.prepare(conditions.sample_rate_hz, dry());
        return m_processor ? m_processor->prepare(conditions) : Result<void>();
    }

    void setParameter(std::size_t index, double value) noexcept override
    {
        const std::size_t added = hasKey() ? 4 : 3;
        if (index >= added)
            return m_processor->setParameter(index - added, value);
        if (index == 0)
            m_on = value > 0.5;
        else if (index == 1)
            m_blend = value / 100;
        else if (index == 2)
            m_trim = signal::dbToLinear(value);
        else
            m_key = static_cast<KeySource>(std::lround(value));
    }

    void setTempo(double bpm) noexcept override
    {
        if (m_processor)
            m_processor->setTempo(bpm);
    }

    void run(const UnitInput& in, std::span<StereoBuffer> out, std::size_t frames) noexcept override
    {
        const StereoPointers& main = in.inputs[0];
        if (!m_processor) {
            for (std::size_t c = 0; c < 2; ++c)
                std::copy_n(main[c], frames, out[0][c].begin());
            return;
        }
        std::array<const float*, most_channels> from{main[0], main[1]};
        const StereoPointers key = keySignal(in, frames);
        for (std::size_t k = 0; k < m_processor->info().key_in; ++k)
            from[2 + k] = key[k % 2];
        const std::array<float*, 2> to{out[0][0].data(), out[0][1].data()};
        m_processor->process(from.data(), to.data(), frames);
        // Read after it has run: most set it while they do.
        m_dry_delay.run(main, m_processor->latencySamples(), {m_dry[0].data(), m_dry[1].data()}, frames);
        for (std::size_t i = 0; i < frames; ++i) {
            const double wet_gain = m_wet_gain.next(wet());
            const double dry_gain = m_dry_gain.next(dry());
            for (std::size_t c = 0; c < 2; ++c)
                to[c][i] = static_cast<float>(wet_gain * to[c][i] + dry_gain * m_dry[c][i]);
        }
    }

    std::size_t latencySamples() const noexcept override
    {
        return m_processor ? m_processor->latencySamples() : 0;
    }

private:
    bool hasKey() const { return m_processor && m_processor->info().key_in > 0; }
    double wet() const noexcept { return m_on ? m_blend * m_trim : 0; }
    double dry() const noexcept { return m_on ? (1 - m_blend) * m_trim : 1; }

    StereoPointers keySignal(const UnitInput& in, std::size_t frames) noexcept
    {
        if (!hasKey())
            return {};
        const std::array<float*, 2> delayed{m_chain_key[0].data(), m_chain_key[1].data()};
        m_key_delay.run(in.chain, in.late, delayed, frames); // always, so that a change finds its past
        switch (m_key) {
        case KeySource::Own:
            return in.inputs[0];
        case KeySource::Chain:
            return {delayed[0], delayed[1]};
        case KeySource::Wired:
            return in.inputs[1][0] ? in.inputs[1] : in.inputs[0];
        case KeySource::None:
            break;
        }
        return {m_silence.data(), m_silence.data()};
    }

    std::string m_title;
    bool m_key_is_wired;
    std::unique_ptr<Processor> m_processor; // null: missing
    bool m_on = true;
    double m_blend = 1, m_trim = 1;
    KeySource m_key;
    Glide m_wet_gain, m_dry_gain;
    StereoDelay m_dry_delay, m_key_delay;
    StereoBuffer m_dry, m_chain_key;
    std::vector<float> m_silence;
};

/// S. H. Linkwitz, "Active crossover networks for noncoincident drivers", JAES 24 (1976): two Butterworth
/// sections each way, whose sum is an all-pass. The lower bands get the all-passes of the crossovers above
/// them, so that all bands together are one.
class BandsUnit : public Unit {
public:
    BandsUnit(std::string title, std::size_t bands) : m_title(std::move(title)), m_crossovers(bands - 1)
    {
        for (std::size_t i = 0; i < m_crossovers.size(); ++i) // evenly by octaves, 100 Hz to 6.4 kHz
            m_crossovers[i].frequency_hz =
                100 * std::pow(64.0, (static_cast<double>(i) + 0.5) / static_cast<double>(m_crossovers.size()));
    }

    std::vector<Parameter> parameters() const override
    {
        std::vector<Parameter> all;
        for (std::size_t i = 0; i < m_crossovers.size(); ++i)
            all.push_back({control("crossover_" + std::to_string(i + 1) + "_hz",
                                   m_title + " crossover " + std::to_string(i + 1), "Hz", 20, 20000,
                                   m_crossovers[i].frequency_hz, Scale::Logarithmic)});
        return all;
    }

    Result<void> prepare(const PlayConditions& conditions) override
    {
        m_rate_hz = conditions.sample_rate_hz;
        for (Crossover& crossover : m_crossovers)
            crossover.state = {};
        design();
        return {};
    }

    void setParameter(std::size_t index, double value) noexcept override
    {
        m_crossovers[index].frequency_hz = value;
        design();
    }

    void run(const UnitInput& in, std::span<StereoBuffer> out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < 2; ++c)
            for (std::size_t i = 0; i < frames; ++i) {
                double rest = in.inputs[0][c][i];
                for (std::size_t x = 0; x < m_crossovers.size(); ++x) {
                    Crossover& crossover = m_crossovers[x];
                    Crossover::State& state = crossover.state[c];
                    const double low = state.low[1].next(crossover.low, state.low[0].next(crossover.low, rest));
                    rest = state.high[1].next(crossover.high, state.high[0].next(crossover.high, rest));
                    for (std::size_t band = 0; band < x; ++band)
                        out[band][c][i] = static_cast<float>(
                            state.turned[band].next(crossover.turn, static_cast<double>(out[band][c][i])));
                    out[x][c][i] = static_cast<float>(low);
                }
                out[m_crossovers.size()][c][i] = static_cast<float>(rest);
            }
    }

private:
    struct Crossover {
        struct State {
            std::array<signal::BiquadState, 2> low, high;
            std::array<signal::BiquadState, most_bands> turned; // by band below
        };
        double frequency_hz = 1000;
        signal::Biquad low, high, turn;
        std::array<State, 2> state;
    };

    void design() noexcept
    {
        const double q = signal::butterworthQ(0, 2);
        for (Crossover& crossover : m_crossovers) {
            const double frequency_hz = std::min(crossover.frequency_hz, highest_part_of_rate * m_rate_hz);
            crossover.low = signal::lowPass(frequency_hz, q, m_rate_hz);
            crossover.high = signal::highPass(frequency_hz, q, m_rate_hz);
            crossover.turn = signal::allPass(frequency_hz, q, m_rate_hz);
        }
    }

    std::string m_title;
    double m_rate_hz = described_rate_hz;
    std::vector<Crossover> m_crossovers;
};

class MidSideUnit : public Unit {
public:
    std::vector<Parameter> parameters() const override { return {}; }
    Result<void> prepare(const PlayConditions&) override { return {}; }
    void setParameter(std::size_t, double) noexcept override {}
    void run(const UnitInput& in, std::span<StereoBuffer> out, std::size_t frames) noexcept override
    {
        const auto& [left, right] = in.inputs[0];
        for (std::size_t i = 0; i < frames; ++i) {
            out[0][0][i] = out[0][1][i] = 0.5F * (left[i] + right[i]);
            out[1][0][i] = out[1][1][i] = 0.5F * (left[i] - right[i]);
        }
    }
};

/// Branch, send, return, sum and key: a level, a switch where there is one, a filter where there is one.
class LevelUnit : public Unit {
public:
    LevelUnit(std::string title, bool has_switch, bool has_filter)
        : m_title(std::move(title)), m_has_switch(has_switch), m_has_filter(has_filter)
    {
    }

    std::vector<Parameter> parameters() const override
    {
        std::vector<Parameter> all{{level(m_title)}};
        if (m_has_switch)
            all.push_back({onSwitch(m_title)});
        if (m_has_filter) {
            all.push_back({control("low_cut_hz", m_title + " low cut", "Hz", 0, 20000, 0, Scale::Linear)});
            all.push_back({control("high_cut_hz", m_title + " high cut", "Hz", 0, 20000, 0, Scale::Linear)});
        }
        return all;
    }

    Result<void> prepare(const PlayConditions& conditions) override
    {
        m_rate_hz = conditions.sample_rate_hz;
        m_glide.prepare(m_rate_hz, target());
        m_low_state = m_high_state = {};
        design();
        return {};
    }

    void setParameter(std::size_t index, double value) noexcept override
    {
        if (index == 0)
            m_gain = signal::dbToLinear(value);
        else if (m_has_switch)
            m_on = value > 0.5;
        else
            (index == 1 ? m_low_cut_hz : m_high_cut_hz) = value;
        design();
    }

    void run(const UnitInput& in, std::span<StereoBuffer> out, std::size_t frames) noexcept override
    {
        for (std::size_t i = 0; i < frames; ++i) {
            const double gain = m_glide.next(target());
            for (std::size_t c = 0; c < 2; ++c) {
                double sample = gain * static_cast<double>(in.inputs[0][c][i]);
                if (m_low_cut_hz > 0)
                    sample = m_low_state[c].next(m_low_cut, sample);
                if (m_high_cut_hz > 0)
                    sample = m_high_state[c].next(m_high_cut, sample);
                out[0][c][i] = static_cast<float>(sample);
            }
        }
    }

private:
    double target() const noexcept { return m_on ? m_gain : 0; }
    void design() noexcept
    {
        const double highest_hz = highest_part_of_rate * m_rate_hz;
        const double q = signal::butterworthQ(0, 2);
        if (m_low_cut_hz > 0)
            m_low_cut = signal::highPass(std::min(m_low_cut_hz, highest_hz), q, m_rate_hz);
        if (m_high_cut_hz > 0)
            m_high_cut = signal::lowPass(std::min(m_high_cut_hz, highest_hz), q, m_rate_hz);
    }

    std::string m_title;
    bool m_has_switch, m_has_filter;
    bool m_on = true;
    double m_gain = 1, m_low_cut_hz = 0, m_high_cut_hz = 0;
    double m_rate_hz = described_rate_hz;
    Glide m_glide;
    signal::Biquad m_low_cut, m_high_cut;
    std::array<signal::BiquadState, 2> m_low_state, m_high_state;
};

class RejoinUnit : public Unit {
public:
    explicit RejoinUnit(std::string title) : m_title(std::move(title)) {}
    std::vector<Parameter> parameters() const override { return {{level(m_title)}}; }
    Result<void> prepare(const PlayConditions& conditions) override
    {
        m_glide.prepare(conditions.sample_rate_hz, m_gain);
        return {};
    }
    void setParameter(std::size_t, double value) noexcept override { m_gain = signal::dbToLinear(value); }
    void run(const UnitInput& in, std::span<StereoBuffer> out, std::size_t frames) noexcept override
    {
        const StereoPointers& mid = in.inputs[0];
        const StereoPointers& side = in.inputs[1];
        for (std::size_t i = 0; i < frames; ++i) {
            const auto gain = static_cast<float>(m_glide.next(m_gain));
            out[0][0][i] = gain * (mid[0][i] + side[0][i]);
            out[0][1][i] = gain * (mid[1][i] - side[1][i]);
        }
    }

private:
    std::string m_title;
    double m_gain = 1;
    Glide m_glide;
};

} // namespace

void StereoDelay::reset()
{
    for (auto& line : m_lines)
        line.reset(0);
}

void StereoDelay::run(const StereoPointers& in, std::size_t delay, const std::array<float*, 2>& out,
                      std::size_t frames)
{
    for (std::size_t c = 0; c < 2; ++c) {
        signal::DelayLine& line = m_lines[c];
        if (delay > line.longest())
            line.grow(std::max(delay, 2 * line.longest()));
        for (std::size_t i = 0; i < frames; ++i) {
            line.push(in[c][i]);
            out[c][i] = static_cast<float>(line.tap(delay));
        }
    }
}

std::unique_ptr<Unit> makeUnit(const Node& node, const std::string& title, bool key_is_wired,
                               std::unique_ptr<Processor> processor)
{
    switch (node.kind) {
    case NodeKind::Stage:
        return std::make_unique<StageUnit>(title, key_is_wired, std::move(processor));
    case NodeKind::Bands:
        return std::make_unique<BandsUnit>(title, node.bands);
    case NodeKind::MidSide:
        return std::make_unique<MidSideUnit>();
    case NodeKind::Branch:
    case NodeKind::Send:
    case NodeKind::Return:
        return std::make_unique<LevelUnit>(title, true, false);
    case NodeKind::Sum:
        return std::make_unique<LevelUnit>(title, false, false);
    case NodeKind::Key:
        return std::make_unique<LevelUnit>(title, false, true);
    case NodeKind::Rejoin:
        return std::make_unique<RejoinUnit>(title);
    }
    return nullptr;
}

} // namespace hr::processors

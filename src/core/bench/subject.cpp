// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/subject.h"

#include "bench/latency.h"

#include <algorithm>
#include <cassert>

namespace hr::bench {

namespace {

/// Puts `signals`, one for all or one for each, on the `count` channels of `to` from `first` on.
void put(const std::vector<std::vector<double>>& signals, signal::AudioBuffer& to, std::size_t first,
         std::size_t count)
{
    assert(signals.size() == 1 || signals.size() == count);
    for (std::size_t c = 0; c < count; ++c)
        std::ranges::transform(signals[signals.size() == 1 ? 0 : c], to.channel(first + c).begin(),
                               [](double s) { return static_cast<float>(s); });
}

} // namespace

hosting::FaultOr<Subject> Subject::open(const hosting::Location& location, std::vector<double> values,
                                        const Conditions& conditions, const std::stop_token& cancel)
{
    auto instance = hosting::openInstance(location, {.cancel = cancel});
    if (!instance)
        return tl::make_unexpected(instance.error());
    return Subject(std::move(*instance), location, std::move(values), conditions, cancel);
}

hosting::FaultOr<Subject> Subject::another(std::vector<double> values, const Conditions& conditions) const
{
    auto other = open(m_location, std::move(values), conditions, m_cancel);
    if (other)
        other->m_stimuli_s = m_stimuli_s;
    return other;
}

hosting::FaultOr<void> Subject::restart()
{
    return restart(m_conditions.block_frames);
}

hosting::FaultOr<void> Subject::restart(std::size_t block_frames)
{
    return restart({m_conditions.sample_rate_hz, block_frames});
}

hosting::FaultOr<void> Subject::restart(const processors::PlayConditions& conditions)
{
    m_now = conditions;
    m_now.tempo_bpm = m_conditions.tempo_bpm.value_or(0);
    return m_instance->start(m_now, m_values);
}

hosting::FaultOr<std::optional<std::size_t>> Subject::findLatency()
{
    return bench::findLatency(*m_instance, m_now, m_values);
}

hosting::FaultOr<signal::AudioBuffer> Subject::process(const Stimulus& stimulus)
{
    const std::size_t frames = stimulus.main.front().size();
    const std::size_t main = info().audio_in;
    const std::size_t keys = info().key_in;
    *m_stimuli_s += static_cast<double>(frames) / m_now.sample_rate_hz;
    signal::AudioBuffer in(main + keys, frames, m_now.sample_rate_hz);
    put(stimulus.main, in, 0, main);
    if (keys > 0 && !stimulus.key.empty())
        put(stimulus.key, in, main, keys);
    for (std::size_t k = 0; k < keys && stimulus.key.empty() && m_conditions.key == KeyFeed::OwnInput; ++k)
        std::ranges::copy(in.channel(k % main), in.channel(main + k).begin());
    if (stimulus.moves.empty())
        return m_instance->process(in);

    signal::AudioBuffer out(info().audio_out, frames, m_now.sample_rate_hz);
    std::size_t done = 0;
    auto move = stimulus.moves.begin();
    while (done < frames) {
        for (; move != stimulus.moves.end() && move->at_frame <= done; ++move)
            m_instance->setParameter(move->parameter, move->value);
        std::size_t until = frames;
        if (move != stimulus.moves.end()) // whole blocks, as a host would
            until = std::min(frames, (move->at_frame + m_now.block_frames - 1) / m_now.block_frames *
                                         m_now.block_frames);
        auto part = m_instance->process(signal::slice(in, done, until - done));
        if (!part)
            return part;
        for (std::size_t c = 0; c < out.channels(); ++c)
            std::ranges::copy(part->channel(c), out.channel(c).begin() + static_cast<std::ptrdiff_t>(done));
        done = until;
    }
    return out;
}

hosting::FaultOr<signal::AudioBuffer> Subject::process(const std::vector<double>& stimulus)
{
    return process(Stimulus{{stimulus}});
}

std::vector<double> asDoubles(std::span<const float> samples)
{
    return {samples.begin(), samples.end()};
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A section, round and round through a treatment.
#pragma once

#include "audition/rendered.h"
#include "audition/treatment.h"
#include "bench/latency.h"
#include "hosting/instance.h"

#include <algorithm>
#include <array>

namespace hr::audition {

class LoopRun {
public:
    /// As Channels::Stereo, and started.
    struct Opened {
        std::unique_ptr<hosting::Instance> processor;
        std::unique_ptr<const RenderedSound> rendered; ///< instead of a processor
        std::optional<std::size_t> found_samples;      ///< empty: what it reports counts
        WetDry mix;
    };
    /// Where it is lined up with something, its latency is found from the sound, as the lanes do it.
    enum class Latency { Found, AsReported };
    static hosting::FaultOr<Opened> open(const Source& source, const Treatment& treatment, Latency latency,
                                         const std::stop_token& cancel)
    {
        if (isRendered(treatment.location)) {
            auto rendered = RenderedSound::open(treatment.location, source.rateHz());
            if (!rendered)
                return tl::make_unexpected(rendered.error());
            return Opened{nullptr, std::move(*rendered), std::size_t{0}, treatment.mix};
        }
        auto processor = hosting::openInstance(treatment.location,
                                               {.channels = hosting::Channels::Stereo, .cancel = cancel});
        if (!processor)
            return tl::make_unexpected(processor.error());
        const processors::PlayConditions conditions{source.rateHz(), 256, source.tempoBpm(), true};
        std::optional<std::size_t> found_samples;
        if (latency == Latency::Found) {
            const auto found = bench::findLatency(**processor, conditions, treatment.values);
            if (!found)
                return tl::make_unexpected(found.error());
            found_samples = *found;
        } else if (auto started = (*processor)->start(conditions, treatment.values); !started) {
            return tl::make_unexpected(started.error());
        }
        return Opened{std::move(*processor), nullptr, found_samples, treatment.mix};
    }

    /// `from` is counted from the section's beginning, and may be beyond its end.
    LoopRun(const Source& source, const Section& loop, const Opened& opened, std::size_t from)
        : m_source(source), m_loop(loop), m_processor(opened.processor.get()),
          m_rendered(opened.rendered.get()), m_found(opened.found_samples), m_mix(opened.mix), m_at(from)
    {
    }

    /// By how much it comes late: what was found, else what it reports by now.
    std::size_t latencySamples() const { return m_found ? *m_found : m_processor->latencySamples(); }

    /// So many frames further; `take` is called with left, right and count of what comes out.
    template<class Take>
    hosting::FaultOr<void> pass(std::size_t frames, Take take)
    {
        for (std::size_t done = 0; done < frames; done += m_left.size()) {
            const std::size_t count = std::min(m_left.size(), frames - done);
            m_source.read(m_loop, m_at, m_left.data(), m_right.data(), count);
            if (m_rendered)
                m_rendered->read(m_loop, m_at, m_out_left.data(), m_out_right.data(), count);
            else if (auto ran = m_processor->processStereo(m_left.data(), m_right.data(), m_out_left.data(),
                                                           m_out_right.data(), count);
                     !ran)
                return ran;
            mixDryIn(count);
            m_at += count;
            take(m_out_left.data(), m_out_right.data(), count);
        }
        return {};
    }
    /// The same, unheard.
    hosting::FaultOr<void> pass(std::size_t frames)
    {
        return pass(frames, [](const float*, const float*, std::size_t) {});
    }

private:
    using Stretch = std::array<float, hosting::stretch_frames>;

    void mixDryIn(std::size_t count)
    {
        if (m_mix.isWetAlone())
            return;
        const std::size_t late = latencySamples() % m_loop.frames;
        m_source.read(m_loop, m_at + m_loop.frames - late, m_left.data(), m_right.data(), count);
        for (std::size_t i = 0; i < count; ++i) {
            m_out_left[i] = m_mix.wet * m_out_left[i] + m_mix.dry * m_left[i];
            m_out_right[i] = m_mix.wet * m_out_right[i] + m_mix.dry * m_right[i];
        }
    }

    const Source& m_source;
    const Section m_loop;
    hosting::Instance* const m_processor; // null: it is rendered
    const RenderedSound* const m_rendered;
    const std::optional<std::size_t> m_found;
    const WetDry m_mix;
    std::size_t m_at;
    Stretch m_left{}, m_right{}, m_out_left{}, m_out_right{};
};

} // namespace hr::audition

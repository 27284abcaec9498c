// SPDX-License-Identifier: GPL-3.0-or-later
//
// A section, round and round through a processor that has been opened as Channels::Stereo and started.
#pragma once

#include "audition/source.h"
#include "hosting/instance.h"

#include <algorithm>
#include <array>

namespace hr::audition {

class Rounds {
public:
    /// `from` is counted from the section's beginning, and may be beyond its end.
    Rounds(const Source& source, const Section& loop, hosting::Instance& processor, std::size_t from)
        : m_source(source), m_loop(loop), m_processor(processor), m_at(from)
    {
    }

    /// So many frames further; `take` is called with left, right and count of what comes out.
    template<class Take>
    hosting::FaultOr<void> pass(std::size_t frames, Take take)
    {
        for (std::size_t done = 0; done < frames; done += m_left.size()) {
            const std::size_t count = std::min(m_left.size(), frames - done);
            m_source.read(m_loop, m_at, m_left.data(), m_right.data(), count);
            m_at += count;
            if (auto ran = m_processor.processStereo(m_left.data(), m_right.data(), m_out_left.data(),
                                                     m_out_right.data(), count);
                !ran)
                return ran;
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

    const Source& m_source;
    const Section m_loop;
    hosting::Instance& m_processor;
    std::size_t m_at;
    Stretch m_left{}, m_right{}, m_out_left{}, m_out_right{};
};

} // namespace hr::audition

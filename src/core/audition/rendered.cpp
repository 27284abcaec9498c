// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/rendered.h"

#include <algorithm>

namespace hr::audition {

namespace {

const std::string prefix = "rendered:";

} // namespace

hosting::Location renderedAt(const std::filesystem::path& file)
{
    return {prefix + file.string(), file};
}

bool isRendered(const hosting::Location& location)
{
    return location.id.starts_with(prefix);
}

hosting::FaultOr<std::unique_ptr<const RenderedSound>> RenderedSound::open(const hosting::Location& location,
                                                                           double rate_hz)
{
    auto sound = Source::load(location.bundle, rate_hz);
    if (!sound)
        return hosting::fault(hosting::Phase::Load, hosting::Cause::MissingFile, sound.error().text);
    return std::unique_ptr<const RenderedSound>(new RenderedSound(std::move(*sound)));
}

void RenderedSound::read(const Section& loop, std::size_t at, float* left, float* right,
                         std::size_t count) const
{
    for (std::size_t done = 0; done < count;) {
        const std::size_t in_loop = (at + done) % loop.frames;
        const std::size_t run = std::min(count - done, loop.frames - in_loop);
        const std::size_t first = loop.first + in_loop;
        const std::size_t there =
            first < m_sound->frames() ? std::min(run, m_sound->frames() - first) : std::size_t{0};
        if (there > 0)
            m_sound->read(m_sound->whole(), first, left + done, right + done, there);
        std::fill_n(left + done + there, run - there, 0.0F);
        std::fill_n(right + done + there, run - there, 0.0F);
        done += run;
    }
}

} // namespace hr::audition

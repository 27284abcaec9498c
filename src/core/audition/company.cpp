// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/company.h"

#include "audition/source.h"
#include "hosting/worker_folder.h"
#include "signal/levels.h"
#include "signal/scratch_file.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

using hosting::FaultOr;

constexpr std::size_t stretch_frames = 65536;

/// A sound on disk that others are added to, each from its first frame on.
class Summed {
public:
    static Result<Summed> in(const std::filesystem::path& folder)
    {
        auto first = signal::ScratchFile::in(folder);
        auto second = first ? signal::ScratchFile::in(folder) : tl::make_unexpected(first.error());
        if (!second)
            return tl::make_unexpected(second.error());
        return Summed(std::move(*first), std::move(*second));
    }
    Result<void> begin()
    {
        if (auto rewound = m_sum.rewind(); !rewound)
            return rewound;
        return m_next.rewind();
    }
    Result<void> add(const std::vector<float>& frames, const chain::SideGains& gains)
    {
        m_stretch.resize(frames.size());
        const std::size_t there = m_sum.read(m_stretch.data(), std::min(frames.size(), m_left));
        std::fill(m_stretch.begin() + static_cast<std::ptrdiff_t>(there), m_stretch.end(), 0.0F);
        m_left -= there;
        for (std::size_t i = 0; i < frames.size(); ++i)
            m_stretch[i] += static_cast<float>(i % 2 == 0 ? gains.left : gains.right) * frames[i];
        m_written += frames.size();
        return m_next.write(m_stretch.data(), m_stretch.size());
    }
    Result<void> end()
    {
        m_stretch.resize(2 * stretch_frames);
        while (m_left > 0) {
            const std::size_t count = m_sum.read(m_stretch.data(), std::min(m_stretch.size(), m_left));
            if (count == 0)
                break;
            if (auto written = m_next.write(m_stretch.data(), count); !written)
                return written;
            m_left -= count;
            m_written += count;
        }
        std::swap(m_sum, m_next);
        m_left = std::exchange(m_written, 0);
        return {};
    }
    bool isSilent() const { return m_left == 0; }
    /// So many frames of it, behind so many of silence, and with silence behind what there is.
    Result<void> writeTo(const std::filesystem::path& file, double rate_hz, std::size_t frames,
                         std::size_t silent_frames = 0)
    {
        auto writer = signal::AudioFileWriter::create(file, 2, rate_hz);
        if (!writer)
            return tl::make_unexpected(writer.error());
        if (auto rewound = m_sum.rewind(); !rewound)
            return rewound;
        std::size_t left = m_left;
        m_stretch.assign(2 * stretch_frames, 0.0F);
        for (std::size_t at = 0; at < silent_frames; at += stretch_frames)
            if (auto written = writer->write(m_stretch.data(), std::min(stretch_frames, silent_frames - at));
                !written)
                return written;
        for (std::size_t at = 0; at < frames; at += stretch_frames) {
            const std::size_t count = std::min(stretch_frames, frames - at);
            m_stretch.assign(2 * count, 0.0F);
            left -= m_sum.read(m_stretch.data(), std::min(m_stretch.size(), left));
            if (auto written = writer->write(m_stretch.data(), count); !written)
                return written;
        }
        return writer->finish();
    }

private:
    Summed(signal::ScratchFile sum, signal::ScratchFile next) : m_sum(std::move(sum)), m_next(std::move(next))
    {
    }

    signal::ScratchFile m_sum, m_next;
    std::vector<float> m_stretch;
    std::size_t m_left = 0;    // samples of m_sum that have not been read since begin()
    std::size_t m_written = 0; // to m_next since begin()
};

/// Where a sound goes, and how loud.
struct Into {
    Summed* sum;
    chain::SideGains gains;
};

/// All that is needed while one after the other is added.
class Together {
public:
    Together(const chain::Company& company, const OpenPart& open, const CompanyOrder& order)
        : m_company(company), m_open(open), m_order(order)
    {
    }

    Result<FaultOr<CompanySound>> writeTo(const std::filesystem::path& out)
    {
        auto made = make(out);
        if (m_fault)
            return FaultOr<CompanySound>(tl::make_unexpected(*m_fault));
        if (!made)
            return tl::make_unexpected(made.error());
        return FaultOr<CompanySound>(std::move(m_sound));
    }

private:
    Result<void> make(const std::filesystem::path& out)
    {
        m_folder.make();
        if (m_folder.path().empty())
            return machineFailed(
                "There is no room for temporary files: empty the folder that TMPDIR names, or /tmp.");
        if (auto opened = openSources(); !opened)
            return opened;
        auto sum = Summed::in(m_folder.path());
        if (!sum)
            return tl::make_unexpected(sum.error());
        std::vector<Summed> sends;
        for (std::size_t i = 0; i < m_company.returns.size(); ++i) {
            auto send = Summed::in(m_folder.path());
            if (!send)
                return tl::make_unexpected(send.error());
            sends.push_back(std::move(*send));
        }
        for (const chain::Part& part : m_company.parts)
            if (auto added = addPart(part, *sum, sends); !added)
                return added;
        for (std::size_t i = 0; i < sends.size() && m_order.into.empty(); ++i)
            if (auto added = addReturn(m_company.returns[i], sends[i], *sum); !added)
                return added;
        for (std::size_t i = 0; i < sends.size(); ++i)
            if (m_company.returns[i].id == m_order.into)
                std::swap(*sum, sends[i]);
        const auto silent = static_cast<std::size_t>(std::llround(m_order.silence_s * m_sound.rate_hz));
        return sum->writeTo(out, m_sound.rate_hz, m_frames, silent);
    }

    bool isAmong(const chain::Part& part) const
    {
        const bool sends = m_order.sends_stay && !part.sends.empty();
        return part.standing.heard && (part.id != m_order.without || sends);
    }

    /// Each is opened before anything is played: what is missing is told at once.
    Result<void> openSources()
    {
        double longest_s = 0;
        m_sound.rate_hz = m_order.rate_hz;
        for (const chain::Part& part : m_company.parts) {
            auto file = m_order.find(part.file);
            if (!file)
                return tl::make_unexpected(file.error());
            auto reader = signal::AudioFileReader::open(*file);
            if (!reader)
                return tl::make_unexpected(reader.error());
            if (m_sound.rate_hz == 0)
                m_sound.rate_hz = reader->sampleRateHz();
            longest_s = std::max(longest_s, static_cast<double>(reader->frames()) / reader->sampleRateHz());
            m_files.push_back(*file);
        }
        m_first = static_cast<std::size_t>(std::llround(m_order.first_s * m_sound.rate_hz));
        m_sound.seconds = m_order.length_s.value_or(longest_s - m_order.first_s);
        m_frames = static_cast<std::size_t>(std::max(0LL, std::llround(m_sound.seconds * m_sound.rate_hz)));
        return {};
    }

    /// As two channels at the rate of all, over the time that is asked for.
    Result<void> writeSource(const chain::Part& part, const std::filesystem::path& to) const
    {
        const auto at_part = static_cast<std::size_t>(&part - m_company.parts.data());
        auto source = Source::load(m_files[at_part], m_sound.rate_hz);
        if (!source)
            return tl::make_unexpected(source.error());
        auto writer = signal::AudioFileWriter::create(to, 2, m_sound.rate_hz);
        if (!writer)
            return tl::make_unexpected(writer.error());
        const std::size_t own = (*source)->frames();
        std::vector<float> left(stretch_frames);
        std::vector<float> right(stretch_frames);
        std::vector<float> interleaved(2 * stretch_frames);
        for (std::size_t at = 0; at < m_frames && !m_order.cancel.stop_requested(); at += stretch_frames) {
            const std::size_t count = std::min(stretch_frames, m_frames - at);
            const std::size_t from = m_first + at;
            const std::size_t there = part.repeats ? count : from < own ? std::min(count, own - from) : 0;
            if (own > 0 && there > 0)
                (*source)->read((*source)->whole(), from % own, left.data(), right.data(), there);
            for (std::size_t i = 0; i < count; ++i) {
                interleaved[2 * i] = i < there ? left[i] : 0;
                interleaved[2 * i + 1] = i < there ? right[i] : 0;
            }
            if (auto written = writer->write(interleaved.data(), count); !written)
                return written;
        }
        if (const std::string problem = (*source)->problem(); !problem.empty())
            return wrongRequest(problem);
        return writer->finish();
    }

    Result<void> addPart(const chain::Part& part, Summed& sum, std::vector<Summed>& sends)
    {
        if (!isAmong(part))
            return {};
        const std::filesystem::path file = m_folder.path() / "part.wav";
        if (auto written = writeSource(part, file); !written)
            return written;
        const chain::SideGains gains = gainsOf(part.standing);
        std::vector<Into> into;
        if (part.id != m_order.without)
            into.push_back({&sum, gains});
        for (const chain::Part::SendTo& send : part.sends) {
            const auto to = m_company.returnOf(send.to) - m_company.returns.data();
            const double level = signal::dbToLinear(send.level_db);
            into.push_back({&sends[static_cast<std::size_t>(to)], {level * gains.left, level * gains.right}});
        }
        return play(part.id, part.chain, part.standing, file, into);
    }

    Result<void> addReturn(const chain::Return& back, Summed& send, Summed& sum)
    {
        if (!back.standing.heard || back.id == m_order.without || send.isSilent())
            return {};
        const std::filesystem::path file = m_folder.path() / "send.wav";
        if (auto written = send.writeTo(file, m_sound.rate_hz, m_frames); !written)
            return written;
        return play(back.id, back.chain, back.standing, file, {{&sum, gainsOf(back.standing)}});
    }

    Result<void> play(const std::string& id, const chain::Chain& chain, const chain::Standing& standing,
                      const std::filesystem::path& file, const std::vector<Into>& into)
    {
        auto opened = m_open(chain);
        if (!opened)
            return tl::make_unexpected(opened.error());
        if (!*opened)
            return failed(opened->error());
        for (const Into& one : into)
            if (auto begun = one.sum->begin(); !begun)
                return begun;
        auto played = playThrough(
            *(*opened)->instance, (*opened)->values, file,
            [&](std::vector<float>& frames) -> Result<void> {
                for (const Into& one : into)
                    if (auto added = one.sum->add(frames, one.gains); !added)
                        return added;
                return {};
            },
            m_order.cancel);
        if (!played)
            return tl::make_unexpected(played.error());
        if (played->fault)
            return failed(*played->fault);
        for (const Into& one : into)
            if (auto ended = one.sum->end(); !ended)
                return ended;
        const auto at_its_level = [&](std::optional<double> level) {
            return level ? std::optional(*level + standing.level_db) : level;
        };
        m_sound.levels.push_back({id, at_its_level(played->loudness.integrated_lufs),
                                  at_its_level(played->loudness.true_peak_dbtp)});
        if (m_order.progress)
            m_order.progress(m_sound.levels.size(), m_company.parts.size() + m_company.returns.size());
        return {};
    }

    Result<void> failed(const hosting::Fault& fault)
    {
        m_fault = fault;
        return wrongRequest(fault.detail);
    }

    const chain::Company& m_company;
    const OpenPart& m_open;
    const CompanyOrder& m_order;
    hosting::WorkerFolder m_folder;
    std::vector<std::filesystem::path> m_files; // of the parts
    std::size_t m_first = 0, m_frames = 0;
    CompanySound m_sound;
    std::optional<hosting::Fault> m_fault;
};

} // namespace

Result<FaultOr<CompanySound>> playTogether(const chain::Company& company, const OpenPart& open,
                                           const std::filesystem::path& out, const CompanyOrder& order)
{
    return Together(company, open, order).writeTo(out);
}

} // namespace hr::audition

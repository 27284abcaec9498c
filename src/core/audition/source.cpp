// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/source.h"

#include "signal/finite.h"
#include "signal/resample.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace hr::audition {

namespace {

constexpr std::size_t most_chunks = 24; // of a second each
/// On either side of what is converted, so that a seam between two chunks is as if there were none: longer than
/// the converter's filter.
constexpr std::size_t margin_frames = 4096;

std::string remarkOn(std::size_t channels, double file_rate_hz, double rate_hz)
{
    std::string remark;
    if (channels > 2)
        remark = std::to_string(channels) + " channels mixed down to stereo";
    if (file_rate_hz != rate_hz)
        remark += (remark.empty() ? "" : ", ") + std::string("converted from ") +
                  std::to_string(std::lround(file_rate_hz)) + " Hz";
    return remark;
}

} // namespace

Result<std::shared_ptr<const Source>> Source::load(const std::filesystem::path& file, double rate_hz,
                                                   double longest_in_memory_s)
{
    auto reader = signal::AudioFileReader::open(file);
    if (!reader)
        return tl::make_unexpected(reader.error());
    const std::string remark = remarkOn(reader->channels(), reader->sampleRateHz(), rate_hz);
    const std::size_t file_channels = reader->channels();
    std::shared_ptr<Source> source;
    if (static_cast<double>(reader->frames()) > longest_in_memory_s * reader->sampleRateHz()) {
        source.reset(new Source(std::move(*reader), file, rate_hz));
    } else {
        auto audio = signal::readAudioFile(file);
        if (!audio)
            return tl::make_unexpected(audio.error());
        source = std::make_shared<Source>(signal::resampled(signal::toStereo(*audio), rate_hz));
    }
    source->m_remark = remark;
    source->m_file_channels = file_channels;
    return source;
}

Source::Source(signal::AudioBuffer stereo)
    : m_rate_hz(stereo.sampleRateHz()), m_frames(stereo.frames()), m_audio(std::move(stereo))
{
    addToOverview(m_audio, 0, m_frames);
    m_overview_whole = true;
}

Source::Source(signal::AudioFileReader reader, std::filesystem::path file, double rate_hz)
    : m_rate_hz(rate_hz), m_frames(static_cast<std::size_t>(std::llround(static_cast<double>(reader.frames()) *
                                                                         rate_hz / reader.sampleRateHz()))),
      m_file(std::move(file)), m_reader(std::move(reader)),
      m_decoding([this](const std::stop_token& stop) { decodeAhead(stop); }),
      m_looking([this](const std::stop_token& stop) { lookThrough(stop); })
{
}

Source::~Source() = default;

std::string Source::problem() const
{
    const std::lock_guard lock(m_problem_mutex);
    return m_problem;
}

void Source::report(const std::string& problem) const
{
    const std::lock_guard lock(m_problem_mutex);
    if (m_problem.empty())
        m_problem = m_file.string() + " " + problem + ": it is silent there.";
}

void Source::read(const Section& loop, std::size_t at, float* left, float* right, std::size_t count) const
{
    at %= loop.frames;
    float* const out[2] = {left, right};
    const std::size_t in_all = count;
    const auto chunk_frames = static_cast<std::size_t>(m_rate_hz);
    while (count > 0) {
        const std::size_t frame = loop.first + at;
        std::size_t now = std::min(count, loop.frames - at);
        if (m_audio.frames() > 0) {
            left = std::copy_n(m_audio.channel(0).data() + frame, now, left);
            right = std::copy_n(m_audio.channel(1).data() + frame, now, right);
        } else {
            const auto audio = chunk(frame / chunk_frames);
            const std::size_t inside = frame % chunk_frames;
            now = std::min(now, audio->frames() - inside);
            left = std::copy_n(audio->channel(0).data() + inside, now, left);
            right = std::copy_n(audio->channel(1).data() + inside, now, right);
            const std::lock_guard lock(m_mutex);
            const bool to_the_end = frame / chunk_frames == (loop.first + loop.frames - 1) / chunk_frames;
            m_ahead = to_the_end ? loop.first / chunk_frames : frame / chunk_frames + 1;
            m_wake.notify_all();
        }
        count -= now;
        at = (at + now) % loop.frames;
    }
    if (loop.gain != 1.0F)
        for (float* side : out)
            for (std::size_t i = 0; i < in_all; ++i)
                side[i] *= loop.gain;
}

std::shared_ptr<const signal::AudioBuffer> Source::chunk(std::size_t index) const
{
    std::unique_lock lock(m_mutex);
    for (;;) {
        const auto found = std::ranges::find(m_chunks, index, &Chunk::index);
        if (found == m_chunks.end())
            break;
        if (found->audio) {
            std::rotate(found, found + 1, m_chunks.end());
            return m_chunks.back().audio;
        }
        m_wake.wait(lock);
    }
    if (m_chunks.size() >= most_chunks)
        if (const auto oldest =
                std::ranges::find_if(m_chunks, [](const Chunk& c) { return c.audio != nullptr; });
            oldest != m_chunks.end())
            m_chunks.erase(oldest);
    m_chunks.push_back({index, nullptr});
    lock.unlock();
    std::shared_ptr<const signal::AudioBuffer> audio;
    {
        const std::lock_guard reading(m_reader_mutex);
        audio = std::make_shared<const signal::AudioBuffer>(decode(index));
    }
    lock.lock();
    std::ranges::find(m_chunks, index, &Chunk::index)->audio = audio;
    m_wake.notify_all();
    return audio;
}

/// A second of the source, converted with what lies around it.
signal::AudioBuffer Source::decode(std::size_t index) const
{
    const auto file_rate = static_cast<std::size_t>(m_reader.sampleRateHz());
    const auto rate = static_cast<std::size_t>(m_rate_hz);
    const std::size_t common = std::gcd(file_rate, rate);
    // A whole number of frames at both rates, so that every chunk begins on one.
    const std::size_t steps = file_rate == rate ? 0 : (margin_frames * common + file_rate - 1) / file_rate;
    const std::size_t before = steps * (file_rate / common);

    signal::AudioBuffer around(m_reader.channels(), file_rate + 2 * before, m_reader.sampleRateHz());
    const std::size_t wanted_from = index * file_rate;
    const std::size_t from = wanted_from - std::min(wanted_from, before);
    const std::size_t offset = from + before - wanted_from;
    const std::size_t until = std::min(wanted_from + file_rate + before, m_reader.frames());
    std::vector<float> interleaved((until - from) * m_reader.channels());
    std::size_t got = m_reader.seek(from) ? m_reader.read(interleaved.data(), until - from) : 0;
    if (got < until - from)
        report("cannot be read at " + std::to_string((from + got) / file_rate) + " s");
    if (!signal::allFinite(interleaved)) {
        report("holds samples that are not finite at " + std::to_string(index) + " s");
        got = 0;
    }
    for (std::size_t c = 0; c < m_reader.channels(); ++c)
        for (std::size_t i = 0; i < got; ++i)
            around.channel(c)[offset + i] = interleaved[i * m_reader.channels() + c];

    const std::size_t first = index * rate;
    const std::size_t count = std::min(rate, m_frames - std::min(m_frames, first));
    return signal::slice(signal::resampled(signal::toStereo(around), m_rate_hz), steps * (rate / common),
                         count);
}

void Source::decodeAhead(const std::stop_token& stop)
{
    std::size_t done = 0; // the first is decoded by whoever reads it
    while (!stop.stop_requested()) {
        std::size_t wanted = 0;
        {
            std::unique_lock lock(m_mutex);
            m_wake.wait(lock, stop, [&] { return m_ahead != done; });
            wanted = m_ahead;
        }
        if (!stop.stop_requested() && wanted * static_cast<std::size_t>(m_rate_hz) < m_frames)
            (void)chunk(wanted);
        done = wanted;
    }
}

void Source::lookThrough(const std::stop_token& stop)
{
    auto reader = signal::AudioFileReader::open(m_file); // its own place in the file
    if (!reader)
        return;
    std::vector<float> interleaved(65536 * reader->channels());
    for (std::size_t first = 0; !stop.stop_requested();) {
        const std::size_t got = reader->read(interleaved.data(), 65536);
        if (got == 0)
            break;
        signal::AudioBuffer audio(reader->channels(), got, reader->sampleRateHz());
        for (std::size_t c = 0; c < audio.channels(); ++c)
            for (std::size_t i = 0; i < got; ++i)
                audio.channel(c)[i] = interleaved[i * audio.channels() + c];
        addToOverview(audio, first, reader->frames());
        first += got;
    }
    m_overview_whole.store(true, std::memory_order_release);
}

void Source::addToOverview(const signal::AudioBuffer& audio, std::size_t first, std::size_t of_frames) const
{
    for (std::size_t i = 0; i < audio.frames(); ++i) {
        auto& column = m_overview[std::min((first + i) * overview_columns / of_frames, overview_columns - 1)];
        float peak = column.load(std::memory_order_relaxed);
        for (std::size_t c = 0; c < audio.channels(); ++c)
            peak = std::max(peak, std::abs(audio.channel(c)[i])); // NaN is not a peak
        column.store(peak, std::memory_order_relaxed);
    }
}

Section fitted(const Section& asked, std::size_t source_frames, std::size_t least_frames)
{
    const std::size_t least = std::min(least_frames, source_frames);
    const std::size_t frames = std::clamp(asked.frames, least, source_frames);
    return {std::min(asked.first, source_frames - frames), frames, asked.gain};
}

} // namespace hr::audition

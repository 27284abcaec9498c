// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/delivery.h"

#include "signal/dither.h"
#include "signal/number_text.h"
#include "signal/resample.h"

#include <cmath>

namespace hr::audition {

namespace {

constexpr std::uint64_t dither_seed = 77;
constexpr std::size_t copied_frames = 65536;

std::size_t bitsOf(signal::SampleFormat samples)
{
    return samples == signal::SampleFormat::Pcm16 ? 16 : samples == signal::SampleFormat::Pcm24 ? 24 : 32;
}

/// Frames as they come from the source, on their way to the file.
class Finisher {
public:
    Finisher(signal::AudioFileWriter writer, std::size_t channels, double from_hz, const DeliveryFormat& format,
             bool dithers)
        : m_writer(std::move(writer)), m_channels(channels), m_samples(format.samples), m_dithers(dithers)
    {
        const double to_hz = format.sample_rate_hz.value_or(from_hz);
        if (to_hz != from_hz)
            m_resampler.emplace(channels, from_hz, to_hz);
        for (std::size_t c = 0; c < channels; ++c)
            m_dither.emplace_back(static_cast<unsigned>(bitsOf(m_samples)), dither_seed + c);
    }

    Result<void> put(const std::vector<float>& interleaved)
    {
        return write(m_resampler && !interleaved.empty() ? m_resampler->process(interleaved) : interleaved);
    }
    Result<void> finish()
    {
        if (m_resampler)
            if (auto rest = write(m_resampler->process({})); !rest)
                return rest;
        return m_writer.finish();
    }
    std::size_t clipped() const
    {
        std::size_t sum = 0;
        for (const signal::Dither& one : m_dither)
            sum += one.clipped();
        return sum;
    }

private:
    Result<void> write(const std::vector<float>& interleaved)
    {
        const std::size_t frames = interleaved.size() / m_channels;
        if (m_samples == signal::SampleFormat::Float32)
            return m_writer.write(interleaved.data(), frames);
        std::vector<std::int32_t> whole(interleaved.size());
        for (std::size_t i = 0; i < interleaved.size(); ++i)
            whole[i] = m_dithers ? m_dither[i % m_channels].next(interleaved[i])
                                 : static_cast<std::int32_t>(static_cast<double>(interleaved[i]) * 0x1p31);
        return m_writer.write(whole.data(), frames);
    }

    signal::AudioFileWriter m_writer;
    std::size_t m_channels;
    signal::SampleFormat m_samples;
    bool m_dithers; // else they are whole numbers of no more bits
    std::optional<signal::StreamResampler> m_resampler;
    std::vector<signal::Dither> m_dither;
};

Result<void> copyInto(Finisher& finisher, signal::AudioFileReader& reader, const std::filesystem::path& source)
{
    std::vector<float> interleaved;
    for (std::size_t at = 0;;) {
        interleaved.resize(copied_frames * reader.channels());
        const std::size_t got = reader.read(interleaved.data(), copied_frames);
        if (got == 0)
            return {};
        interleaved.resize(got * reader.channels());
        for (std::size_t i = 0; i < interleaved.size(); ++i)
            if (!std::isfinite(interleaved[i])) {
                const std::size_t frame = at + i / reader.channels();
                return wrongRequest(source.string() + " holds a sample that is not finite at " +
                                    signal::fixedText(static_cast<double>(frame) / reader.sampleRateHz(), 6) +
                                    " s: it cannot be delivered.");
            }
        at += got;
        if (auto put = finisher.put(interleaved); !put)
            return put;
    }
}

} // namespace

Result<DeliveredFile> deliveredFile(const std::filesystem::path& file)
{
    const auto reader = signal::AudioFileReader::open(file);
    if (!reader)
        return tl::make_unexpected(reader.error());
    auto measured = signal::measureFileLoudness(file);
    if (!measured)
        return tl::make_unexpected(measured.error());
    return DeliveredFile{measured->loudness, measured->channels, measured->sample_rate_hz, measured->seconds,
                         reader->bits()};
}

Result<Delivered> tryDelivery(const std::filesystem::path& source, const DeliveryChain& chain)
{
    Delivered delivered;
    std::optional<signal::LoudnessMeter> meter;
    std::size_t frames = 0;
    const auto in = signal::AudioFileReader::open(source);
    if (!in)
        return tl::make_unexpected(in.error());
    meter.emplace(2, in->sampleRateHz());
    auto played = playThrough(
        *chain.instance, chain.values, source,
        [&](std::vector<float>& interleaved) {
            meter->add(interleaved.data(), interleaved.size() / 2);
            frames += interleaved.size() / 2;
            return Result<void>();
        },
        chain.cancel);
    if (!played)
        return tl::make_unexpected(played.error());
    delivered.fault = played->fault;
    delivered.file = {meter->read(), 2, played->rate_hz, static_cast<double>(frames) / played->rate_hz, 32};
    return delivered;
}

Result<Delivered> deliver(const std::filesystem::path& source, const DeliveryChain& chain,
                          const std::filesystem::path& target, const DeliveryFormat& format)
{
    auto reader = signal::AudioFileReader::open(source);
    if (!reader)
        return tl::make_unexpected(reader.error());
    std::error_code ignored;
    if (std::filesystem::equivalent(source, target, ignored))
        return wrongRequest(target.string() +
                            " is the source itself, and is not overwritten: choose another name.");
    constexpr std::size_t most_of_flac = 8;
    const std::size_t channels = chain.instance ? 2 : reader->channels();
    if (format.kind == signal::FileKind::Flac && channels > most_of_flac)
        return wrongRequest(source.string() + " has " + std::to_string(channels) +
                            " channels, and FLAC takes 8 at most: write a WAV file.");
    const double rate_hz = reader->sampleRateHz();
    auto writer = signal::AudioFileWriter::create(target, channels, format.sample_rate_hz.value_or(rate_hz),
                                                  format.samples, format.kind);
    if (!writer)
        return tl::make_unexpected(writer.error());
    const bool kept = !chain.instance && reader->isWhole() && *reader->bits() <= bitsOf(format.samples) &&
                      format.sample_rate_hz.value_or(rate_hz) == rate_hz;
    Finisher finisher(std::move(*writer), channels, rate_hz, format, !kept);
    Delivered delivered;
    if (chain.instance) {
        auto played = playThrough(
            *chain.instance, chain.values, source,
            [&](std::vector<float>& interleaved) { return finisher.put(interleaved); }, chain.cancel);
        if (!played)
            return tl::make_unexpected(played.error());
        if (played->fault) {
            delivered.fault = played->fault;
            return delivered;
        }
    } else if (auto copied = copyInto(finisher, *reader, source); !copied)
        return tl::make_unexpected(copied.error());
    if (auto finished = finisher.finish(); !finished)
        return tl::make_unexpected(finished.error());
    delivered.clipped_samples = finisher.clipped();
    auto written = deliveredFile(target);
    if (!written)
        return tl::make_unexpected(written.error());
    delivered.file = *written;
    return delivered;
}

} // namespace hr::audition

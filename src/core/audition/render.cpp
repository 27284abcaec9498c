// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/render.h"

#include "signal/levels.h"
#include "signal/loudness.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <future>

namespace hr::audition {

namespace {

constexpr std::size_t stretch = hosting::stretch_frames;

/// Stereo stretches of the file, then silence.
class Input {
public:
    explicit Input(signal::AudioFileReader reader)
        : m_reader(std::move(reader)), m_interleaved(stretch * m_reader.channels()),
          m_meter(m_reader.sampleRateHz(), signal::Figures::Integrated)
    {
    }

    std::size_t channels() const { return m_reader.channels(); }
    double rateHz() const { return m_reader.sampleRateHz(); }
    double secondsAt(std::size_t frame) const { return static_cast<double>(frame) / rateHz(); }
    double seconds() const { return secondsAt(m_at); }

    signal::Loudness loudness() const { return m_meter.read(); }

    /// Frames of the file in the stretch; the rest of `left` and `right` is silence. Refuses what is not
    /// finite.
    Result<std::size_t> read(std::vector<float>& left, std::vector<float>& right)
    {
        std::size_t got = 0;
        while (const std::size_t now =
                   m_ended ? 0 : m_reader.read(m_interleaved.data() + got * channels(), stretch - got))
            got += now;
        m_ended = got < stretch;
        for (std::size_t i = 0; i < got * channels(); ++i)
            if (!std::isfinite(m_interleaved[i]))
                return wrongRequest("It holds a sample that is no finite number at " +
                                    std::to_string(secondsAt(m_at + i / channels())) + " s.");
        signal::AudioBuffer audio(channels(), got, rateHz());
        for (std::size_t c = 0; c < channels(); ++c)
            for (std::size_t i = 0; i < got; ++i)
                audio.channel(c)[i] = m_interleaved[i * channels() + c];
        const signal::AudioBuffer stereo = signal::toStereo(audio);
        m_meter.add(stereo.channel(0).data(), stereo.channel(1).data(), got);
        for (const auto& [side, to] : {std::pair(0U, &left), {1U, &right}}) {
            std::ranges::copy(stereo.channel(side), to->begin());
            std::fill(to->begin() + static_cast<std::ptrdiff_t>(got), to->end(), 0.0F);
        }
        m_at += got;
        return got;
    }

private:
    signal::AudioFileReader m_reader;
    std::vector<float> m_interleaved;
    std::size_t m_at = 0;
    bool m_ended = false;
    signal::StereoMeter m_meter;
};

/// Metered and written as it comes, the first `drop` frames left out.
class Output {
public:
    Output(signal::AudioFileWriter writer, std::size_t channels, double rate_hz)
        : m_writer(std::move(writer)), m_channels(channels),
          m_meter(rate_hz, signal::Figures::IntegratedAndPeak)
    {
    }

    Result<void> put(const float* left, const float* right, std::size_t frames)
    {
        const float* interleaved = m_meter.add(left, right, frames);
        return m_writer.write(m_channels == 2 ? interleaved : left, frames);
    }
    signal::Loudness loudness() const { return m_meter.read(); }
    Result<void> finish() { return m_writer.finish(); }

private:
    signal::AudioFileWriter m_writer;
    std::size_t m_channels;
    signal::StereoMeter m_meter;
};

/// Reads `from`, writes it to `to` by `gain_db`.
Result<void> copyWithGain(const std::filesystem::path& from, const std::filesystem::path& to, double gain_db,
                          signal::SampleFormat format)
{
    auto reader = signal::AudioFileReader::open(from);
    if (!reader)
        return tl::make_unexpected(reader.error());
    auto writer = signal::AudioFileWriter::create(to, reader->channels(), reader->sampleRateHz(), format);
    if (!writer)
        return tl::make_unexpected(writer.error());
    const auto gain = static_cast<float>(signal::dbToLinear(gain_db));
    std::vector<float> interleaved(stretch * reader->channels());
    while (const std::size_t got = reader->read(interleaved.data(), stretch)) {
        for (std::size_t i = 0; i < got * reader->channels(); ++i)
            interleaved[i] *= gain;
        if (auto written = writer->write(interleaved.data(), got); !written)
            return written;
    }
    return writer->finish();
}

/// The whole file and its tail through the instance; its fault, where it had one.
Result<std::optional<hosting::Fault>> runThrough(hosting::Instance& instance, Input& input, Output& output,
                                                 std::size_t tail_frames)
{
    std::vector<float> left(stretch);
    std::vector<float> right(stretch);
    // Each stretch is metered and written on a thread of its own while the next is being processed.
    struct Stretch {
        std::vector<float> left = std::vector<float>(stretch);
        std::vector<float> right = std::vector<float>(stretch);
    };
    std::array<Stretch, 2> out;
    std::future<Result<void>> putting;
    std::size_t drop = instance.latencySamples();
    std::size_t total = drop + tail_frames; // frames to run; grows with what the file holds
    bool ended = false;
    for (std::size_t done = 0; !ended || done < total;) {
        auto got = input.read(left, right);
        if (!got)
            return tl::make_unexpected(got.error());
        total += *got;
        ended = *got < stretch;
        const std::size_t count = std::min(stretch, total - done);
        auto ran =
            instance.processStereo(left.data(), right.data(), out[0].left.data(), out[0].right.data(), count);
        if (!ran)
            return ran.error();
        done += count;
        const std::size_t skip = std::min(drop, count);
        drop -= skip;
        if (putting.valid())
            if (auto put = putting.get(); !put)
                return tl::make_unexpected(put.error());
        std::swap(out[0], out[1]);
        putting = std::async(std::launch::async, [&output, &ready = out[1], skip, count] {
            return output.put(ready.left.data() + skip, ready.right.data() + skip, count - skip);
        });
    }
    if (auto put = putting.get(); !put)
        return tl::make_unexpected(put.error());
    return std::nullopt;
}

} // namespace

Result<Rendered> render(hosting::Instance& instance, std::span<const double> values, bool mono,
                        const RenderOrder& order)
{
    const auto begun = std::chrono::steady_clock::now();
    auto reader = signal::AudioFileReader::open(order.in);
    if (!reader)
        return tl::make_unexpected(reader.error());
    Rendered rendered;
    if (reader->channels() > 2)
        rendered.remark = std::to_string(reader->channels()) + " channels mixed down to stereo";
    const std::size_t channels = mono && reader->channels() == 1 ? 1 : 2;
    const double rate_hz = reader->sampleRateHz();
    if (auto started = instance.start({rate_hz, 256}, values); !started) {
        rendered.fault = started.error();
        return rendered;
    }

    // What is matched is rendered once, beside, and then copied by the gain.
    const std::filesystem::path first = order.out.string() + (order.match ? ".unmatched" : "");
    auto writer = signal::AudioFileWriter::create(first, channels, rate_hz,
                                                  order.match ? signal::SampleFormat::Float32 : order.format);
    if (!writer)
        return tl::make_unexpected(writer.error());
    Input input(std::move(*reader));
    Output output(std::move(*writer), channels, rate_hz);
    auto fault =
        runThrough(instance, input, output, static_cast<std::size_t>(std::lround(order.tail_s * rate_hz)));
    if (!fault)
        return tl::make_unexpected(Error{fault.error().blame, order.in.string() + ": " + fault.error().text});
    rendered.fault = *fault;
    if (rendered.fault)
        return rendered;
    if (auto finished = output.finish(); !finished)
        return tl::make_unexpected(finished.error());
    const signal::Loudness loudness_out = output.loudness();
    rendered.loudness_in_lufs = input.loudness().integrated_lufs;
    rendered.loudness_out_lufs = loudness_out.integrated_lufs;
    if (order.match) {
        if (rendered.loudness_in_lufs && rendered.loudness_out_lufs)
            rendered.gain_db = *rendered.loudness_in_lufs - *rendered.loudness_out_lufs;
        const auto copied = copyWithGain(first, order.out, rendered.gain_db, order.format);
        std::error_code ignored;
        std::filesystem::remove(first, ignored);
        if (!copied)
            return tl::make_unexpected(copied.error());
    }
    if (loudness_out.true_peak_dbtp)
        rendered.true_peak_dbtp = *loudness_out.true_peak_dbtp + rendered.gain_db;
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begun;
    rendered.realtime_factor = input.seconds() / took.count();
    return rendered;
}

} // namespace hr::audition

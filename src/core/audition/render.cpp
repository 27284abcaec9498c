// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/render.h"

#include "signal/levels.h"
#include "signal/loudness.h"
#include "signal/number_text.h"
#include "signal/scratch_file.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <functional>
#include <future>

namespace hr::audition {

namespace {

constexpr std::size_t stretch = hosting::stretch_frames;

/// Stereo stretches of the file, then silence.
class Input {
public:
    explicit Input(signal::AudioFileReader reader)
        : m_reader(std::move(reader)), m_interleaved(stretch * m_reader.channels()),
          m_meter(std::min<std::size_t>(channels(), 2), rateHz(), signal::Figures::Integrated)
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
                return wrongRequest("It holds a sample that is not finite at " +
                                    signal::fixedText(secondsAt(m_at + i / channels()), 6) + " s.");
        signal::AudioBuffer audio(channels(), got, rateHz());
        for (std::size_t c = 0; c < channels(); ++c)
            for (std::size_t i = 0; i < got; ++i)
                audio.channel(c)[i] = m_interleaved[i * channels() + c];
        const signal::AudioBuffer stereo = signal::toStereo(audio);
        for (const auto& [side, to] : {std::pair(0U, &left), {1U, &right}}) {
            std::ranges::copy(stereo.channel(side), to->begin());
            std::fill(to->begin() + static_cast<std::ptrdiff_t>(got), to->end(), 0.0F);
        }
        if (channels() > 2)
            for (std::size_t i = 0; i < got; ++i) {
                m_interleaved[2 * i] = left[i];
                m_interleaved[2 * i + 1] = right[i];
            }
        m_meter.add(m_interleaved.data(), got);
        m_at += got;
        return got;
    }

private:
    signal::AudioFileReader m_reader;
    std::vector<float> m_interleaved;
    std::size_t m_at = 0;
    bool m_ended = false;
    signal::LoudnessMeter m_meter;
};

/// The file that is written: metered as it is written, what it cannot hold counted.
class Output {
public:
    Output(signal::AudioFileWriter writer, std::size_t channels, double rate_hz, signal::SampleFormat format)
        : m_writer(std::move(writer)), m_channels(channels),
          m_holds_any(format == signal::SampleFormat::Float32),
          m_meter(channels, rate_hz, signal::Figures::IntegratedAndPeak)
    {
    }

    Result<void> put(std::vector<float>& interleaved)
    {
        for (float& sample : interleaved)
            if (!m_holds_any && std::abs(sample) > 1) {
                ++m_clipped;
                sample = std::copysign(1.0F, sample);
            }
        const std::size_t frames = interleaved.size() / m_channels;
        m_meter.add(interleaved.data(), frames);
        return m_writer.write(interleaved.data(), frames);
    }
    signal::Loudness loudness() const { return m_meter.read(); }
    std::size_t clipped() const { return m_clipped; }
    Result<void> finish() { return m_writer.finish(); }

private:
    signal::AudioFileWriter m_writer;
    std::size_t m_channels;
    bool m_holds_any;
    signal::LoudnessMeter m_meter;
    std::size_t m_clipped = 0;
};

/// What is matched is put aside until its loudness is known.
struct Aside {
    signal::ScratchFile file;
    signal::LoudnessMeter meter;

    Result<void> put(std::vector<float>& interleaved, std::size_t channels)
    {
        meter.add(interleaved.data(), interleaved.size() / channels);
        return file.write(interleaved.data(), interleaved.size());
    }

    Result<void> copyTo(Output& output, double gain_db)
    {
        if (auto rewound = file.rewind(); !rewound)
            return rewound;
        const auto gain = static_cast<float>(signal::dbToLinear(gain_db));
        std::vector<float> interleaved;
        for (;;) {
            interleaved.resize(2 * stretch); // whole frames of one channel or two
            interleaved.resize(file.read(interleaved.data(), interleaved.size()));
            if (interleaved.empty())
                return {};
            for (float& sample : interleaved)
                sample *= gain;
            if (auto put = output.put(interleaved); !put)
                return put;
        }
    }
};

/// What was opened with one channel gets and gives the left alone.
hosting::FaultOr<void> runStretch(hosting::Instance& instance, const std::vector<float>& left,
                                  const std::vector<float>& right, std::vector<float>& out_left,
                                  std::vector<float>& out_right)
{
    if (instance.info().audio_out > 1)
        return instance.processStereo(left.data(), right.data(), out_left.data(), out_right.data(), stretch);
    std::vector<const float*> in(1 + instance.info().key_in, left.data());
    std::array<float*, 1> out{out_left.data()};
    return instance.process(in, out, stretch);
}

/// The whole file and its tail through the instance; its fault, where it had one. `core_percent`, where it is
/// wanted, is the time that the instance took, against how long the sound lasts.
Result<std::optional<hosting::Fault>> runThrough(hosting::Instance& instance, Input& input,
                                                 std::size_t channels, std::size_t tail_frames,
                                                 const TakeFrames& put, double* core_percent = nullptr)
{
    using Clock = std::chrono::steady_clock;
    Clock::duration taken{};
    std::vector<float> left(stretch);
    std::vector<float> right(stretch);
    std::vector<float> out_left(stretch);
    std::vector<float> out_right(stretch);
    // Each stretch is metered and written on a thread of its own while the next is being processed.
    std::vector<float> ready;
    std::future<Result<void>> putting;
    const auto written = [&putting]() -> Result<void> {
        return putting.valid() ? putting.get() : Result<void>();
    };
    std::size_t latency = 0;
    std::size_t length = tail_frames; // grows with what the file holds
    bool ended = false;
    for (std::size_t done = 0; !ended || done < latency + length;) {
        auto got = input.read(left, right);
        if (!got)
            return tl::make_unexpected(got.error());
        length += *got;
        ended = *got < stretch;
        const auto begun = Clock::now();
        if (auto ran = runStretch(instance, left, right, out_left, out_right); !ran)
            return ran.error();
        taken += Clock::now() - begun;
        if (done <= latency) // many report it only as they run; once sound has been written it is too late
            latency = instance.latencySamples();
        const std::size_t begin = std::min(latency - std::min(latency, done), stretch);
        const std::size_t end =
            ended ? std::min(latency + length - std::min(latency + length, done), stretch) : stretch;
        done += stretch;
        if (auto one = written(); !one)
            return tl::make_unexpected(one.error());
        ready.clear();
        for (std::size_t i = begin; i < end; ++i) {
            ready.push_back(out_left[i]);
            if (channels == 2)
                ready.push_back(out_right[i]);
        }
        putting = std::async(std::launch::async, [&put, &ready] { return put(ready); });
    }
    if (auto last = written(); !last)
        return tl::make_unexpected(last.error());
    if (core_percent)
        *core_percent = 100 * std::chrono::duration<double>(taken).count() * input.rateHz() /
                        static_cast<double>(std::max<std::size_t>(1, length + latency));
    return std::nullopt;
}

} // namespace

Result<Played> playThrough(hosting::Instance& instance, std::span<const double> values,
                           const std::filesystem::path& file, const TakeFrames& take,
                           const std::stop_token& cancel)
{
    auto reader = signal::AudioFileReader::open(file);
    if (!reader)
        return tl::make_unexpected(reader.error());
    Played played;
    played.rate_hz = reader->sampleRateHz();
    if (auto started = instance.start({played.rate_hz, 256}, values); !started) {
        played.fault = started.error();
        return played;
    }
    Input input(std::move(*reader));
    signal::LoudnessMeter meter(2, played.rate_hz, signal::Figures::IntegratedAndPeak);
    auto fault = runThrough(
        instance, input, 2, 0,
        [&](std::vector<float>& interleaved) -> Result<void> {
            if (cancel.stop_requested())
                return wrongRequest("It was cancelled.");
            meter.add(interleaved.data(), interleaved.size() / 2);
            return take(interleaved);
        },
        &played.core_percent);
    if (cancel.stop_requested()) {
        played.fault = hosting::Fault{hosting::Phase::Run, hosting::Cause::Cancelled, {}};
        return played;
    }
    if (!fault)
        return tl::make_unexpected(Error{fault.error().blame, file.string() + ": " + fault.error().text});
    played.fault = *fault;
    played.latency_samples = instance.latencySamples();
    played.loudness = meter.read();
    return played;
}

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
    auto writer = signal::AudioFileWriter::create(order.out, channels, rate_hz, order.format);
    if (!writer)
        return tl::make_unexpected(writer.error());
    Input input(std::move(*reader));
    Output output(std::move(*writer), channels, rate_hz, order.format);
    std::optional<Aside> aside;
    if (order.match) {
        auto file = signal::ScratchFile::in(order.out.parent_path());
        if (!file)
            return tl::make_unexpected(file.error());
        aside = Aside{std::move(*file), signal::LoudnessMeter(channels, rate_hz, signal::Figures::Integrated)};
    }

    auto fault =
        runThrough(instance, input, channels, static_cast<std::size_t>(std::lround(order.tail_s * rate_hz)),
                   [&](std::vector<float>& interleaved) {
                       return aside ? aside->put(interleaved, channels) : output.put(interleaved);
                   });
    if (!fault)
        return tl::make_unexpected(Error{fault.error().blame, order.in.string() + ": " + fault.error().text});
    rendered.fault = *fault;
    if (rendered.fault)
        return rendered;
    rendered.loudness_in_lufs = input.loudness().integrated_lufs;
    if (aside) {
        const auto loudness_lufs = aside->meter.read().integrated_lufs;
        if (rendered.loudness_in_lufs && loudness_lufs)
            rendered.gain_db = *rendered.loudness_in_lufs - *loudness_lufs;
        if (auto copied = aside->copyTo(output, rendered.gain_db); !copied)
            return tl::make_unexpected(copied.error());
    }
    if (auto finished = output.finish(); !finished)
        return tl::make_unexpected(finished.error());
    const signal::Loudness loudness_out = output.loudness();
    rendered.loudness_out_lufs = loudness_out.integrated_lufs;
    rendered.true_peak_dbtp = loudness_out.true_peak_dbtp;
    rendered.clipped_samples = output.clipped();
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begun;
    rendered.realtime_factor = input.seconds() / took.count();
    return rendered;
}

} // namespace hr::audition

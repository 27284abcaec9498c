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

using hosting::FaultOr;

namespace {

constexpr std::size_t stretch = hosting::stretch_frames;

/// Stereo stretches of the file, then silence.
class Input {
public:
    enum class Metered { No, Yes };
    Input(signal::AudioFileReader reader, Metered metered)
        : m_reader(std::move(reader)), m_interleaved(stretch * m_reader.channels())
    {
        if (metered == Metered::Yes)
            m_meter.emplace(std::min<std::size_t>(channels(), 2), rateHz(), signal::Figures::Integrated);
    }

    std::size_t channels() const { return m_reader.channels(); }
    double rateHz() const { return m_reader.sampleRateHz(); }
    double secondsAt(std::size_t frame) const { return static_cast<double>(frame) / rateHz(); }
    double seconds() const { return secondsAt(m_at); }

    signal::Loudness loudness() const { return m_meter ? m_meter->read() : signal::Loudness(); }

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
        if (m_meter)
            m_meter->add(m_interleaved.data(), got);
        m_at += got;
        return got;
    }

private:
    signal::AudioFileReader m_reader;
    std::vector<float> m_interleaved;
    std::size_t m_at = 0;
    bool m_ended = false;
    std::optional<signal::LoudnessMeter> m_meter;
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
FaultOr<void> runStretch(hosting::Instance& instance, const std::vector<float>& left,
                         const std::vector<float>& right, std::vector<float>& out_left,
                         std::vector<float>& out_right)
{
    if (instance.info().audio_out > 1)
        return instance.processStereo(left.data(), right.data(), out_left.data(), out_right.data(), stretch);
    std::vector<const float*> in(1 + instance.info().key_in, left.data());
    std::array<float*, 1> out{out_left.data()};
    return instance.process(in, out, stretch);
}

/// Started instances, one after the other.
using InTurn = std::span<hosting::Instance* const>;

/// What goes in is overwritten.
FaultOr<void> runStretch(InTurn instances, std::vector<float>& left, std::vector<float>& right,
                         std::vector<float>& out_left, std::vector<float>& out_right)
{
    for (hosting::Instance* instance : instances) {
        if (instance != instances.front()) {
            left.swap(out_left);
            right.swap(out_right);
        }
        if (auto ran = runStretch(*instance, left, right, out_left, out_right); !ran)
            return ran;
    }
    return {};
}

std::size_t latencyOf(InTurn instances)
{
    std::size_t samples = 0;
    for (const hosting::Instance* instance : instances)
        samples += instance->latencySamples();
    return samples;
}

struct Run {
    std::size_t channels = 2;
    std::size_t tail_frames = 0;  ///< played behind the end of the file
    std::size_t late_frames = 0;  ///< as of PieceFile
    std::size_t spare_frames = 0; ///< the same
    bool stays_late = false;
    double* core_percent = nullptr; ///< where it is wanted: time the instances took, against how long it lasts
};

/// The whole file and its tail through the instances; the fault, where one had one.
Result<std::optional<hosting::Fault>> runThrough(InTurn instances, Input& input, const Run& run,
                                                 const TakeFrames& put)
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
    std::size_t played = run.tail_frames; // grows with what the file holds
    std::size_t length = 0;
    bool ended = false;
    for (std::size_t done = 0; !ended || done < latency + length;) {
        auto got = input.read(left, right);
        if (!got)
            return tl::make_unexpected(got.error());
        played += *got;
        length = played - std::min(played, run.spare_frames);
        ended = *got < stretch;
        const auto begun = Clock::now();
        if (auto ran = runStretch(instances, left, right, out_left, out_right); !ran)
            return ran.error();
        taken += Clock::now() - begun;
        // Many report it only as they run; once sound has been written it is too late.
        if (done <= latency && !run.stays_late)
            latency = run.late_frames + latencyOf(instances);
        const std::size_t begin = std::min(latency - std::min(latency, done), stretch);
        const std::size_t end =
            ended ? std::min(latency + length - std::min(latency + length, done), stretch) : stretch;
        done += stretch;
        if (auto one = written(); !one)
            return tl::make_unexpected(one.error());
        ready.clear();
        for (std::size_t i = begin; i < end; ++i) {
            ready.push_back(out_left[i]);
            if (run.channels == 2)
                ready.push_back(out_right[i]);
        }
        putting = std::async(std::launch::async, [&put, &ready] { return put(ready); });
    }
    if (auto last = written(); !last)
        return tl::make_unexpected(last.error());
    if (run.core_percent)
        *run.core_percent = 100 * std::chrono::duration<double>(taken).count() * input.rateHz() /
                            static_cast<double>(std::max<std::size_t>(1, length + latency));
    return std::nullopt;
}

struct Playing {
    hosting::Instance* instance;
    std::span<const double> values;
};

/// Started afresh, one after the other, as two channels; the loudness of the result is told where `metered`.
Result<Played> playFile(std::span<const Playing> in_turn, const std::filesystem::path& file, Run run,
                        bool metered, const TakeFrames& take, const std::stop_token& cancel)
{
    auto reader = signal::AudioFileReader::open(file);
    if (!reader)
        return tl::make_unexpected(reader.error());
    Played played;
    played.rate_hz = reader->sampleRateHz();
    std::vector<hosting::Instance*> instances;
    for (const Playing& one : in_turn) {
        if (auto started = one.instance->start({played.rate_hz, 256}, one.values); !started) {
            played.fault = started.error();
            return played;
        }
        instances.push_back(one.instance);
    }
    Input input(std::move(*reader), Input::Metered::No);
    std::optional<signal::LoudnessMeter> meter;
    if (metered)
        meter.emplace(2, played.rate_hz, signal::Figures::IntegratedAndPeak);
    run.core_percent = &played.core_percent;
    auto fault = runThrough(instances, input, run, [&](std::vector<float>& interleaved) -> Result<void> {
        if (cancel.stop_requested())
            return wrongRequest("It was cancelled.");
        if (meter)
            meter->add(interleaved.data(), interleaved.size() / 2);
        return take(interleaved);
    });
    if (cancel.stop_requested()) {
        played.fault = hosting::Fault{hosting::Phase::Run, hosting::Cause::Cancelled, {}};
        return played;
    }
    if (!fault)
        return tl::make_unexpected(Error{fault.error().blame, file.string() + ": " + fault.error().text});
    played.fault = *fault;
    played.latency_samples = latencyOf(instances);
    if (meter)
        played.loudness = meter->read();
    return played;
}

std::vector<Playing> playing(std::span<OpenedChain* const> in_turn)
{
    std::vector<Playing> all;
    for (const OpenedChain* one : in_turn)
        all.push_back({one->instance.get(), one->values});
    return all;
}

} // namespace

Result<Played> playThrough(hosting::Instance& instance, std::span<const double> values,
                           const std::filesystem::path& file, const TakeFrames& take,
                           const std::stop_token& cancel)
{
    return playFile(std::array{Playing{&instance, values}}, file, {}, true, take, cancel);
}

Result<Played> playThrough(std::span<OpenedChain* const> in_turn, const PieceFile& from, const TakeFrames& take,
                           const std::stop_token& cancel)
{
    Run run;
    run.late_frames = from.late_frames;
    run.spare_frames = from.spare_frames;
    return playFile(playing(in_turn), from.file, run, true, take, cancel);
}

Result<FaultOr<PieceFile>> playPiece(std::span<OpenedChain* const> in_turn, const PieceFile& from,
                                     std::size_t spare_frames, const std::filesystem::path& out,
                                     const std::stop_token& cancel)
{
    const auto in = signal::AudioFileReader::open(from.file);
    auto writer =
        in ? signal::AudioFileWriter::create(out, 2, in->sampleRateHz()) : tl::make_unexpected(in.error());
    if (!writer)
        return tl::make_unexpected(writer.error());
    Run run;
    run.tail_frames = spare_frames - std::min(spare_frames, from.spare_frames);
    run.stays_late = true;
    const auto played = playFile(
        playing(in_turn), from.file, run, false,
        [&writer](std::vector<float>& frames) { return writer->write(frames.data(), frames.size() / 2); },
        cancel);
    if (!played)
        return tl::make_unexpected(played.error());
    if (played->fault)
        return FaultOr<PieceFile>(tl::make_unexpected(*played->fault));
    if (auto finished = writer->finish(); !finished)
        return tl::make_unexpected(finished.error());
    return FaultOr<PieceFile>({out, from.late_frames + played->latency_samples, spare_frames});
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
    Input input(std::move(*reader), Input::Metered::Yes);
    Output output(std::move(*writer), channels, rate_hz, order.format);
    std::optional<Aside> aside;
    if (order.match) {
        auto file = signal::ScratchFile::in(order.out.parent_path());
        if (!file)
            return tl::make_unexpected(file.error());
        aside = Aside{std::move(*file), signal::LoudnessMeter(channels, rate_hz, signal::Figures::Integrated)};
    }

    Run run;
    run.channels = channels;
    run.tail_frames = static_cast<std::size_t>(std::lround(order.tail_s * rate_hz));
    auto fault = runThrough(std::array{&instance}, input, run, [&](std::vector<float>& interleaved) {
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

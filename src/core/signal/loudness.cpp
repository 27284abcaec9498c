// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/loudness.h"

#include "signal/audio_file.h"
#include "signal/levels.h"
#include "signal/number_text.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace hr::signal {

namespace {

// BS.1770-4, annex 1: the absolute gate. What lies below is not programme.
constexpr double absolute_gate_lufs = -70.0;

std::optional<double> above(double level, double floor)
{
    return std::isfinite(level) && level > floor ? std::optional(level) : std::nullopt;
}

int modesOf(Figures figures)
{
    switch (figures) {
    case Figures::Integrated:
    case Figures::IntegratedAndPeak:
        return EBUR128_MODE_I;
    case Figures::Momentary:
        return EBUR128_MODE_M;
    case Figures::Live:
        return EBUR128_MODE_I | EBUR128_MODE_S | EBUR128_MODE_LRA | EBUR128_MODE_HISTOGRAM;
    default:
        return EBUR128_MODE_I | EBUR128_MODE_S | EBUR128_MODE_LRA | EBUR128_MODE_SAMPLE_PEAK;
    }
}

} // namespace

void LoudnessMeter::Destroy::operator()(ebur128_state* state) const
{
    ebur128_destroy(&state);
}

LoudnessMeter::LoudnessMeter(std::size_t channels, double sample_rate_hz, Figures figures)
    : m_state(ebur128_init(static_cast<unsigned>(channels),
                           static_cast<unsigned long>(std::lround(sample_rate_hz)), modesOf(figures))),
      m_channels(channels), m_figures(figures), m_step_frames(static_cast<std::size_t>(sample_rate_hz / 100.0)),
      m_until_step(m_step_frames), m_momentary_max_lufs(no_level_db), m_short_term_max_lufs(no_level_db)
{
    assert(m_state);
    if (figures == Figures::All || figures == Figures::IntegratedAndPeak || figures == Figures::Live)
        m_peaks.emplace(channels, sample_rate_hz);
}

void LoudnessMeter::add(const float* interleaved, std::size_t frames)
{
    if (m_peaks)
        m_peaks->add(interleaved, frames);
    if (m_figures != Figures::All) {
        ebur128_add_frames_float(m_state.get(), interleaved, frames);
        m_frames += frames;
        return;
    }
    while (frames > 0) {
        const std::size_t now = std::min(frames, m_until_step);
        ebur128_add_frames_float(m_state.get(), interleaved, now);
        interleaved += now * m_channels;
        frames -= now;
        m_frames += now;
        m_until_step -= now;
        if (m_until_step > 0)
            continue;
        m_until_step = m_step_frames;
        double loudness = 0;
        if (m_frames >= 40 * m_step_frames &&
            ebur128_loudness_momentary(m_state.get(), &loudness) == EBUR128_SUCCESS)
            m_momentary_max_lufs = std::max(m_momentary_max_lufs, loudness);
        if (m_frames >= 300 * m_step_frames && m_frames / m_step_frames % 10 == 0 &&
            ebur128_loudness_shortterm(m_state.get(), &loudness) == EBUR128_SUCCESS)
            m_short_term_max_lufs = std::max(m_short_term_max_lufs, loudness);
    }
}

std::optional<double> LoudnessMeter::momentaryLufs() const
{
    double loudness = no_level_db;
    ebur128_loudness_momentary(m_state.get(), &loudness);
    return above(loudness, absolute_gate_lufs);
}

std::optional<double> LoudnessMeter::shortTermLufs() const
{
    double loudness = no_level_db;
    if (m_frames >= 300 * m_step_frames)
        ebur128_loudness_shortterm(m_state.get(), &loudness);
    return above(loudness, absolute_gate_lufs);
}

Loudness LoudnessMeter::read() const
{
    Loudness reading;
    double value = no_level_db;
    if (ebur128_loudness_global(m_state.get(), &value) == EBUR128_SUCCESS)
        reading.integrated_lufs = above(value, absolute_gate_lufs);
    // Only the integrated loudness and the range have a gate (EBU Tech 3341, 3342).
    reading.momentary_max_lufs = above(m_momentary_max_lufs, no_level_db);
    reading.short_term_max_lufs = above(m_short_term_max_lufs, no_level_db);
    const bool ranged =
        m_figures == Figures::Live ? shortTermLufs().has_value() : m_short_term_max_lufs > absolute_gate_lufs;
    if (ranged && ebur128_loudness_range(m_state.get(), &value) == EBUR128_SUCCESS)
        reading.range_lu = value;
    double sample_peak = 0;
    for (unsigned c = 0; c < m_channels; ++c) {
        if (ebur128_sample_peak(m_state.get(), c, &value) == EBUR128_SUCCESS)
            sample_peak = std::max(sample_peak, value);
    }
    reading.true_peak_dbtp = above(linearToDb(m_peaks ? m_peaks->peak() : 0), no_level_db);
    reading.sample_peak_dbfs = above(linearToDb(sample_peak), no_level_db);
    return reading;
}

const float* StereoMeter::add(const float* left, const float* right, std::size_t frames)
{
    m_interleaved.resize(2 * frames);
    for (std::size_t i = 0; i < frames; ++i) {
        m_interleaved[2 * i] = left[i];
        m_interleaved[2 * i + 1] = right[i];
    }
    m_meter.add(m_interleaved.data(), frames);
    return m_interleaved.data();
}

namespace {

/// The sound to the meter, `told` after each stretch with the frames so far.
void addInStretches(LoudnessMeter& meter, const AudioBuffer& audio, std::size_t stretch,
                    const std::function<void(std::size_t)>& told)
{
    std::vector<float> interleaved(stretch * audio.channels());
    for (std::size_t first = 0; first < audio.frames(); first += stretch) {
        const std::size_t count = std::min(stretch, audio.frames() - first);
        for (std::size_t c = 0; c < audio.channels(); ++c)
            for (std::size_t i = 0; i < count; ++i)
                interleaved[i * audio.channels() + c] = audio.channel(c)[first + i];
        meter.add(interleaved.data(), count);
        told(first + count);
    }
}

} // namespace

Loudness measureLoudness(const AudioBuffer& audio)
{
    LoudnessMeter meter(audio.channels(), audio.sampleRateHz());
    addInStretches(meter, audio, 4096, [](std::size_t) {});
    return meter.read();
}

std::vector<std::pair<double, double>> momentaryOverTime(const AudioBuffer& audio)
{
    LoudnessMeter meter(audio.channels(), audio.sampleRateHz(), Figures::Momentary);
    const auto step = static_cast<std::size_t>(audio.sampleRateHz() / 10);
    std::vector<std::pair<double, double>> course;
    addInStretches(meter, audio, step, [&](std::size_t frames) {
        if (frames >= 4 * step)
            course.emplace_back(static_cast<double>(frames) / audio.sampleRateHz(),
                                meter.momentaryLufs().value_or(absolute_gate_lufs));
    });
    return course;
}

Result<FileLoudness> measureFileLoudness(const std::filesystem::path& path)
{
    auto reader = AudioFileReader::open(path);
    if (!reader)
        return tl::make_unexpected(reader.error());
    constexpr std::size_t stretch = 16384;
    std::vector<float> interleaved(stretch * reader->channels());
    LoudnessMeter meter(reader->channels(), reader->sampleRateHz());
    std::size_t frames = 0;
    while (const std::size_t got = reader->read(interleaved.data(), stretch)) {
        const auto end = interleaved.begin() + static_cast<std::ptrdiff_t>(got * reader->channels());
        if (!std::all_of(interleaved.begin(), end, [](float s) { return std::isfinite(s); }))
            return wrongRequest(path.string() + " holds samples that are not finite near " +
                                fixedText(static_cast<double>(frames) / reader->sampleRateHz(), 6) +
                                " s: its loudness cannot be measured.");
        meter.add(interleaved.data(), got);
        frames += got;
    }
    return FileLoudness{meter.read(), reader->channels(), reader->sampleRateHz(),
                        static_cast<double>(frames) / reader->sampleRateHz()};
}

} // namespace hr::signal

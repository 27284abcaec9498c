// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/transfer.h"

#include "bench/level_curve.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double lowest_dbfs = -60;
constexpr double stretch_s = 0.05;
constexpr double lead_in_s = 6;
constexpr double longest_hold_s = 10;
/// Settled: half the time held earlier, the level was the same within this.
constexpr double settled_within_db = 0.005;
constexpr double bisected_to_db = 0.1;
constexpr double poor_fit_db = 0.25;
/// Nothing came out: below the noise of 24 bits by far.
constexpr double silent_dbfs = -150;
/// Against the lowest level: distortion that has risen this far, to this share, is the waveform's doing.
constexpr double distortion_rise_db = 10;
constexpr double least_distortion_db = -60;
constexpr double one_cycle_within_db = 0.1;

double acLevelDbfs(std::span<const double> samples)
{
    double mean = 0;
    for (const double s : samples)
        mean += s / static_cast<double>(samples.size());
    double square = 0;
    for (const double s : samples)
        square += (s - mean) * (s - mean) / static_cast<double>(samples.size());
    return std::max(silent_dbfs, signal::powerToDb(2 * square));
}

/// What is not the tone itself, against the tone: everything but its sine and cosine part.
double distortionDb(std::span<const double> samples, double frequency_hz, double rate_hz)
{
    double in_phase = 0;
    double quadrature = 0;
    double total = 0;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double angle = 2 * M_PI * frequency_hz / rate_hz * static_cast<double>(i);
        in_phase += samples[i] * std::sin(angle);
        quadrature += samples[i] * std::cos(angle);
        total += samples[i] * samples[i];
    }
    const double tone =
        2 * (in_phase * in_phase + quadrature * quadrature) / static_cast<double>(samples.size());
    return signal::powerToDb(std::max(1e-15, total - tone) / std::max(1e-15, tone));
}

/// One tone that goes on without a break while its level is moved.
class SteppedTone {
public:
    SteppedTone(Device& device, double frequency_hz)
        : m_device(device), m_rate_hz(device.conditions().sample_rate_hz)
    {
        // Whole cycles a stretch, so that levels are exact.
        m_frames = static_cast<std::size_t>(std::lround(stretch_s * m_rate_hz));
        const double cycles = std::max(1.0, std::round(frequency_hz * stretch_s));
        m_frequency_hz = cycles * m_rate_hz / static_cast<double>(m_frames);
    }

    double frequencyHz() const { return m_frequency_hz; }
    std::size_t cycleFrames() const
    {
        return static_cast<std::size_t>(std::lround(m_rate_hz / m_frequency_hz));
    }

    /// The next stretch at this level: the first output.
    FaultOr<std::vector<double>> stretch(double level_dbfs)
    {
        auto out = m_device.process(
            signal::sine(m_frequency_hz, signal::dbToLinear(level_dbfs), m_rate_hz, m_frames, m_at));
        if (!out)
            return tl::make_unexpected(out.error());
        m_at += m_frames;
        return asDoubles(out->channel(0));
    }

    /// How long the answer takes at all (echoes, reverb), from six seconds of the quietest tone: no step is
    /// held for less.
    FaultOr<void> leadIn()
    {
        std::vector<double> levels;
        for (std::size_t i = 0; i < static_cast<std::size_t>(lead_in_s / stretch_s); ++i) {
            auto out = stretch(lowest_dbfs);
            if (!out)
                return tl::make_unexpected(out.error());
            levels.push_back(acLevelDbfs(*out));
        }
        while (m_least_stretches < levels.size() &&
               std::any_of(levels.begin() + static_cast<std::ptrdiff_t>(m_least_stretches), levels.end(),
                           [&](double level) { return std::abs(level - levels.back()) > 0.05; }))
            ++m_least_stretches;
        return {};
    }

    /// Whether a step was left before it had settled.
    bool unsettled() const { return m_unsettled; }

    /// Held until it has settled: the last stretch.
    FaultOr<std::vector<double>> settled(double level_dbfs)
    {
        std::vector<double> levels;
        const auto most = static_cast<std::size_t>(longest_hold_s / stretch_s);
        for (;;) {
            auto last = stretch(level_dbfs);
            if (!last)
                return last;
            levels.push_back(acLevelDbfs(*last));
            const std::size_t count = levels.size();
            m_unsettled = m_unsettled || count >= most;
            if (count >= most ||
                (count >= m_least_stretches && std::abs(levels[count - 1] - levels[count / 2 - 1]) +
                                                       std::abs(levels[count - 1] - levels[count - 2]) <
                                                   settled_within_db))
                return last;
        }
    }

private:
    Device& m_device;
    double m_rate_hz;
    std::size_t m_frames = 0, m_at = 0;
    double m_frequency_hz = 0;
    std::size_t m_least_stretches = 6;
    bool m_unsettled = false;
};

struct Steps {
    LevelCurve curve;
    double distortion_low_db = 0, distortion_high_db = 0;
};

FaultOr<Steps> runSteps(SteppedTone& tone, double rate_hz)
{
    Steps steps;
    for (double level = lowest_dbfs; level <= 0; ++level) {
        auto last = tone.settled(level);
        if (!last)
            return tl::make_unexpected(last.error());
        steps.curve.emplace_back(level, acLevelDbfs(*last));
        const double distortion = distortionDb(*last, tone.frequencyHz(), rate_hz);
        // The tone of -30 dBFS stands for the low end: quieter ones drown in a processor's own noise.
        if (level <= -30)
            steps.distortion_low_db = distortion;
        steps.distortion_high_db = distortion;
    }
    return steps;
}

/// The level at which the gain jumps, between two neighbouring steps, coming from below.
FaultOr<double> bisect(SteppedTone& tone, std::pair<double, double> between)
{
    const double start = between.first;
    auto low_out = tone.settled(start);
    if (!low_out)
        return tl::make_unexpected(low_out.error());
    auto high_out = tone.settled(between.second);
    if (!high_out)
        return tl::make_unexpected(high_out.error());
    const double middle_gain = (acLevelDbfs(*low_out) - start + acLevelDbfs(*high_out) - between.second) / 2;
    const bool rises = acLevelDbfs(*high_out) - between.second > middle_gain;
    while (between.second - between.first > bisected_to_db) {
        const double middle = (between.first + between.second) / 2;
        auto down = tone.settled(start - 1);
        if (!down)
            return tl::make_unexpected(down.error());
        auto up = tone.settled(middle);
        if (!up)
            return tl::make_unexpected(up.error());
        const bool beyond = (acLevelDbfs(*up) - middle > middle_gain) == rises;
        (beyond ? between.second : between.first) = middle;
    }
    return (between.first + between.second) / 2;
}

/// Level of the second cycle, without the slope that a wandering mean (a lopsided curve behind a DC filter)
/// gives it.
double secondCycleDbfs(const std::vector<double>& samples, std::size_t cycle)
{
    const auto meanOf = [&](std::size_t which) {
        double sum = 0;
        for (std::size_t i = 0; i < cycle; ++i)
            sum += samples[which * cycle + i];
        return sum / static_cast<double>(cycle);
    };
    const double slope = (meanOf(2) - meanOf(0)) / (2 * static_cast<double>(cycle));
    std::vector<double> level(cycle);
    for (std::size_t i = 0; i < cycle; ++i)
        level[i] = samples[cycle + i] - slope * static_cast<double>(i);
    return acLevelDbfs(level);
}

/// Whether the second cycle after a step, up and down, is as loud as the settled tone.
FaultOr<bool> followsWithinACycle(SteppedTone& tone)
{
    for (const auto& [from, to] : {std::pair(-30.0, 0.0), {0.0, -30.0}}) {
        auto before = tone.settled(from);
        if (!before)
            return tl::make_unexpected(before.error());
        auto first = tone.stretch(to);
        if (!first)
            return tl::make_unexpected(first.error());
        auto after = tone.settled(to);
        if (!after)
            return tl::make_unexpected(after.error());
        if (std::abs(secondCycleDbfs(*first, tone.cycleFrames()) -
                     secondCycleDbfs(*after, tone.cycleFrames())) > one_cycle_within_db)
            return false;
    }
    return true;
}

void putLevelFigures(Reading& reading, const LevelFigures& figures)
{
    const bool bends = figures.kind != "linear";
    const std::string straight = "the gain is the same at every level";
    reading.figures["kind"] = figures.kind;
    reading.put("threshold_db", figures.threshold_db, straight);
    reading.put("ratio", figures.ratio,
                !bends                      ? straight
                : figures.kind == "limiter" ? "flatter than 20:1 above the threshold"
                                            : "the gain jumps instead of sloping");
    reading.put("knee_db", figures.knee_db, bends ? "the gain jumps instead of bending" : straight);
    reading.put("makeup_db", figures.makeup_db);
    reading.put("range_db", figures.range_db, straight);
    if (figures.misfit_db > poor_fit_db)
        reading.flags.push_back({"poor-fit", "the curve is " + std::to_string(figures.misfit_db) +
                                                 " dB RMS from one knee and one slope"});
}

void putSaturating(Reading& reading, const LevelCurve& curve)
{
    reading.figures["kind"] = "saturating";
    const std::string why = "the waveform is bent, not the level ridden";
    for (const char* key : {"threshold_db", "ratio", "knee_db"})
        reading.put(key, std::nullopt, why);
    reading.put("makeup_db", curve.front().second - curve.front().first);
    double range = 0;
    for (const auto& [in, out] : curve)
        range = std::max(range, std::abs(out - in - *reading.number("makeup_db")));
    reading.put("range_db", range);
}

/// (b): the last of forty slow cycles, in against out.
FaultOr<void> putWaveform(Reading& reading, Device& device)
{
    constexpr double slow_hz = 20;
    constexpr std::size_t cycles = 40;
    /// A sine stays this near its peak for 2.8 % of its time; what stays longer is cut flat.
    constexpr double flat_within = 0.001;
    constexpr double flat_share = 0.05;
    constexpr std::size_t drawn_points = 480;
    const double rate_hz = device.conditions().sample_rate_hz;
    const auto cycle = static_cast<std::size_t>(std::lround(rate_hz / slow_hz));
    if (auto started = device.restart(); !started)
        return started;
    const auto in = signal::sine(rate_hz / static_cast<double>(cycle), 1, rate_hz, (cycles + 1) * cycle);
    auto answer = device.process(in);
    if (!answer)
        return tl::make_unexpected(answer.error());
    const std::size_t latency = std::min(device.latencyReportedSamples(), cycle);
    const auto out = asDoubles(answer->channel(0).subspan((cycles - 1) * cycle + latency, cycle));
    const auto [low, high] = std::ranges::minmax(out);
    if (high < 1e-6 && low > -1e-6) {
        for (const char* key : {"clip_level_dbfs", "symmetry_db"})
            reading.put(key, std::nullopt, "a full-scale sine of 20 Hz did not come through");
        return {};
    }
    const auto shareNear = [&](double peak) {
        const auto near = std::ranges::count_if(
            out, [&](double s) { return std::abs(s - peak) < flat_within * std::abs(peak); });
        return static_cast<double>(near) / static_cast<double>(out.size());
    };
    std::optional<double> clip;
    for (const double peak : {high, low})
        if (std::abs(peak) > 1e-6 && shareNear(peak) > flat_share)
            clip = std::min(clip.value_or(std::abs(peak)), std::abs(peak));
    reading.put("clip_level_dbfs", clip ? std::optional(signal::linearToDb(*clip)) : std::nullopt,
                "the waveform is nowhere cut flat");
    reading.put("symmetry_db",
                high > 1e-6 && low < -1e-6 ? std::optional(signal::linearToDb(high) - signal::linearToDb(-low))
                                           : std::nullopt,
                "only one side comes through");
    Series& series = reading.series["waveform"] = {"input", "output", {}};
    for (std::size_t i = 0; i < out.size(); i += std::max<std::size_t>(1, cycle / drawn_points))
        series.points.emplace_back(in[i], out[i]);
    return {};
}

} // namespace

FaultOr<Reading> measureTransfer(Device& device)
{
    const double rate_hz = device.conditions().sample_rate_hz;
    Reading reading;

    // (a) Levels, settled one after the other.
    if (auto started = device.restart(); !started)
        return tl::make_unexpected(started.error());
    SteppedTone tone(device, device.conditions().frequency_hz.value_or(1000));
    if (auto led = tone.leadIn(); !led)
        return tl::make_unexpected(led.error());
    auto steps = runSteps(tone, rate_hz);
    if (!steps)
        return tl::make_unexpected(steps.error());
    reading.conditions = {{"frequency_hz", tone.frequencyHz()}};
    reading.series["in_out"] = {"input_dbfs", "output_dbfs", steps->curve};
    if (steps->curve.back().second <= silent_dbfs) {
        for (const char* key : {"kind", "threshold_db", "ratio", "knee_db", "makeup_db", "range_db"})
            reading.put(key, std::nullopt, "the tone did not come through");
    } else {
        LevelFigures figures = readLevelCurve(steps->curve);
        bool bent = figures.kind != "linear" && steps->distortion_high_db > least_distortion_db &&
                    steps->distortion_high_db > steps->distortion_low_db + distortion_rise_db;
        if (bent) {
            auto follows = followsWithinACycle(tone);
            if (!follows)
                return tl::make_unexpected(follows.error());
            bent = *follows;
        }
        if (figures.jump && !bent) {
            auto exact = bisect(tone, *figures.jump);
            if (!exact)
                return tl::make_unexpected(exact.error());
            figures.threshold_db = *exact;
        }
        if (bent)
            putSaturating(reading, steps->curve);
        else
            putLevelFigures(reading, figures);
        if (steps->curve.front().second <= silent_dbfs)
            reading.put("range_db", std::nullopt, "it closes to digital silence");
    }

    if (tone.unsettled())
        reading.flags.push_back({"unsettled", "the output still moved after 10 s of a steady tone"});

    // (b) The waveform.
    if (auto done = putWaveform(reading, device); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

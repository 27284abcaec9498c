// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/steady_tone.h"

#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <cmath>

namespace hr::bench {

using hosting::FaultOr;

Tone coherentTone(double asked_hz, double level_dbfs, double window_s, double rate_hz)
{
    Tone tone{std::size_t{1} << static_cast<unsigned>(std::lround(std::log2(window_s * rate_hz))), 1, rate_hz,
              level_dbfs};
    const double cycles = asked_hz / rate_hz * static_cast<double>(tone.window_frames);
    tone.cycles = 2 * static_cast<std::size_t>(std::max(0.0, std::round((cycles - 1) / 2))) + 1;
    return tone;
}

FaultOr<std::vector<double>> settledWindow(Subject& subject, const Course& course, std::size_t window_frames,
                                           const Settling& settling)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    std::size_t at = 0;
    double previous_db = signal::no_level_db;
    while (static_cast<double>(at) < settling.most_s * rate_hz) {
        auto out = subject.process(course(at, settling.step_frames));
        if (!out)
            return tl::make_unexpected(out.error());
        at += settling.step_frames;
        const double level_db = signal::rmsDbfs(std::as_const(*out).channel(0));
        const bool settled = std::abs(level_db - previous_db) < 0.002 || level_db == previous_db;
        if (settled && static_cast<double>(at) >= settling.least_s * rate_hz)
            break;
        previous_db = level_db;
    }
    auto out = subject.process(course(at, window_frames));
    if (!out)
        return tl::make_unexpected(out.error());
    return asDoubles(std::as_const(*out).channel(0));
}

FaultOr<std::vector<double>> settledWindow(Subject& subject, const Tone& tone, double least_s, double most_s,
                                           std::size_t* window_at)
{
    const double cycle_frames = tone.rate_hz / tone.frequencyHz();
    const auto step =
        static_cast<std::size_t>(std::lround(std::ceil(0.1 * tone.rate_hz / cycle_frames) * cycle_frames));
    const Course course = [&tone, window_at](std::size_t first, std::size_t frames) {
        if (window_at)
            *window_at = first;
        return signal::sine(tone.frequencyHz(), signal::dbToLinear(tone.level_dbfs), tone.rate_hz, frames,
                            first);
    };
    return settledWindow(subject, course, tone.window_frames, {step, least_s, most_s});
}

std::vector<double> powerSpectrum(const std::vector<double>& window)
{
    const auto bins = signal::forwardTransform(window);
    const double scale = 2.0 / (static_cast<double>(window.size()) * static_cast<double>(window.size()));
    std::vector<double> power(bins.size());
    for (std::size_t k = 0; k < bins.size(); ++k)
        power[k] = std::norm(bins[k]) * scale;
    return power;
}

} // namespace hr::bench

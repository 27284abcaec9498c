// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/steady_tone.h"

#include "bench/stepped_tone.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace hr::bench {

using hosting::FaultOr;

namespace {

/// What one is different from the other by, against the other; at least -200 dB.
double changeDb(const std::vector<double>& before, const std::vector<double>& now)
{
    double change = 0;
    double power = 0;
    for (std::size_t i = 0; i < now.size(); ++i) {
        change += (now[i] - before[i]) * (now[i] - before[i]);
        power += now[i] * now[i];
    }
    return change > 0 && power > 0 ? std::max(-200.0, signal::powerToDb(change / power)) : -200;
}

} // namespace

Tone coherentTone(double asked_hz, double level_dbfs, double window_s, double rate_hz)
{
    Tone tone{std::size_t{1} << static_cast<unsigned>(std::lround(std::log2(window_s * rate_hz))), 1, rate_hz,
              level_dbfs};
    const double cycles = asked_hz / rate_hz * static_cast<double>(tone.window_frames);
    tone.cycles = 2 * static_cast<std::size_t>(std::max(0.0, std::round((cycles - 1) / 2))) + 1;
    return tone;
}

FaultOr<double> settlingS(Subject& subject, double frequency_hz, double level_dbfs)
{
    SteppedTone tone(subject, frequency_hz);
    const auto temper = tone.getToKnow(level_dbfs);
    if (!temper)
        return tl::make_unexpected(temper.error());
    return temper->moves || !temper->first_s ? Settling().least_s
                                             : std::max(Settling().least_s, temper->settled_s);
}

FaultOr<SettledWindow> settledWindow(Subject& subject, const Course& course, std::size_t window_frames,
                                     const Settling& settling)
{
    constexpr double same_db = -135; // the rounding of 32-bit samples lies below
    constexpr double nearer_db = 3;
    const auto frames = [&](double seconds) {
        return static_cast<std::size_t>(seconds * subject.conditions().sample_rate_hz);
    };
    const std::size_t patience = std::max(2 * window_frames, frames(settling.least_s / 2));
    SettledWindow window;
    double nearest_db = 1e9;
    std::size_t nearest_at = 0;
    for (std::size_t at = 0;; at += window_frames) {
        auto out = subject.process(course(at, window_frames));
        if (!out)
            return tl::make_unexpected(out.error());
        window.before = std::exchange(window.samples, asDoubles(std::as_const(*out).channel(0)));
        window.first_frame = at;
        const std::size_t heard = at + window_frames;
        if (window.before.empty() || heard < frames(settling.least_s))
            continue;
        window.moved_db = changeDb(window.before, window.samples);
        if (window.moved_db < nearest_db - nearer_db) {
            nearest_db = window.moved_db;
            nearest_at = heard;
        }
        if (window.moved_db <= same_db || heard - nearest_at >= patience || heard >= frames(settling.most_s))
            return window;
    }
}

FaultOr<SettledWindow> settledWindow(Subject& subject, const Tone& tone, const Settling& settling)
{
    const Course course = [&tone](std::size_t first, std::size_t frames) {
        return signal::sine(tone.frequencyHz(), signal::dbToLinear(tone.level_dbfs), tone.rate_hz, frames,
                            first);
    };
    return settledWindow(subject, course, tone.window_frames, settling);
}

void flagMovement(Reading& reading, const SettledWindow& window, std::size_t bin,
                  const std::vector<std::string>& unsure)
{
    constexpr double still_within_db = 0.02;
    const auto levelDb = [&](const std::vector<double>& samples) {
        return signal::powerToDb(powerSpectrum(samples)[bin]);
    };
    const double change_db = std::abs(levelDb(window.samples) - levelDb(window.before));
    if (change_db <= still_within_db)
        return;
    const auto known = std::ranges::find(reading.flags, "varies", &Flag::code);
    if (known == reading.flags.end())
        reading.flags.push_back(
            {"varies", "a steady tone does not come out steady: these are the figures of one moment", unsure});
    else
        known->unsure.insert(known->unsure.end(), unsure.begin(), unsure.end());
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

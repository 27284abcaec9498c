// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/stepped_tone.h"

#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/phasor.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numeric>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double no_level_dbfs = -200;
constexpr double silence_s = 0.5;
/// Settled: half the time held earlier, the level was the same within this.
constexpr double settled_within_db = 0.005;
/// What rests with a flutter of its own is not waited for until the flutter ends: this many times its range.
constexpr double flutter_margin = 1.5;
constexpr double noise_margin = 3;
/// The tone has arrived once the output stands out of its idle noise by this.
constexpr double arrives_by_db = 1;
/// A steady tone that goes up and down by more than this and does not calm down moves.
constexpr double movement_db = 0.2;
constexpr double calms_down_to = 0.8; // of the movement a third of the time earlier
/// Its phase wanders once it goes so far to and fro; looked at in so many parts of a stretch, of whole cycles
/// or many.
constexpr double wanders_by_rad = 0.3;
constexpr double most_parts = 10;
constexpr double least_cycles = 4;
/// Of the level that comes out, so much is the tone.
constexpr double least_tone_share = 0.5;
/// Of the level reached at the end: where it has stopped changing.
constexpr double reached_within_db = 0.05;

struct Extent {
    double low, high;
    double range() const { return high - low; }
};

Extent extent(std::span<const double> levels)
{
    const auto [low, high] = std::ranges::minmax(levels);
    return {low, high};
}

/// Whether levels go both up and down by more than this.
bool goesUpAndDown(std::span<const double> levels, double more_than_db)
{
    double up = 0;
    double down = 0;
    for (std::size_t i = 1; i < levels.size(); ++i)
        (levels[i] > levels[i - 1] ? up : down) += std::abs(levels[i] - levels[i - 1]);
    return std::min(up, down) > more_than_db;
}

/// Whether the last two thirds swing on and on: the last as far as the one before it.
bool swings(std::span<const double> levels)
{
    const std::size_t third = levels.size() / 3;
    const auto last = levels.last(third);
    const auto middle = levels.subspan(levels.size() - 2 * third, third);
    return goesUpAndDown(levels.last(2 * third), movement_db) && extent(last).range() > movement_db &&
           extent(last).range() > calms_down_to * extent(middle).range();
}

/// The tone in equal parts of a stretch that begins with one of its cycles; each is half an amplitude.
void addParts(std::vector<std::complex<double>>& parts, std::span<const double> stretch, double cycles)
{
    const auto count = static_cast<std::size_t>(std::clamp(cycles / least_cycles, 1.0, most_parts));
    const std::size_t frames = stretch.size() / count;
    for (std::size_t part = 0; part < count; ++part) {
        std::complex<double> sum;
        signal::Phasor tone(cycles / static_cast<double>(stretch.size()), part * frames);
        for (const double sample : stretch.subspan(part * frames, frames))
            sum += sample * std::conj(tone.next());
        parts.push_back(sum / static_cast<double>(frames));
    }
}

/// Whether the phase of a tone wanders: not evenly, as at another pitch, and not from part to part, as in hiss.
bool wanders(std::span<const std::complex<double>> parts, double level_dbfs)
{
    std::vector<double> phase{0};
    for (std::size_t i = 1; i < parts.size(); ++i) {
        if (2 * std::abs(parts[i]) < least_tone_share * signal::dbToLinear(level_dbfs))
            return false; // what comes out is another tone
        phase.push_back(phase.back() + std::arg(parts[i] * std::conj(parts[i - 1])));
    }
    const double drift = phase.back() / static_cast<double>(std::max<std::size_t>(1, phase.size() - 1));
    double all = 0;
    double from_part_to_part = 0;
    for (std::size_t i = 0; i < phase.size(); ++i) {
        phase[i] -= drift * static_cast<double>(i);
        if (i > 0)
            from_part_to_part += std::pow(phase[i] - phase[i - 1], 2);
    }
    const double mean = std::accumulate(phase.begin(), phase.end(), 0.0) / static_cast<double>(phase.size());
    for (const double one : phase)
        all += std::pow(one - mean, 2);
    return extent(phase).range() > wanders_by_rad && from_part_to_part < all;
}

/// The first stretch from which on the level stays where it ends.
std::size_t reachedAt(std::span<const double> levels, double within_db)
{
    std::size_t at = levels.size();
    while (at > 0 && std::abs(levels[at - 1] - levels.back()) <= within_db)
        --at;
    return at;
}

/// Whether nothing has changed since half of the time that has gone by since `from`.
bool restsSince(std::span<const double> levels, std::size_t from)
{
    if (levels.size() < from + 6)
        return false;
    const std::size_t half = from + (levels.size() - from) / 2;
    return extent(levels.subspan(half)).range() < settled_within_db;
}

} // namespace

double acLevelDbfs(std::span<const double> samples)
{
    double mean = 0;
    for (const double s : samples)
        mean += s / static_cast<double>(samples.size());
    double square = 0;
    for (const double s : samples)
        square += (s - mean) * (s - mean) / static_cast<double>(samples.size());
    return std::max(no_level_dbfs, signal::powerToDb(2 * square));
}

SteppedTone::SteppedTone(Subject& subject, double frequency_hz, SteppedInput input, double stretch_s)
    : m_subject(subject), m_input(input), m_stretch_s(stretch_s),
      m_rate_hz(subject.conditions().sample_rate_hz), m_rests_within_db(settled_within_db)
{
    // Whole cycles a stretch, so that levels are exact.
    m_frames = static_cast<std::size_t>(std::lround(stretch_s * m_rate_hz));
    const double cycles = std::max(1.0, std::round(frequency_hz * stretch_s));
    m_frequency_hz = cycles * m_rate_hz / static_cast<double>(m_frames);
}

std::size_t SteppedTone::cycleFrames() const
{
    return static_cast<std::size_t>(std::lround(m_rate_hz / m_frequency_hz));
}

FaultOr<std::vector<double>> SteppedTone::stretch(double level_dbfs)
{
    const auto tone = [&](double dbfs) {
        return signal::sine(m_frequency_hz, signal::dbToLinear(dbfs), m_rate_hz, m_frames, m_at);
    };
    auto out = m_input == SteppedInput::Main
                   ? m_subject.process(tone(level_dbfs))
                   : m_subject.process({.main = {tone(main_level_dbfs)}, .key = {tone(level_dbfs)}});
    if (!out)
        return tl::make_unexpected(out.error());
    m_at += m_frames;
    return asDoubles(std::as_const(*out).channel(0));
}

FaultOr<Temper> SteppedTone::getToKnow(double level_dbfs)
{
    Temper temper;
    if (auto started = m_subject.restart(); !started)
        return tl::make_unexpected(started.error());
    auto silence = m_subject.process(std::vector<double>(static_cast<std::size_t>(silence_s * m_rate_hz)));
    if (!silence)
        return tl::make_unexpected(silence.error());
    const auto quiet = asDoubles(std::as_const(*silence).channel(0));
    temper.idle_dbfs = acLevelDbfs(std::span(quiet).subspan(quiet.size() / 2));

    auto most = static_cast<std::size_t>((longest_hold_s + 1) / m_stretch_s);
    const auto early = most / 3;
    std::vector<double> levels;
    std::vector<std::complex<double>> parts;
    std::optional<std::size_t> arrived;
    while (levels.size() < most) {
        auto out = stretch(level_dbfs);
        if (!out)
            return tl::make_unexpected(out.error());
        levels.push_back(acLevelDbfs(*out));
        addParts(parts, *out, m_frequency_hz * static_cast<double>(m_frames) / m_rate_hz);
        if (!arrived && std::abs(levels.back() - temper.idle_dbfs) > arrives_by_db)
            arrived = levels.size() - 1;
        if (arrived) // what arrives once may repeat after as long again
            most = std::max(most, 2 * *arrived + 20);
        // Not earlier when it seems to rest: an echo may still be on its way.
        if (arrived && levels.size() == *arrived + early &&
            swings(std::span<const double>(levels).subspan(*arrived)))
            break;
    }
    if (!arrived)
        return temper;
    const auto after = std::span<const double>(levels).subspan(*arrived);
    temper.first_s = static_cast<double>(*arrived) * m_stretch_s;
    temper.moves = swings(after);
    const auto end = after.last(after.size() / 3 + 1);
    temper.pitch_moves =
        wanders(std::span<const std::complex<double>>(parts).last(end.size() * parts.size() / levels.size()),
                after.back());
    temper.settles = restsSince(levels, *arrived) || extent(end).range() < movement_db;
    if (temper.settles && goesUpAndDown(end, settled_within_db))
        m_rests_within_db = std::max(settled_within_db, flutter_margin * extent(end).range());
    m_late_stretches = *arrived;
    m_idle_dbfs = temper.idle_dbfs;
    // A step may take longer than the first one did: a half more.
    const std::size_t reached = *arrived + reachedAt(after, std::max(reached_within_db, m_rests_within_db)) + 1;
    temper.settled_s = static_cast<double>(reached) * m_stretch_s;
    m_least_stretches = std::max<std::size_t>(6, m_late_stretches + (reached - *arrived) * 3 / 2 + 2);
    return temper;
}

double SteppedTone::noiseDb(double level_dbfs) const
{
    // Noise of power n beside a tone of power s moves the level of N samples by about 8.7 sqrt(2 n / (s N)) dB.
    const double noise = std::pow(10, (m_idle_dbfs - level_dbfs) / 20);
    return 20 / std::log(10.0) * noise * std::sqrt(2 / static_cast<double>(m_frames));
}

double SteppedTone::restsWithinDb(double level_dbfs) const
{
    return std::max(m_rests_within_db, noise_margin * noiseDb(level_dbfs));
}

FaultOr<std::vector<double>> SteppedTone::settled(double level_dbfs)
{
    auto all = held(level_dbfs);
    if (all)
        all->erase(all->begin(), all->end() - static_cast<std::ptrdiff_t>(m_frames));
    return all;
}

FaultOr<std::vector<double>> SteppedTone::held(double level_dbfs)
{
    const double within_db = restsWithinDb(level_dbfs);
    std::vector<double> levels;
    std::vector<double> all;
    const auto most = std::max(m_least_stretches, static_cast<std::size_t>(longest_hold_s / m_stretch_s));
    for (;;) {
        auto last = stretch(level_dbfs);
        if (!last)
            return last;
        levels.push_back(acLevelDbfs(*last));
        all.insert(all.end(), last->begin(), last->end());
        const std::size_t count = levels.size();
        const bool over = count >= most;
        m_unsettled = m_unsettled || over;
        if (over)
            return all;
        if (count < m_least_stretches)
            continue;
        // Counted from the first stretch that the step can have reached.
        const std::size_t half = m_late_stretches + (count - m_late_stretches) / 2;
        if (std::abs(levels[count - 1] - levels[half - 1]) + std::abs(levels[count - 1] - levels[count - 2]) <
            within_db)
            return all;
    }
}

} // namespace hr::bench

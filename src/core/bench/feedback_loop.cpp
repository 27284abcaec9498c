// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/feedback_loop.h"

#include "bench/excess_phase.h"
#include "bench/magnitude.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>
#include <numeric>
#include <span>

namespace hr::bench {

namespace {

/// An echo is looked at from so much before it came, or an eighth of the delay,
constexpr double guard_s = 0.00025;
/// and no longer than this.
constexpr double longest_window_s = 0.05;
constexpr double near_delay_s = 0.00025;
/// The loop may be the delay to one of so many echoes: a filter that rings shows highs of its own.
constexpr std::size_t most_candidates = 8;
/// Below the loudest of an echo nothing is known of what the loop did.
constexpr double known_ratio = 5e-4;
/// So much of the third echo may be something else than the second once more through the loop,
constexpr double most_unforetold_db = -25;
/// and where it is less than this, nothing is in doubt.
constexpr double certain_below_db = -50;
constexpr double same_delay = 0.5; // samples
constexpr double quietest_echo_db = -60;
constexpr double echo_above_noise_db = 12;
/// What the end of the sweep leaves around the first is nothing beside these; where a third would be weaker,
/// two are enough.
constexpr double clear_echo_db = -40;
constexpr std::size_t most_echoes = 64;
constexpr double least_gap_samples = 4;
/// Of the delay: so early the second echo cannot have come, however dull it is.
constexpr double second_share = 0.7;
/// Of the rate: what is above is not looked at.
constexpr double fades_from = 0.25;
constexpr double fades_to = 0.48;
/// Feedback is read where a window a quarter shorter says the same.
constexpr double same_db = 0.03;
constexpr int levels_per_octave = 192;

using Responses = std::vector<std::vector<double>>;
using Samples = std::span<const double>;

/// Without the upper end of the band, faded out: the sweep ends there, and each echo would ring on into the
/// next.
Responses fadedOut(const Responses& responses, std::size_t frames)
{
    Responses faded;
    for (const auto& response : responses) {
        std::vector<double> padded(signal::fastSize(frames + 4096));
        std::copy(response.begin(), response.begin() + static_cast<std::ptrdiff_t>(frames), padded.begin());
        Bins bins = signal::forwardTransform(padded);
        for (std::size_t k = 0; k < bins.size(); ++k) {
            const double share = static_cast<double>(k) / static_cast<double>(padded.size());
            const double faded_by = std::clamp((share - fades_from) / (fades_to - fades_from), 0.0, 1.0);
            bins[k] *= 0.5 * (1 + std::cos(std::numbers::pi * faded_by));
        }
        faded.push_back(signal::inverseTransform(std::move(bins), padded.size()));
        faded.back().resize(frames);
    }
    return faded;
}

double powerOf(Samples part)
{
    return std::inner_product(part.begin(), part.end(), part.begin(), 0.0);
}

class Loop {
public:
    /// `whole` have the upper end of the band.
    Loop(const Responses& responses, const Responses& whole, std::size_t frames, double rate_hz)
        : m_faded(responses), m_whole(whole), m_frames(frames), m_rate_hz(rate_hz)
    {
    }

    /// Places the loop's first echo and its delay from where the first two are highest; false where the second
    /// is not the first, later and filtered.
    bool place(double input_at, double first_high, double second_high);
    /// Of the third echo, what is not the second once more through the loop.
    double unforetoldDb() const;
    /// There is no third that could be heard.
    bool endsWithTheSecond() const;
    std::optional<double> feedbackDb() const;
    std::vector<Arrival> echoes() const;
    double firstAt() const { return m_first_at; }
    double gap() const { return m_gap; }

private:
    struct Echo {
        Bins bins;
        double power = 0;
    };

    double guard() const { return std::min(guard_s * m_rate_hz, m_gap / 8); }
    double window() const { return std::min(m_gap, longest_window_s * m_rate_hz); }
    std::size_t size() const { return std::bit_ceil(static_cast<std::size_t>(4 * window()) + 64); }
    Samples part(const std::vector<double>& response, double from, double length) const;
    Samples loudest(const Responses& responses, double from, double length) const;
    /// When the window of the echo that came `gaps` after the first begins: at a whole sample.
    double beginning(int gaps) const { return std::round(m_first_at + gaps * m_gap) - std::round(guard()); }
    /// Where it is loudest.
    Echo echoIn(const Responses& responses, double from, double length) const;
    Echo echo(const Responses& responses, int gaps, double share = 1) const
    {
        return echoIn(responses, beginning(gaps), share * window());
    }
    Bins ratio(const Echo& later, const Echo& earlier) const;
    /// Takes the delay from the first echo's window to the second's, and whether there is one.
    bool follow(double first_from, double first_length, double second_from, std::size_t near);

    const Responses& m_faded;
    const Responses& m_whole;
    std::size_t m_frames;
    double m_rate_hz;
    double m_first_at = 0;
    double m_gap = 0;
};

Samples Loop::part(const std::vector<double>& response, double from, double length) const
{
    const auto begin = std::min(static_cast<std::size_t>(std::max(0L, std::lround(from))), m_frames);
    return Samples(response).subspan(begin,
                                     std::min(m_frames - begin, static_cast<std::size_t>(std::lround(length))));
}

Samples Loop::loudest(const Responses& responses, double from, double length) const
{
    Samples best;
    double most = -1;
    for (const auto& response : responses)
        if (const Samples one = part(response, from, length); powerOf(one) > most) {
            most = powerOf(one);
            best = one;
        }
    return best;
}

Loop::Echo Loop::echoIn(const Responses& responses, double from, double length) const
{
    const Samples samples = loudest(responses, from, length);
    std::vector<double> padded(samples.begin(), samples.end());
    padded.resize(size());
    return {signal::forwardTransform(padded), powerOf(samples)};
}

Bins Loop::ratio(const Echo& later, const Echo& earlier) const
{
    const auto floorOf = [](const Bins& bins) {
        double loudest = 0;
        for (const auto& bin : bins)
            loudest = std::max(loudest, std::abs(bin));
        return known_ratio * loudest;
    };
    const double floor = floorOf(earlier.bins);
    const double later_floor = floorOf(later.bins);
    Bins bins(later.bins.size());
    for (std::size_t k = 0; k < bins.size(); ++k)
        if (std::abs(earlier.bins[k]) > floor && std::abs(later.bins[k]) > later_floor)
            bins[k] = later.bins[k] / earlier.bins[k];
    return bins;
}

bool Loop::place(double input_at, double first_high, double second_high)
{
    m_first_at = first_high;
    m_gap = second_high - first_high;
    const auto near = static_cast<std::size_t>(near_delay_s * m_rate_hz);
    // The first echo lies between the sound itself and what is yet too early for the second.
    const double begin =
        std::round(std::max({0.0, (input_at + first_high) / 2, first_high - longest_window_s * m_rate_hz}));
    const double until = std::round(first_high + second_share * window());
    const Samples first = loudest(m_faded, begin, until - begin);
    const auto came = ExcessPhase(first, {.share_of_rate = fades_from}).delay(near);
    if (!came || *came > static_cast<double>(first.size()))
        return false;
    m_first_at = begin + *came;
    // The second is as long after it as the loop delays. A dull one is highest long after it came: at first it
    // may have come anywhere from there on.
    const double high_gap = m_gap;
    const double second_from = std::round(second_high - (1 - second_share) * window());
    if (!follow(beginning(0), until - beginning(0), second_from, near))
        return false;
    for (int round = 0; round < 4; ++round) {
        const double before = m_gap;
        if (!follow(beginning(0), window(), beginning(1), near) || std::abs(m_gap - high_gap) > 0.3 * high_gap)
            return false;
        if (std::abs(m_gap - before) < 0.01)
            break;
    }
    return true;
}

bool Loop::follow(double first_from, double first_length, double second_from, std::size_t near)
{
    const Bins loop = ratio(echoIn(m_faded, second_from, window()), echoIn(m_faded, first_from, first_length));
    const auto delay = ExcessPhase(loop, {.share_of_rate = fades_from}).delay(near);
    if (!delay)
        return false;
    const auto whole = static_cast<double>(size());
    m_gap = second_from - first_from + (*delay > whole / 2 ? *delay - whole : *delay);
    return m_gap >= least_gap_samples;
}

double Loop::unforetoldDb() const
{
    const Echo second = echo(m_faded, 1);
    const Echo third = echo(m_faded, 2);
    const Bins loop = ratio(second, echo(m_faded, 0));
    // The two windows are whole samples apart, perhaps not the same number each time.
    const double shift = beginning(2) - 2 * beginning(1) + beginning(0);
    double off = 0;
    double all = 1e-300;
    for (std::size_t k = 0; k < loop.size(); ++k) {
        const double turn = 2 * std::numbers::pi * shift * static_cast<double>(k) / static_cast<double>(size());
        off += std::norm(third.bins[k] - loop[k] * second.bins[k] * std::polar(1.0, turn));
        all += std::norm(third.bins[k]);
    }
    return signal::powerToDb(off / all);
}

bool Loop::endsWithTheSecond() const
{
    const double first = echo(m_faded, 0).power;
    const double second = echo(m_faded, 1).power;
    return second * second < first * first * std::pow(10, clear_echo_db / 10);
}

std::optional<double> Loop::feedbackDb() const
{
    const Bins loop = ratio(echo(m_whole, 1), echo(m_whole, 0));
    const Bins shorter = ratio(echo(m_whole, 1, 0.75), echo(m_whole, 0, 0.75));
    std::vector<double> magnitudes_db;
    for (const double f : logarithmicGrid(20, 0.45 * m_rate_hz, levels_per_octave)) {
        const double place = f / m_rate_hz * static_cast<double>(size());
        const auto k = static_cast<std::size_t>(place);
        const auto at = [&](const Bins& bins) {
            const double part = place - static_cast<double>(k);
            return signal::linearToDb((1 - part) * std::abs(bins[k]) + part * std::abs(bins[k + 1]));
        };
        if (std::abs(at(loop) - at(shorter)) < same_db)
            magnitudes_db.push_back(at(loop));
    }
    return magnitudes_db.size() < levels_per_octave ? std::nullopt : std::optional(passbandOf(magnitudes_db));
}

std::vector<Arrival> Loop::echoes() const
{
    double noise = 0; // what is there when nothing rings any more
    for (const auto& response : m_whole)
        noise = std::max(noise, powerOf(part(response, 0.95 * static_cast<double>(m_frames),
                                             static_cast<double>(m_frames))) /
                                    (0.05 * static_cast<double>(m_frames)));
    const double least_above_noise = noise * window() * std::pow(10, echo_above_noise_db / 10);
    std::vector<Arrival> list;
    double first = 0;     // of the power in the faded response
    double part_seen = 1; // of the power
    for (int gaps = 0; list.size() < most_echoes; ++gaps) {
        const double at = m_first_at + gaps * m_gap;
        if (at + m_gap >= static_cast<double>(m_frames))
            break;
        const double seen = echo(m_faded, gaps).power;
        first = list.empty() ? seen : first;
        if (seen <= std::max(least_above_noise, first * std::pow(10, quietest_echo_db / 10)))
            break;
        if (seen > first * std::pow(10, clear_echo_db / 10))
            part_seen = seen / echo(m_whole, gaps).power;
        list.push_back({at, seen / part_seen});
    }
    return list;
}

} // namespace

std::optional<FeedbackLoop> findFeedbackLoop(const Responses& responses, const std::vector<Arrival>& echoes,
                                             double input_at, std::size_t frames, double sample_rate_hz)
{
    if (echoes.size() < 2)
        return std::nullopt;
    const Responses faded = fadedOut(responses, frames);
    for (std::size_t i = 1; i < std::min(echoes.size(), most_candidates + 1); ++i) {
        // What comes between is weaker: a loop's echoes fall.
        const bool passed_over =
            std::any_of(echoes.begin() + 1, echoes.begin() + static_cast<std::ptrdiff_t>(i),
                        [&](const Arrival& one) { return one.power > echoes[i].power; });
        if (passed_over)
            break;
        Loop loop(faded, responses, frames, sample_rate_hz);
        if (!loop.place(input_at, echoes.front().at, echoes[i].at))
            continue;
        const double unforetold_db = loop.unforetoldDb();
        // Two alone are a loop where the first came as late after the input.
        const bool once =
            loop.endsWithTheSecond() && std::abs(loop.firstAt() - input_at - loop.gap()) < same_delay;
        if (once || unforetold_db < most_unforetold_db)
            return FeedbackLoop{loop.gap(), loop.feedbackDb(), loop.echoes(),
                                !once && unforetold_db > certain_below_db};
    }
    return std::nullopt;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/arrivals.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <span>

namespace hr::bench {

namespace {

constexpr double quietest_db = -60; // the ends of the sweep ring some 10 dB below it
constexpr double above_noise_db = 12;
constexpr std::size_t most_arrivals = 64;
constexpr double arrival_reach_s = 0.0005; // each side of an arrival
constexpr double apart_s = 0.001;
constexpr double longest_gap_s = 0.004;
constexpr double direct_within_s = 0.0002;

/// Mean of the last twentieth: what is there when nothing rings any more.
double noisePower(const std::vector<double>& power)
{
    const std::size_t last = power.size() / 20;
    return last == 0 ? 0
                     : std::accumulate(power.end() - static_cast<std::ptrdiff_t>(last), power.end(), 0.0) /
                           static_cast<double>(last);
}

/// The top of a parabola through three neighbours.
double betweenSamples(const std::vector<double>& power, std::size_t at)
{
    if (at == 0 || at + 1 >= power.size())
        return static_cast<double>(at);
    const double bend = power[at - 1] - 2 * power[at] + power[at + 1];
    return static_cast<double>(at) + (bend < 0 ? 0.5 * (power[at - 1] - power[at + 1]) / bend : 0);
}

/// Squared magnitude, and that of the analytic signal, which has no ripple where a filter rings; of all
/// channels.
struct Powers {
    std::vector<double> plain, envelope;
};

Powers powersOf(const std::vector<std::vector<double>>& responses, std::size_t frames)
{
    Powers powers{std::vector<double>(frames), std::vector<double>(frames)};
    for (const auto& response : responses) {
        const auto turned = signal::quadrature(response);
        for (std::size_t i = 0; i < frames; ++i) {
            powers.plain[i] += response[i] * response[i];
            powers.envelope[i] += response[i] * response[i] + turned[i] * turned[i];
        }
    }
    return powers;
}

using Samples = std::span<const double>;

/// `reach` samples each side.
Samples around(const std::vector<double>& power, std::size_t at, std::size_t reach)
{
    const std::size_t first = at - std::min(at, reach);
    return Samples(power).subspan(first, std::min(power.size(), at + reach + 1) - first);
}

double sum(Samples power)
{
    return std::accumulate(power.begin(), power.end(), 0.0);
}

double medianFallDb(const std::vector<Arrival>& list, const std::vector<double>& power, double sample_rate_hz)
{
    std::vector<double> falls;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double at = list[i].at;
        const double next = i + 1 < list.size() ? list[i + 1].at : static_cast<double>(power.size());
        const double gap = std::min(next - at, longest_gap_s * sample_rate_hz);
        const auto first = static_cast<std::size_t>(at + 0.3 * gap);
        const std::size_t end = std::min(power.size(), static_cast<std::size_t>(at + 0.7 * gap) + 1);
        if (end <= first)
            continue;
        const double between =
            sum(Samples(power).subspan(first, end - first)) / static_cast<double>(end - first);
        const double top = std::ranges::max(around(power, static_cast<std::size_t>(std::lround(at)), 2));
        falls.push_back(10 * std::log10(top / std::max(between, 1e-300)));
    }
    if (falls.empty())
        return 0;
    const auto middle = falls.begin() + static_cast<std::ptrdiff_t>(falls.size() / 2);
    std::ranges::nth_element(falls, middle);
    return *middle;
}

} // namespace

Arrivals arrivalsIn(const std::vector<std::vector<double>>& responses, std::size_t frames,
                    double sample_rate_hz)
{
    const Powers powers = powersOf(responses, frames);
    const std::vector<double>& plain = powers.plain;
    const std::vector<double>& power = powers.envelope;
    const auto reach = static_cast<std::size_t>(arrival_reach_s * sample_rate_hz);
    const double apart = apart_s * sample_rate_hz - 1;
    const double floor = std::max(std::ranges::max(power) * signal::dbToPower(quietest_db),
                                  noisePower(power) * signal::dbToPower(above_noise_db));
    std::vector<std::size_t> highs;
    for (std::size_t i = 0; i < frames; ++i)
        if (power[i] > floor && power[i] >= std::ranges::max(around(power, i, reach)))
            highs.push_back(i);
    std::ranges::sort(highs, std::ranges::greater(), [&](std::size_t i) { return power[i]; });
    Arrivals found;
    for (const std::size_t at : highs) {
        const bool alone = std::ranges::none_of(found.list, [&](const Arrival& other) {
            return std::abs(static_cast<double>(at) - other.at) < apart;
        });
        if (alone && found.list.size() < most_arrivals)
            found.list.push_back({betweenSamples(power, at), sum(around(plain, at, reach))});
    }
    std::ranges::sort(found.list, {}, &Arrival::at);
    found.total_power = sum(plain);
    found.fall_db = medianFallDb(found.list, plain, sample_rate_hz);
    return found;
}

double Arrivals::explained(const std::optional<Arrival>& direct) const
{
    double all = total_power;
    double in_them = 0;
    for (const Arrival& arrival : list)
        in_them += arrival.power;
    if (direct) {
        all -= direct->power;
        in_them -= direct->power;
    }
    return all > 1e-12 * total_power ? in_them / all : 0;
}

double powerAround(const std::vector<double>& response, double at, double sample_rate_hz)
{
    const Samples part = around(response, static_cast<std::size_t>(std::lround(at)),
                                static_cast<std::size_t>(arrival_reach_s * sample_rate_hz));
    return std::inner_product(part.begin(), part.end(), part.begin(), 0.0);
}

std::optional<Arrival> directSound(const Arrivals& arrivals, double latency_samples, double sample_rate_hz)
{
    if (arrivals.list.empty() ||
        std::abs(arrivals.list.front().at - latency_samples) > std::max(2.0, direct_within_s * sample_rate_hz))
        return std::nullopt;
    return arrivals.list.front();
}

} // namespace hr::bench

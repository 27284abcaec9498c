// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/output_guard.h"

#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <string>

namespace hr::audition {

namespace {

constexpr double mean_s = 0.1;
constexpr double longest_offset_s = 0.5;
constexpr double longest_scream_s = 0.25;

double mean(const float* samples, std::size_t frames)
{
    double sum = 0;
    for (std::size_t i = 0; i < frames; ++i)
        sum += samples[i];
    return sum / static_cast<double>(frames);
}

double power(const float* samples, std::size_t frames)
{
    double sum = 0;
    for (std::size_t i = 0; i < frames; ++i)
        sum += static_cast<double>(samples[i]) * samples[i];
    return 2 * sum / static_cast<double>(frames); // of a full-scale sine: 1
}

} // namespace

OutputGuard::OutputGuard(double rate_hz) : m_rate_hz(rate_hz) {}

void OutputGuard::reset()
{
    m_sides = {};
    m_offset_s = 0;
    m_scream_s = 0;
}

std::optional<hosting::Fault> OutputGuard::look(const std::array<const float*, 2>& in,
                                                const std::array<const float*, 2>& out, std::size_t frames)
{
    const double seconds = static_cast<double>(frames) / m_rate_hz;
    const double share = 1 - std::exp(-seconds / mean_s);
    double offset = 0;
    bool screams = false;
    double scream_power = 0;
    for (std::size_t c = 0; c < 2; ++c) {
        Side& side = m_sides[c];
        side.mean_in += share * (mean(in[c], frames) - side.mean_in);
        side.mean_out += share * (mean(out[c], frames) - side.mean_out);
        const double power_out = power(out[c], frames);
        side.most_power_in = std::max(side.most_power_in, power(in[c], frames));
        offset = std::max(offset, std::abs(side.mean_out) - 4 * std::abs(side.mean_in));
        if (power_out > signal::dbToPower(scream_dbfs) &&
            power_out > side.most_power_in * signal::dbToPower(scream_above_input_db)) {
            screams = true;
            scream_power = std::max(scream_power, power_out);
        }
    }
    m_offset_s = offset > most_offset ? m_offset_s + seconds : 0;
    m_scream_s = screams ? m_scream_s + seconds : 0;
    const auto fault = [](const std::string& what) {
        return hosting::Fault{hosting::Phase::Run, hosting::Cause::AbsurdOutput, what};
    };
    if (m_offset_s >= longest_offset_s)
        return fault("it stands at " + std::to_string(std::lround(100 * offset)) + " % of full scale (DC)");
    if (m_scream_s >= longest_scream_s)
        return fault("it screams at " + std::to_string(std::lround(signal::powerToDb(scream_power))) + " dBFS");
    return std::nullopt;
}

} // namespace hr::audition

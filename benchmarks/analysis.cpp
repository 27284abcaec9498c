// SPDX-License-Identifier: GPL-3.0-or-later
//
// The analysis of three tests alone, on recorded answers, against the same steps written with scipy
// (analysis_scipy.py beside this; package python3-scipy).
#include "bench/magnitude.h"
#include "bench/reverberation.h"
#include "bench/spectrum.h"
#include "bench/steady_tone.h"
#include "signal/biquad.h"
#include "signal/generators.h"
#include "signal/transform.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>

using namespace hr;

namespace {

constexpr double rate_hz = 48000;
constexpr int rounds = 5;

double bestMilliseconds(const std::function<void()>& work)
{
    double best = 1e9;
    for (int round = 0; round < rounds; ++round) {
        const auto begun = std::chrono::steady_clock::now();
        work();
        best = std::min(
            best, std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count());
    }
    return best;
}

void write(const std::filesystem::path& file, const std::vector<double>& samples)
{
    std::ofstream(file, std::ios::binary)
        .write(reinterpret_cast<const char*>(samples.data()),
               static_cast<std::streamsize>(samples.size() * sizeof(double)));
}

std::vector<double> lowPassed(const std::vector<double>& sound)
{
    const signal::Biquad section = signal::lowPass(2000, signal::butterworthQ(0, 2), rate_hz);
    signal::BiquadState state;
    std::vector<double> out;
    for (const double sample : sound)
        out.push_back(state.next(section, sample));
    return out;
}

/// What the script prints: "response 123.4".
std::map<std::string, double> baseline(const std::filesystem::path& folder)
{
    const std::filesystem::path said = folder / "said";
    const std::string command = "python3 " HR_SCRIPT " " + folder.string() + " > " + said.string();
    std::map<std::string, double> times;
    if (std::system(command.c_str()) != 0)
        return times;
    std::ifstream in(said);
    std::string name;
    for (double milliseconds = 0; in >> name >> milliseconds;)
        times[name] = milliseconds;
    return times;
}

} // namespace

int main()
{
    const auto folder = std::filesystem::temp_directory_path() / "hr-bench-analysis";
    std::filesystem::create_directories(folder);
    auto sweep =
        signal::exponentialSweep(10, 0.49 * rate_hz, 0.03, rate_hz, static_cast<std::size_t>(5.5 * rate_hz));
    sweep.resize(static_cast<std::size_t>(6.5 * rate_hz));
    const auto answer = lowPassed(sweep);
    const auto tone = signal::sine(1000, 0.25, rate_hz, 131072);
    auto reverb = signal::gaussianNoise(1, static_cast<std::size_t>(6 * rate_hz), 1);
    for (std::size_t i = 0; i < reverb.size(); ++i)
        reverb[i] *= std::exp(-6.9 * static_cast<double>(i) / rate_hz / 1.5);
    write(folder / "sweep", sweep);
    write(folder / "answer", answer);
    write(folder / "tone", tone);
    write(folder / "reverb", reverb);

    const std::map<std::string, double> ours{
        {"response", bestMilliseconds([&] {
             const auto impulse = signal::deconvolve(answer, sweep);
             const bench::Spectrum spectrum(bench::linearPart(impulse, answer.size(), rate_hz), rate_hz);
             (void)bench::readMagnitude([&](double f) { return spectrum.magnitudeDb(f); }, rate_hz);
             (void)spectrum.unwrappedPhase(bench::logarithmicGrid(10, 0.485 * rate_hz, 48), 0, rate_hz);
         })},
        {"harmonics", bestMilliseconds([&] { (void)bench::powerSpectrum(tone); })},
        {"decay", bestMilliseconds([&] {
             const bench::Octaves octaves(reverb, rate_hz);
             for (const double centre_hz : {125, 250, 500, 1000, 2000, 4000, 8000}) {
                 auto band = octaves.around(centre_hz);
                 for (double& sample : band)
                     sample *= sample;
                 (void)bench::decayTimes(band, rate_hz);
             }
         })}};
    const auto theirs = baseline(folder);
    for (const auto& [name, ms] : ours)
        if (const auto found = theirs.find(name); found != theirs.end())
            std::printf("%-10s %8.1f ms, scipy %8.1f ms, ratio %.2f\n", name.c_str(), ms, found->second,
                        found->second / ms);
        else
            std::printf("%-10s %8.1f ms; no baseline: install python3-scipy\n", name.c_str(), ms);
    std::filesystem::remove_all(folder);
}

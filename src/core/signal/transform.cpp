// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/transform.h"

#include <algorithm>
#include <cassert>
#include <fftw3.h>
#include <list>
#include <memory>

namespace hr::signal {

namespace {

/// Plans cost about as much as the transforms that they are for, and several threads may use one. Those used
/// last are kept, as far as they are together for so many samples.
constexpr std::size_t kept_samples = 12'000'000;

struct PlanKey {
    bool forward = true;
    std::size_t size = 0;
    int from_alignment = 0, to_alignment = 0; ///< a plan is for buffers that lie as those did

    friend bool operator==(const PlanKey&, const PlanKey&) = default;
};

using Plan = std::shared_ptr<std::remove_pointer_t<fftw_plan>>;

void destroy(fftw_plan plan)
{
    const std::lock_guard lock(plannerMutex());
    fftw_destroy_plan(plan);
}

/// Nothing of the buffers is touched.
Plan planFor(bool forward, std::size_t size, double* samples, fftw_complex* bins)
{
    static std::mutex& planner = plannerMutex(); // outlives the plans
    static std::mutex mutex;
    static std::list<std::pair<PlanKey, Plan>> plans; // those used last first
    const PlanKey key{forward, size, fftw_alignment_of(samples),
                      fftw_alignment_of(reinterpret_cast<double*>(bins))};
    const std::lock_guard lock(mutex);
    const auto found = std::ranges::find(plans, key, &std::pair<PlanKey, Plan>::first);
    if (found != plans.end()) {
        plans.splice(plans.begin(), plans, found);
        return plans.front().second;
    }
    const auto n = static_cast<int>(size);
    Plan plan;
    {
        const std::lock_guard planning(planner);
        plan.reset(forward ? fftw_plan_dft_r2c_1d(n, samples, bins, FFTW_ESTIMATE | FFTW_PRESERVE_INPUT)
                           : fftw_plan_dft_c2r_1d(n, bins, samples, FFTW_ESTIMATE),
                   destroy);
    }
    plans.emplace_front(key, plan);
    std::size_t samples_kept = 0;
    const auto too_much = std::ranges::find_if(
        plans, [&](const auto& one) { return (samples_kept += one.first.size) > kept_samples; });
    plans.erase(too_much, plans.end());
    return plan;
}

} // namespace

std::mutex& plannerMutex()
{
    static std::mutex mutex;
    return mutex;
}

std::vector<std::complex<double>> forwardTransform(std::span<const double> samples)
{
    assert(!samples.empty());
    std::vector<std::complex<double>> out(samples.size() / 2 + 1);
    auto* bins = reinterpret_cast<fftw_complex*>(out.data());
    auto* in = const_cast<double*>(samples.data()); // it is preserved
    fftw_execute_dft_r2c(planFor(true, samples.size(), in, bins).get(), in, bins);
    return out;
}

std::vector<double> inverseTransform(std::span<const std::complex<double>> bins, std::size_t size)
{
    return inverseTransform(std::vector<std::complex<double>>(bins.begin(), bins.end()), size);
}

std::vector<double> inverseTransform(std::vector<std::complex<double>>&& bins, std::size_t size)
{
    assert(bins.size() == size / 2 + 1);
    std::vector<double> out(size);
    auto* in = reinterpret_cast<fftw_complex*>(bins.data()); // c2r destroys its input
    fftw_execute_dft_c2r(planFor(false, size, out.data(), in).get(), in, out.data());
    for (double& sample : out)
        sample /= static_cast<double>(size);
    return out;
}

std::vector<double> quadrature(std::span<const double> samples)
{
    auto bins = forwardTransform(samples);
    for (auto& bin : bins)
        bin *= std::complex<double>(0, -1);
    bins.front() = 0; // neither of these turns
    if (samples.size() % 2 == 0)
        bins.back() = 0;
    return inverseTransform(std::move(bins), samples.size());
}

std::size_t fastSize(std::size_t minimum)
{
    for (std::size_t size = std::max<std::size_t>(minimum, 1);; ++size) {
        std::size_t rest = size;
        for (const std::size_t factor : {2U, 3U, 5U})
            while (rest % factor == 0)
                rest /= factor;
        if (rest == 1)
            return size;
    }
}

Deconvolution::Deconvolution(std::span<const double> stimulus, std::size_t output_frames)
    : m_size(fastSize(output_frames + stimulus.size()))
{
    std::vector<double> padded(m_size);
    std::ranges::copy(stimulus, padded.begin());
    m_stimulus = forwardTransform(padded);
    double strongest = 0;
    for (const auto& bin : m_stimulus)
        strongest = std::max(strongest, std::norm(bin));
    // Outside the band of the stimulus there is nothing to divide by; 120 dB down is far below it.
    m_floor = strongest * 1e-12;
}

std::vector<double> Deconvolution::of(std::span<const double> output) const
{
    auto answer = [&] {
        std::vector<double> padded(m_size);
        std::ranges::copy(output, padded.begin());
        return forwardTransform(padded);
    }();
    for (std::size_t k = 0; k < answer.size(); ++k)
        answer[k] *= std::conj(m_stimulus[k]) / (std::norm(m_stimulus[k]) + m_floor);
    return inverseTransform(std::move(answer), m_size);
}

std::vector<double> Deconvolution::ofTheStimulus() const
{
    std::vector<std::complex<double>> answer(m_stimulus.size());
    std::ranges::transform(m_stimulus, answer.begin(),
                           [this](const auto& bin) { return std::norm(bin) / (std::norm(bin) + m_floor); });
    return inverseTransform(std::move(answer), m_size);
}

std::vector<double> deconvolve(std::span<const double> output, std::span<const double> stimulus)
{
    return Deconvolution(stimulus, output.size()).of(output);
}

} // namespace hr::signal

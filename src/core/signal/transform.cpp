// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/transform.h"

#include <algorithm>
#include <cassert>
#include <fftw3.h>
#include <memory>

namespace hr::signal {

namespace {

struct DestroyPlan {
    void operator()(fftw_plan plan) const
    {
        const std::lock_guard lock(plannerMutex());
        fftw_destroy_plan(plan);
    }
};
using Plan = std::unique_ptr<std::remove_pointer_t<fftw_plan>, DestroyPlan>;

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
    Plan plan;
    {
        const std::lock_guard lock(plannerMutex());
        // Neither planned nor carried out does it touch what goes in.
        plan.reset(fftw_plan_dft_r2c_1d(static_cast<int>(samples.size()), const_cast<double*>(samples.data()),
                                        reinterpret_cast<fftw_complex*>(out.data()),
                                        FFTW_ESTIMATE | FFTW_PRESERVE_INPUT));
    }
    fftw_execute(plan.get());
    return out;
}

std::vector<double> inverseTransform(std::span<const std::complex<double>> bins, std::size_t size)
{
    assert(bins.size() == size / 2 + 1);
    std::vector<std::complex<double>> in(bins.begin(), bins.end()); // c2r destroys its input
    std::vector<double> out(size);
    Plan plan;
    {
        const std::lock_guard lock(plannerMutex());
        plan.reset(fftw_plan_dft_c2r_1d(static_cast<int>(size), reinterpret_cast<fftw_complex*>(in.data()),
                                        out.data(), FFTW_ESTIMATE));
    }
    fftw_execute(plan.get());
    for (double& sample : out)
        sample /= static_cast<double>(size);
    return out;
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

std::vector<double> deconvolve(std::span<const double> output, std::span<const double> stimulus)
{
    const std::size_t size = fastSize(output.size() + stimulus.size());
    std::vector<double> padded(size);
    std::ranges::copy(stimulus, padded.begin());
    const auto in = forwardTransform(padded);
    std::ranges::fill(padded, 0.0);
    std::ranges::copy(output, padded.begin());
    auto answer = forwardTransform(padded);

    double strongest = 0;
    for (const auto& bin : in)
        strongest = std::max(strongest, std::norm(bin));
    // Outside the band of the stimulus there is nothing to divide by; 120 dB down is far below it.
    const double floor = strongest * 1e-12;
    for (std::size_t k = 0; k < answer.size(); ++k)
        answer[k] *= std::conj(in[k]) / (std::norm(in[k]) + floor);
    return inverseTransform(answer, size);
}

} // namespace hr::signal

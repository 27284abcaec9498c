// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/convolver.h"

#include "signal/transform.h"

#include <algorithm>
#include <fftw3.h>

namespace hr::signal {

namespace {

constexpr std::size_t window = 2 * Convolver::block_frames;
constexpr std::size_t block_bins = Convolver::block_frames + 1;

} // namespace

/// Transforms of one window, planned once, on memory of their own.
struct Convolver::Plans {
    std::vector<double> samples = std::vector<double>(window);
    Bins spectrum = Bins(block_bins);
    fftw_plan forward = nullptr;
    fftw_plan inverse = nullptr;

    Plans()
    {
        const std::lock_guard lock(plannerMutex());
        auto* out = reinterpret_cast<fftw_complex*>(spectrum.data());
        forward = fftw_plan_dft_r2c_1d(static_cast<int>(window), samples.data(), out, FFTW_ESTIMATE);
        inverse = fftw_plan_dft_c2r_1d(static_cast<int>(window), out, samples.data(), FFTW_ESTIMATE);
    }
    ~Plans()
    {
        const std::lock_guard lock(plannerMutex());
        fftw_destroy_plan(forward);
        fftw_destroy_plan(inverse);
    }
    Plans(const Plans&) = delete;
    Plans& operator=(const Plans&) = delete;
};

Convolver::Convolver() : m_plans(std::make_unique<Plans>()), m_recent(window), m_tail(block_frames) {}
Convolver::~Convolver() = default;

void Convolver::setResponse(const std::vector<double>& response)
{
    m_head.assign(block_frames, 0.0);
    std::copy_n(response.begin(), std::min(block_frames, response.size()), m_head.begin());
    m_partitions.clear();
    for (std::size_t first = block_frames; first < response.size(); first += block_frames) {
        std::ranges::fill(m_plans->samples, 0.0);
        std::copy_n(response.begin() + static_cast<std::ptrdiff_t>(first),
                    std::min(block_frames, response.size() - first), m_plans->samples.begin());
        fftw_execute(m_plans->forward);
        m_partitions.push_back(m_plans->spectrum);
    }
    m_past.assign(m_partitions.size(), Bins(block_bins));
    m_newest = m_at = 0;
    std::ranges::fill(m_recent, 0.0);
    std::ranges::fill(m_tail, 0.0);
}

void Convolver::process(const float* in, float* out, std::size_t frames) noexcept
{
    for (std::size_t i = 0; i < frames; ++i) {
        m_recent[block_frames + m_at] = in[i];
        double sum = m_tail[m_at];
        const double* newest = &m_recent[block_frames + m_at];
        for (std::size_t k = 0; k < m_head.size(); ++k)
            sum += m_head[k] * newest[-static_cast<std::ptrdiff_t>(k)];
        out[i] = static_cast<float>(sum);
        if (++m_at == block_frames)
            finishBlock();
    }
}

void Convolver::finishBlock() noexcept
{
    m_at = 0;
    if (!m_partitions.empty()) {
        // Overlap-save: of each window the second half is free of wrap-around.
        std::ranges::copy(m_recent, m_plans->samples.begin());
        fftw_execute(m_plans->forward);
        m_newest = (m_newest + 1) % m_past.size();
        std::ranges::copy(m_plans->spectrum, m_past[m_newest].begin());
        std::ranges::fill(m_plans->spectrum, std::complex<double>());
        for (std::size_t p = 0; p < m_partitions.size(); ++p) {
            const Bins& past = m_past[(m_newest + m_past.size() - p) % m_past.size()];
            for (std::size_t k = 0; k < block_bins; ++k)
                m_plans->spectrum[k] += m_partitions[p][k] * past[k];
        }
        fftw_execute(m_plans->inverse);
        for (std::size_t i = 0; i < block_frames; ++i)
            m_tail[i] = m_plans->samples[block_frames + i] / static_cast<double>(window);
    }
    std::copy_n(m_recent.begin() + block_frames, block_frames, m_recent.begin());
}

} // namespace hr::signal

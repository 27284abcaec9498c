// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/convolver.h"

#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <fftw3.h>

namespace hr::signal {

namespace {

constexpr std::size_t window = 2 * Convolver::block_frames;
constexpr std::size_t block_bins = Convolver::block_frames + 1;

/// Written out: std::complex's product stops to look for infinities, which a response does not have.
void addProduct(std::vector<std::complex<double>>& to, const std::vector<std::complex<double>>& a,
                const std::vector<std::complex<double>>& b) noexcept
{
    for (std::size_t k = 0; k < to.size(); ++k)
        to[k] += std::complex(a[k].real() * b[k].real() - a[k].imag() * b[k].imag(),
                              a[k].real() * b[k].imag() + a[k].imag() * b[k].real());
}

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

Convolver::Convolver()
    : m_plans(std::make_unique<Plans>()), m_head_backwards(block_frames), m_recent(window), m_tail(block_frames)
{
}
Convolver::~Convolver() = default;

void Convolver::setResponse(const std::vector<double>& response)
{
    m_head_backwards.assign(block_frames, 0.0);
    std::copy_n(response.begin(), std::min(block_frames, response.size()), m_head_backwards.rbegin());
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
        out[i] = static_cast<float>(m_tail[m_at] + headAt(m_at));
        if (++m_at == block_frames)
            finishBlock();
    }
}

double Convolver::headAt(std::size_t at) const noexcept
{
    const double* oldest = &m_recent[at + 1];
    std::array<double, 4> sums{}; // side by side: one sum would wait for itself
    for (std::size_t k = 0; k < block_frames; k += sums.size())
        for (std::size_t lane = 0; lane < sums.size(); ++lane)
            sums[lane] += m_head_backwards[k + lane] * oldest[k + lane];
    return sums[0] + sums[1] + sums[2] + sums[3];
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
            addProduct(m_plans->spectrum, m_partitions[p], past);
        }
        fftw_execute(m_plans->inverse);
        for (std::size_t i = 0; i < block_frames; ++i)
            m_tail[i] = m_plans->samples[block_frames + i] / static_cast<double>(window);
    }
    std::copy_n(m_recent.begin() + block_frames, block_frames, m_recent.begin());
}

} // namespace hr::signal

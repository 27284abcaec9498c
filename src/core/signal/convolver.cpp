// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/convolver.h"

#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <complex>
#include <fftw3.h>
#include <span>

namespace hr::signal {

namespace {

using Bins = std::vector<std::complex<double>>;

/// Written out: std::complex's product stops to look for infinities, which a response does not have.
void addProduct(Bins& to, const Bins& a, const Bins& b) noexcept
{
    for (std::size_t k = 0; k < to.size(); ++k)
        to[k] += std::complex(a[k].real() * b[k].real() - a[k].imag() * b[k].imag(),
                              a[k].real() * b[k].imag() + a[k].imag() * b[k].real());
}

} // namespace

/// A part of the response that begins one block after the sound, in blocks of that length.
class Convolver::Partitions {
public:
    Partitions(std::span<const double> part, std::size_t block)
        : m_block(block), m_plans(2 * block), m_recent(2 * block), m_tail(block)
    {
        for (; !part.empty(); part = part.subspan(std::min(block, part.size()))) {
            std::ranges::fill(m_plans.samples, 0.0);
            std::ranges::copy(part.first(std::min(block, part.size())), m_plans.samples.begin());
            fftw_execute(m_plans.forward);
            m_partitions.push_back(m_plans.spectrum);
        }
        m_past.assign(m_partitions.size(), Bins(block + 1));
    }

    /// What this part answers now, to what came before.
    double next(double in) noexcept
    {
        const double out = m_tail[m_at];
        m_recent[m_block + m_at] = in;
        if (++m_at == m_block)
            finishBlock();
        return out;
    }

private:
    /// Transforms of one window, planned once, on memory of their own.
    struct Plans {
        std::vector<double> samples;
        Bins spectrum;
        fftw_plan forward = nullptr;
        fftw_plan inverse = nullptr;

        explicit Plans(std::size_t window) : samples(window), spectrum(window / 2 + 1)
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

    void finishBlock() noexcept
    {
        m_at = 0;
        // Overlap-save: of each window the second half is free of wrap-around.
        std::ranges::copy(m_recent, m_plans.samples.begin());
        fftw_execute(m_plans.forward);
        m_newest = (m_newest + 1) % m_past.size();
        std::ranges::copy(m_plans.spectrum, m_past[m_newest].begin());
        std::ranges::fill(m_plans.spectrum, std::complex<double>());
        for (std::size_t p = 0; p < m_partitions.size(); ++p) {
            const Bins& past = m_past[(m_newest + m_past.size() - p) % m_past.size()];
            addProduct(m_plans.spectrum, m_partitions[p], past);
        }
        fftw_execute(m_plans.inverse);
        for (std::size_t i = 0; i < m_block; ++i)
            m_tail[i] = m_plans.samples[m_block + i] / static_cast<double>(2 * m_block);
        std::copy_n(m_recent.begin() + static_cast<std::ptrdiff_t>(m_block), m_block, m_recent.begin());
    }

    std::size_t m_block;
    Plans m_plans;
    std::vector<Bins> m_partitions; // spectra, block after block
    std::vector<Bins> m_past;       // spectra of the input's blocks, a ring, newest at m_newest
    std::size_t m_newest = 0;
    std::vector<double> m_recent; // two blocks of input: the last whole one, then the growing one
    std::vector<double> m_tail;   // what the partitions answer during the growing block
    std::size_t m_at = 0;         // frames in the growing block
};

Convolver::Convolver() : m_head_backwards(block_frames), m_recent(2 * block_frames) {}
Convolver::~Convolver() = default;

void Convolver::setResponse(const std::vector<double>& response)
{
    m_head_backwards.assign(block_frames, 0.0);
    std::copy_n(response.begin(), std::min(block_frames, response.size()), m_head_backwards.rbegin());
    const auto partitions = [&](std::size_t block, std::size_t end) {
        return end > block
                   ? std::make_unique<Partitions>(std::span(response).subspan(block, end - block), block)
                   : nullptr;
    };
    m_short = partitions(block_frames, std::min(response.size(), long_block_frames));
    m_long = partitions(long_block_frames, response.size());
    m_at = 0;
    std::ranges::fill(m_recent, 0.0);
}

void Convolver::process(const float* in, float* out, std::size_t frames) noexcept
{
    for (std::size_t i = 0; i < frames; ++i) {
        m_recent[block_frames + m_at] = in[i];
        double sum = headAt(m_at);
        if (m_short)
            sum += m_short->next(in[i]);
        if (m_long)
            sum += m_long->next(in[i]);
        out[i] = static_cast<float>(sum);
        if (++m_at == block_frames) {
            m_at = 0;
            std::copy_n(m_recent.begin() + block_frames, block_frames, m_recent.begin());
        }
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

} // namespace hr::signal

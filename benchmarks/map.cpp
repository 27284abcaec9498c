// SPDX-License-Identifier: GPL-3.0-or-later
//
// How long the map takes for whole catalogues, against the baseline of comparing one with all of them.
#include "bench/likeness_map.h"
#include "signal/generators.h"

#include <chrono>
#include <cstdio>
#include <functional>

using namespace hr;

namespace {

double milliseconds(const std::function<void()>& work)
{
    const auto begun = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count();
}

} // namespace

int main()
{
    for (const std::size_t count : {600U, 2000U, 20000U}) {
        const auto noise = signal::gaussianNoise(3, count * bench::fingerprint_size, 1);
        std::vector<bench::Fingerprint> prints(count);
        for (std::size_t i = 0; i < count; ++i)
            for (std::size_t k = 0; k < bench::fingerprint_size; ++k)
                prints[i][k] = static_cast<float>(noise[i * bench::fingerprint_size + k]);
        const double one_ms = milliseconds([&] { (void)bench::nearest(prints, prints[0], 10); });
        const double map_ms = milliseconds([&] { (void)bench::mapOf(prints); });
        std::printf("%6zu: map %8.1f ms, one with all %7.2f ms, ratio %.0f\n", count, map_ms, one_ms,
                    map_ms / one_ms);
    }
}

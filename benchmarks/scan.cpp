// SPDX-License-Identifier: GPL-3.0-or-later
//
// A scan of 500 made-up bundles, copies of one library: processor time for each beyond what loading, starting
// and running it takes in this process, and how many cores were at work. Usage: bench-scan [BUNDLES]
#include "library/scan.h"
#include "hosting/inside/format.h"
#include "library/store.h"
#include "signal/generators.h"

#include <QCoreApplication>
#include <QTemporaryDir>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <sys/resource.h>

using namespace hr;
namespace fs = std::filesystem;

namespace {

/// Of this process and of those that have ended.
double processorSeconds()
{
    double seconds = 0;
    for (const auto who : {RUSAGE_SELF, RUSAGE_CHILDREN}) {
        rusage used{};
        getrusage(who, &used);
        seconds += static_cast<double>(used.ru_utime.tv_sec + used.ru_stime.tv_sec) +
                   static_cast<double>(used.ru_utime.tv_usec + used.ru_stime.tv_usec) / 1e6;
    }
    return seconds;
}

} // namespace

int main(int argc, char** argv)
{
    const QCoreApplication qt(argc, argv);
    const int bundles = argc > 1 ? std::atoi(argv[1]) : 500;
    const QTemporaryDir folder;
    const QTemporaryDir data;
    const fs::path library = HR_LADSPA_LIBRARY;
    for (int i = 0; i < bundles; ++i)
        fs::copy_file(library, fs::path(folder.path().toStdString()) / ("made" + std::to_string(i) + ".so"));

    // Its own start, and the 200 blocks that a scan runs.
    constexpr std::size_t block = 256;
    const auto noise = signal::onChannels(signal::gaussianNoise(0.1, 200 * block, 1), 8, 48000);
    std::vector<float> out(block);
    const double own_begun = processorSeconds();
    const auto described = hosting::inside::hostedLadspa()->describe(library);
    for (const auto& info : described->processors) {
        auto plugin = hosting::inside::hostedLadspa()->load(library, info.id);
        (void)(*plugin)->prepare({48000, block});
        for (std::size_t first = 0; first < noise.frames(); first += block) {
            std::array<const float*, 8> in{};
            std::array<float*, 8> to{};
            for (std::size_t c = 0; c < 8; ++c) {
                in[c] = noise.channel(c).data() + first;
                to[c] = out.data();
            }
            (*plugin)->process(in.data(), to.data(), block);
        }
    }
    const double own_ms = (processorSeconds() - own_begun) * 1000;

    auto store = library::Store::open(data.path().toStdString());
    library::ScanOptions options;
    options.folders = {folder.path().toStdString()};
    const double begun = processorSeconds();
    const auto clock = std::chrono::steady_clock::now();
    const auto report = library::scan((*store)->catalogue, options);
    const double wall = std::chrono::duration<double>(std::chrono::steady_clock::now() - clock).count();
    const double used = processorSeconds() - begun;
    std::printf(
        "%d bundles, %d processors, %zu in quarantine: %.2f s, %.2f cores at work, %.1f ms of a core each, of "
        "which %.1f ms its own; nothing changed: ",
        bundles, report->found, report->quarantined.size(), wall, used / wall, used * 1000 / bundles, own_ms);
    const auto again = std::chrono::steady_clock::now();
    (void)library::scan((*store)->catalogue, options);
    std::printf("%.3f s\n", std::chrono::duration<double>(std::chrono::steady_clock::now() - again).count());
}

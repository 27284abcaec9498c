// SPDX-License-Identifier: GPL-3.0-or-later
//
// How much faster a suite is than its stimuli last, on one core, and how much memory it takes: of some cheap
// specimens, test by test, and as a whole. Usage: bench-suite [NAME...]
#include "bench/suite.h"
#include "processors/settings.h"

#include <chrono>
#include <cstdio>
#include <sched.h>
#include <string>
#include <sys/resource.h>

using namespace hr;

namespace {

const std::filesystem::path bundle = std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2";

double peakMib()
{
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    return static_cast<double>(used.ru_maxrss) / 1024;
}

struct Run {
    double stimuli_s = 0, wall_s = 0;
    double worker_mib = 0; ///< as the test of costs has it
};

Run measured(const hosting::Location& location, const std::vector<bench::TestInfo>& tests)
{
    const auto info = (*hosting::openInstance(location))->info();
    const auto began = std::chrono::steady_clock::now();
    const auto m = bench::measure(location, info, processors::defaultValues(info), tests, {});
    const double wall_s = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
    if (m.failure)
        std::printf("  %s failed: %s\n", m.failure->test.c_str(), m.failure->fault.detail.c_str());
    Run run{m.stimuli_s, wall_s};
    for (const auto& [test, reading] : m.readings)
        if (test == "cost")
            run.worker_mib = reading.number("memory_mib").value_or(0);
    return run;
}

void print(const std::string& name, const Run& run)
{
    std::printf("%-28s stimuli %8.1f s  taken %7.2f s  %6.0f times faster\n", name.c_str(), run.stimuli_s,
                run.wall_s, run.wall_s > 0 ? run.stimuli_s / run.wall_s : 0);
    std::fflush(stdout);
}

} // namespace

int main(int argc, char** argv)
{
    cpu_set_t one;
    CPU_ZERO(&one);
    CPU_SET(0, &one);
    sched_setaffinity(0, sizeof one, &one); // workers are started on the same
    std::vector<std::string> names(argv + 1, argv + argc);
    if (names.empty())
        names = {"tidepool-equaliser", "cordage-leveller", "lantern-saturator"};
    for (const std::string& name : names) {
        const hosting::Location location{"lv2:urn:honest-rack:specimens:" + name, bundle};
        if (auto opened = hosting::openInstance(location); !opened) {
            std::printf("%s: %s\n", name.c_str(), opened.error().detail.c_str());
            return 1;
        }
        std::printf("%s\n", name.c_str());
        for (const bench::TestInfo& test : bench::allTests())
            print("  " + test.key, measured(location, {test}));
        const Run whole = measured(location, bench::allTests());
        print("  the whole suite", whole);
        std::printf("  %.0f MiB in its worker\n", whole.worker_mib);
    }
    std::printf("at the most %.0f MiB here\n", peakMib());
}

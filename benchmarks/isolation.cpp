// SPDX-License-Identifier: GPL-3.0-or-later
//
// What isolation costs: a minute of stereo through each of some specimens in a worker, against the same loop
// with the same library in this process; and how long a worker takes to start, against the library alone.
// Prints medians of several runs, alternating, so that a noisy machine is noisy for both.
#include "audition/render.h"
#include "hosting/inside/cage.h"
#include "hosting/inside/format.h"
#include "hosting/local_instance.h"
#include "processors/settings.h"
#include "signal/generators.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <sys/wait.h>
#include <unistd.h>

using namespace hr;

namespace {

constexpr int runs = 9;
const std::filesystem::path bundle = std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2";

double secondsOf(const std::function<void()>& work)
{
    const auto begun = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
}

double median(std::vector<double> values)
{
    std::ranges::nth_element(values, values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2));
    return values[values.size() / 2];
}

std::unique_ptr<hosting::Instance> inThisProcess(const std::string& uri)
{
    return std::make_unique<hosting::LocalInstance>(
        std::move(*hosting::inside::hostedLv2()->load(bundle, "lv2:" + uri)));
}

std::unique_ptr<hosting::Instance> inAWorker(const std::string& uri)
{
    return std::move(*hosting::openInstance({"lv2:" + uri, bundle}));
}

void start(hosting::Instance& instance)
{
    (void)instance.start({48000, 256}, processors::defaultValues(instance.info()));
}

const std::filesystem::path in = std::filesystem::temp_directory_path() / "bench-isolation-in.wav";
const std::filesystem::path out = std::filesystem::temp_directory_path() / "bench-isolation-out.wav";

/// As `hrack render` does.
void render(hosting::Instance& instance)
{
    (void)audition::render(instance, processors::defaultValues(instance.info()), false, {in, out});
}

/// What of a worker's start is the cage's: entered by a process of its own, since it is for life.
double cageMs()
{
    int ends[2];
    if (pipe(ends) != 0)
        return 0;
    if (const pid_t child = fork(); child == 0) {
        static hosting::SharedBlock block;
        const double ms = 1000 * secondsOf([] {
                              (void)hosting::inside::enterCage(block, {in.parent_path(), {}, {}});
                          });
        _exit(write(ends[1], &ms, sizeof ms) == sizeof ms ? 0 : 1);
    } else {
        double ms = 0;
        (void)!read(ends[0], &ms, sizeof ms);
        waitpid(child, nullptr, 0);
        close(ends[0]);
        close(ends[1]);
        return ms;
    }
}

} // namespace

int main()
{
    std::vector<double> cage_ms;
    for (int run = 0; run < 4 * runs; ++run)
        cage_ms.push_back(cageMs());
    std::printf("entering the cage: %.2f ms of a worker's start\n", median(cage_ms));
    const auto minute = signal::onChannels(signal::gaussianNoise(0.1, 60 * 48000, 1), 2, 48000);
    (void)signal::writeAudioFile(in, minute);
    for (const char* name : {"cordage-leveller", "tidepool-equaliser", "lantern-saturator", "deep-keel"}) {
        const std::string uri = std::string("urn:honest-rack:specimens:") + name;
        const auto local = inThisProcess(uri);
        const auto remote = inAWorker(uri);
        start(*local);
        start(*remote);
        std::vector<double> here;
        std::vector<double> there;
        std::vector<double> open_here_ms;
        std::vector<double> open_there_ms;
        for (int run = 0; run < runs; ++run) {
            here.push_back(secondsOf([&] { (void)local->process(minute); }));
            there.push_back(secondsOf([&] { (void)remote->process(minute); }));
            open_here_ms.push_back(1000 * secondsOf([&] { start(*inThisProcess(uri)); }));
            open_there_ms.push_back(1000 * secondsOf([&] { start(*inAWorker(uri)); }));
        }
        std::vector<double> render_here;
        std::vector<double> render_there;
        for (int run = 0; run < runs; ++run) {
            render_here.push_back(secondsOf([&] { render(*local); }));
            render_there.push_back(secondsOf([&] { render(*remote); }));
        }
        std::printf("%-20s rendered from file to file: in process %.3f s, in a worker %.3f s, ratio %.3f\n",
                    name, median(render_here), median(render_there),
                    median(render_there) / median(render_here));
        std::printf(
            "%-20s one minute: in process %.3f s, in a worker %.3f s, ratio %.3f; start %.1f ms, %.1f ms\n",
            name, median(here), median(there), median(there) / median(here), median(open_here_ms),
            median(open_there_ms));
    }
}

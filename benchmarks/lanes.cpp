// SPDX-License-Identifier: GPL-3.0-or-later
//
// Eight specimens in workers beside the reference, played to an audio server, switched twice a second, while a
// measurement and a scan run on and on. Usage: bench-lanes [SECONDS]   (600), with a JACK server running, for
// instance `jackd -r -t 5000 -d dummy -r 48000 -p 128` (by itself it throws out who stood still for half a
// second, as all do on a machine that is taken away). Prints underruns of the lanes, xruns of the server (and
// how many it makes by itself, watched for a tenth of the time before: without real time its own clock is late
// now and then), how many of them fell into a moment in which the machine itself stood still, and the largest
// step of the output against the source's.
#include "audition/engine.h"
#include "audition/output_device.h"
#include "bench/suite.h"
#include "hosting/pace.h"
#include "library/scan.h"
#include "library/store.h"
#include "processors/settings.h"
#include "signal/generators.h"

#include <QCoreApplication>
#include <QTemporaryDir>
#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <deque>
#include <fstream>
#include <sstream>
#include <string>
#include <unistd.h>
#include <vector>

using namespace hr;

namespace {

const std::filesystem::path bundle = std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2";

constexpr std::size_t played_lanes = 11; // eight candidates, the reference, and X in a trial between two

hosting::Location specimen(const std::string& name)
{
    return {"lv2:urn:honest-rack:specimens:" + name, bundle};
}

processors::ProcessorInfo infoOf(const hosting::Location& location)
{
    return (*hosting::openInstance(location))->info();
}

/// Processor time that the host of a virtual machine took for others since it was started: of all cores, then
/// of each (proc(5)).
std::vector<double> stolenSeconds()
{
    std::ifstream stat("/proc/stat");
    std::vector<double> stolen;
    for (std::string line; std::getline(stat, line) && line.starts_with("cpu");) {
        std::istringstream words(line);
        std::string word;
        for (int field = 0; field <= 8 && words >> word; ++field)
            if (field == 8)
                stolen.push_back(std::stod(word) / static_cast<double>(sysconf(_SC_CLK_TCK)));
    }
    return stolen;
}

/// The most that was taken of any one core between the two.
double mostTaken(const std::vector<double>& before, const std::vector<double>& now)
{
    double most = 0;
    for (std::size_t core = 1; core < std::min(before.size(), now.size()); ++core)
        most = std::max(most, now[core] - before[core]);
    return most;
}

/// Scans the specimens into a catalogue of its own, as a first start does; false where it could not.
bool scanOnce(const std::stop_token& cancel)
{
    const QTemporaryDir data;
    auto store = library::Store::open(data.path().toStdString());
    if (!store)
        return false;
    library::ScanOptions options;
    options.folders = {bundle.parent_path()};
    options.control.cancel = cancel;
    const auto report = library::scan((*store)->catalogue, options);
    return report && !report->cancelled;
}

/// From and to, in seconds.
using Moment = std::pair<double, double>;

/// How many moments of `these` lie in one of `those`, or within a quarter of a second after it.
std::size_t within(const std::vector<Moment>& these, const std::vector<Moment>& those)
{
    return static_cast<std::size_t>(std::ranges::count_if(these, [&](const Moment& a) {
        return std::ranges::any_of(
            those, [&](const Moment& b) { return a.second >= b.first && a.first <= b.second + 0.25; });
    }));
}

} // namespace

int main(int argc, char** argv)
{
    const QCoreApplication qt(argc, argv); // the catalogue's database asks for one
    const double seconds = argc > 1 ? std::atof(argv[1]) : 600;
    auto device = audition::openDevice({"JACK", ""});
    if (!device) {
        std::printf("%s\n", device.error().text.c_str());
        return 1;
    }
    audition::Engine engine((*device)->rateHz());
    const auto tone = signal::sine(997, 0.25, engine.rateHz(), static_cast<std::size_t>(engine.rateHz()));
    const auto source = std::make_shared<audition::Source>(signal::onChannels(tone, 2, engine.rateHz()));
    // All of them transparent at their defaults, so that whatever steps is the engine's own doing.
    const hosting::Location equaliser = specimen("tidepool-equaliser");
    const auto values = processors::defaultValues(infoOf(equaliser));
    if (auto started = (*device)->start([&](float* out, std::size_t frames) { engine.render(out, frames); });
        !started) {
        std::printf("%s\n", started.error().text.c_str());
        return 1;
    }
    std::this_thread::sleep_for(std::chrono::seconds(1)); // the connection itself costs some
    const std::size_t xruns_at_first = (*device)->xruns();
    const double bare_s = seconds / 10;
    std::thread([&] {
        hosting::keepPace(hosting::Pace::Background);
        const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(bare_s);
        while (std::chrono::steady_clock::now() < end) {
        }
    }).join();
    const std::size_t xruns_bare = (*device)->xruns() - xruns_at_first;
    audition::Scene scene{source, source->whole(), {}};
    for (audition::ContenderId id = 1; id <= played_lanes; ++id)
        scene.contenders.push_back({id, 1, equaliser, values, 0.0});
    engine.hear(1);
    engine.setScene(scene);
    const hosting::Location measured = specimen("cordage-leveller");
    const auto info = infoOf(measured);
    std::stop_source stop;
    std::atomic<int> measurements{0};
    std::jthread beside([&] {
        hosting::keepPace(hosting::Pace::Background); // as the application does it
        while (!stop.stop_requested()) {
            bench::MeasureControl control;
            control.cancel = stop.get_token();
            (void)bench::measure(measured, info, processors::defaultValues(info), *bench::testsNamed({}), {},
                                 control);
            ++measurements;
        }
    });
    std::atomic<int> scans{0};
    std::jthread scanning([&] {
        hosting::keepPace(hosting::Pace::Background);
        while (!stop.stop_requested())
            scans += scanOnce(stop.get_token()) ? 1 : 0;
    });
    const auto begun = std::chrono::steady_clock::now();
    const auto now_s = [begun] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    };
    // When the machine itself stands still, for half of what lanes are rendered ahead or more: a thread that
    // only sleeps is kept for so long.
    std::vector<Moment> stalls; // read once `watch` has ended
    std::vector<Moment> thefts; // of a core, for half of it or more
    std::jthread watch([&] {
        hosting::keepPace(hosting::Pace::Ahead);
        std::deque<std::pair<double, std::vector<double>>> taken; // over the last 40 ms
        for (double before = now_s(); !stop.stop_requested();) {
            std::this_thread::sleep_for(std::chrono::milliseconds(5));
            const double now = now_s();
            if (now - before > 0.020)
                stalls.emplace_back(before, now);
            before = now;
            taken.emplace_back(now, stolenSeconds());
            if (mostTaken(taken.front().second, taken.back().second) >= 0.020) {
                thefts.emplace_back(taken.front().first, now);
                taken.clear();
            } else if (now - taken.front().first > 0.040) {
                taken.pop_front();
            }
        }
    });
    engine.play();
    const double stolen_before_s = stolenSeconds().front();
    const auto output = engine.listen(audition::TapPoint::Sum, audition::no_contender, 1024);
    audition::TapBlock heard;
    float before = 0;
    float largest_step = 0;
    std::size_t frames = 0;
    std::size_t switches = 0;
    std::vector<Moment> underruns; // of the rings
    std::vector<Moment> xruns;     // the server went on without us
    std::size_t counted = 0;
    std::size_t counted_xruns = 0;
    double looked_s = 0;
    for (int turn = 0;; ++turn) {
        engine.tend();
        const double at_s = now_s();
        const std::size_t underruns_now = engine.underruns();
        const std::size_t xruns_now = (*device)->xruns();
        if (turn > 100) { // from two seconds after the start
            underruns.insert(underruns.end(), underruns_now - counted, {looked_s, at_s});
            xruns.insert(xruns.end(), xruns_now - counted_xruns, {looked_s, at_s});
        }
        counted = underruns_now;
        counted_xruns = xruns_now;
        looked_s = at_s;
        if (at_s > seconds)
            break;
        if (!(*device)->isAlive()) {
            std::printf("the server has gone after %.0f s: ask it to wait longer for us, jackd -t 5000\n",
                        at_s);
            break;
        }
        if (turn % 25 == 0)
            engine.hear(1 + switches++ % played_lanes);
        while (output->take(heard)) {
            for (std::size_t i = 0; i < heard.frames; ++i) {
                if (turn > 100)
                    largest_step = std::max(largest_step, std::abs(heard.left[i] - before));
                before = heard.left[i];
            }
            frames += heard.frames;
        }
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    stop.request_stop();
    watch.join();
    device->reset(); // before the engine that it plays
    float own_step = 0;
    for (std::size_t i = 1; i < tone.size(); ++i)
        own_step = std::max(own_step, static_cast<float>(std::abs(tone[i] - tone[i - 1])));
    std::printf("eight lanes and the reference for %.0f s: %zu underruns, %zu xruns, %zu switches, %d "
                "measurements and %d scans beside; "
                "largest step %.5f, the source's own %.5f, ratio %.4f\n",
                static_cast<double>(frames) / engine.rateHz(), underruns.size(), xruns.size(), switches,
                measurements.load(), scans.load(), static_cast<double>(largest_step),
                static_cast<double>(own_step), static_cast<double>(largest_step / own_step));
    std::printf("xruns a minute: %.1f; of the server beside a busy core alone: %.1f\n",
                60 * static_cast<double>(xruns.size()) / seconds,
                60 * static_cast<double>(xruns_bare) / bare_s);
    std::printf("the host took %.1f s of the cores away\n", stolenSeconds().front() - stolen_before_s);
    double longest_s = 0;
    for (const auto& [from, to] : stalls)
        longest_s = std::max(longest_s, to - from);
    std::printf(
        "a thread that only sleeps for 5 ms was kept for more than 20 ms %zu times, once for %.0f ms; %zu "
        "of the underruns and %zu of the xruns fell into such a moment, %zu and %zu did not\n",
        stalls.size(), 1000 * longest_s, within(underruns, stalls), within(xruns, stalls),
        underruns.size() - within(underruns, stalls), xruns.size() - within(xruns, stalls));
    double theft_s = 0;
    std::vector<Moment> neither;
    for (const Moment& one : underruns)
        if (within({one}, stalls) + within({one}, thefts) == 0)
            neither.push_back(one);
    for (const auto& [from, to] : thefts)
        theft_s += to - from + 0.25;
    std::printf("a core was taken away for half of 40 ms %zu times, which with the quarter of a second behind "
                "makes up %.0f %% of the time; %zu of the underruns fell into neither\n",
                thefts.size(), 100 * std::min(1.0, theft_s / seconds), neither.size());
}

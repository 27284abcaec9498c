// SPDX-License-Identifier: GPL-3.0-or-later
//
// Eight specimens in workers beside the reference, played to an audio server, switched twice a second, while a
// measurement runs on and on. Usage: bench-lanes [SECONDS]   (600), with a JACK server running, for instance
// `jackd -r -d dummy -r 48000 -p 128`. Prints underruns, and the largest step of the output against the
// source's.
#include "audition/engine.h"
#include "audition/output_device.h"
#include "bench/suite.h"
#include "hosting/pace.h"
#include "processors/settings.h"
#include "signal/generators.h"

#include <atomic>
#include <chrono>
#include <cstdio>
#include <cstdlib>

using namespace hr;

namespace {

const std::filesystem::path bundle = std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2";

hosting::Location specimen(const std::string& name)
{
    return {"lv2:urn:honest-rack:specimens:" + name, bundle};
}

processors::ProcessorInfo infoOf(const hosting::Location& location)
{
    return (*hosting::openInstance(location))->info();
}

} // namespace

int main(int argc, char** argv)
{
    const double seconds = argc > 1 ? std::atof(argv[1]) : 600;
    auto device = audition::openDevice({"JACK", ""});
    if (!device) {
        std::printf("%s\n", device.error().text.c_str());
        return 1;
    }
    audition::Engine engine((*device)->rateHz());
    const auto tone = signal::sine(997, 0.25, engine.rateHz(), static_cast<std::size_t>(engine.rateHz()));
    const auto source = std::make_shared<audition::Source>(signal::onChannels(tone, 2, engine.rateHz()));
    engine.setSource(source, source->whole());
    // All of them transparent as new, so that whatever steps is the engine's own doing.
    const hosting::Location equaliser = specimen("tidepool-equaliser");
    const auto values = processors::defaultValues(infoOf(equaliser));
    engine.setLineUp(std::vector<audition::LaneSpec>(9, {equaliser, values}));
    if (auto started = (*device)->start([&](float* out, std::size_t frames) { engine.render(out, frames); });
        !started) {
        std::printf("%s\n", started.error().text.c_str());
        return 1;
    }
    const hosting::Location measured = specimen("cordage-leveller");
    const auto info = infoOf(measured);
    std::atomic<bool> stop{false};
    std::atomic<int> measurements{0};
    std::jthread beside([&] {
        hosting::keepPace(hosting::Pace::Background); // as the application does it
        while (!stop) {
            bench::MeasureControl control;
            control.cancel = &stop;
            (void)bench::measure(measured, info, processors::defaultValues(info), *bench::testsNamed({}), {},
                                 control);
            ++measurements;
        }
    });
    // How often the machine itself stands still for longer than lanes are rendered ahead: a thread that only
    // sleeps.
    std::atomic<int> stalls{0};
    std::atomic<double> stalled_s{0};
    std::jthread watch([&] {
        hosting::keepPace(hosting::Pace::Ahead);
        for (auto before = std::chrono::steady_clock::now(); !stop;) {
            std::this_thread::sleep_for(std::chrono::milliseconds(5));
            const auto now = std::chrono::steady_clock::now();
            const double slept_s = std::chrono::duration<double>(now - before).count();
            if (slept_s > 0.040) {
                ++stalls;
                stalled_s = stalled_s + slept_s;
            }
            before = now;
        }
    });
    engine.play();
    const auto begun = std::chrono::steady_clock::now();
    std::vector<audition::Frame> heard(32768);
    float before = 0;
    float largest_step = 0;
    std::size_t frames = 0;
    std::size_t switches = 0;
    std::size_t settled_underruns = 0;
    for (int turn = 0;; ++turn) {
        engine.tend();
        const double at = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
        if (turn == 100)
            settled_underruns = engine.underruns(); // from two seconds after the start
        if (at > seconds)
            break;
        if (turn % 25 == 0)
            engine.hear(switches++ % 9);
        const std::size_t got = engine.takeOutput(heard.data(), heard.size());
        for (std::size_t i = 0; i < got; ++i) {
            if (turn > 100)
                largest_step = std::max(largest_step, std::abs(heard[i].left - before));
            before = heard[i].left;
        }
        frames += got;
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    stop = true;
    float own_step = 0;
    for (std::size_t i = 1; i < tone.size(); ++i)
        own_step = std::max(own_step, static_cast<float>(std::abs(tone[i] - tone[i - 1])));
    std::printf(
        "eight lanes and the reference for %.0f s: %zu underruns, %zu switches, %d measurements beside; "
        "largest step %.5f, the source's own %.5f, ratio %.4f\n",
        static_cast<double>(frames) / engine.rateHz(), engine.underruns() - settled_underruns, switches,
        measurements.load(), static_cast<double>(largest_step), static_cast<double>(own_step),
        static_cast<double>(largest_step / own_step));
    std::printf("a thread that only sleeps for 5 ms was kept for more than 40 ms %d times, %.1f s in all\n",
                stalls.load(), stalled_s.load());
}

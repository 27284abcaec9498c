// SPDX-License-Identifier: GPL-3.0-or-later
//
// Eleven lanes of a specimen in workers (eight candidates, the reference, and X in a trial between two), played
// to an audio server, switched twice a second, while a measurement and a scan run on and on.
// Usage: bench-lanes [SECONDS]   (600), with a JACK server running, for instance
// `jackd -R -P 10 -t 5000 -d dummy -r 48000 -p 128`; where it may not keep deadlines, -r instead of -R -P 10,
// and its own clock is late now and then (by itself it throws out who stood still for half a second, as all do
// on a machine that is taken away). Prints underruns of the lanes, xruns of the server (and how many it makes
// by itself, watched for a tenth of the time before), how many of both fell into moments in which a control
// without any of our work came late as well, what the callback took, and the largest step of the output against
// the source's.
#include "audition/engine.h"
#include "audition/output_device.h"
#include "bench/suite.h"
#include "hosting/thread_priority.h"
#include "library/scan.h"
#include "library/store.h"
#include "machine_watch.h"
#include "processors/settings.h"
#include "signal/generators.h"

#include <QCoreApplication>
#include <QTemporaryDir>
#include <algorithm>
#include <array>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <string>
#include <vector>

using namespace hr;
using hr::benchmarks::coverage;
using hr::benchmarks::MachineWatch;
using hr::benchmarks::Moment;
using hr::benchmarks::within;

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

/// How long the callback takes, by the clock and in processor time of its own. Written by the callback only;
/// asking for processor time is a system call, which the engine itself never makes there.
class CallbackTimes {
public:
    template<typename Work>
    void time(const Work& work)
    {
        const double before_s = of(CLOCK_MONOTONIC);
        const double cpu_before_s = of(CLOCK_THREAD_CPUTIME_ID);
        work();
        const double cpu_s = of(CLOCK_THREAD_CPUTIME_ID) - cpu_before_s;
        m_longest_s = std::max(m_longest_s, of(CLOCK_MONOTONIC) - before_s);
        m_longest_cpu_s = std::max(m_longest_cpu_s, cpu_s);
        m_cpu_s += cpu_s;
        m_long += cpu_s > long_s ? 1 : 0;
        ++m_calls;
    }
    /// Once it is called no more.
    std::string inWords() const
    {
        std::array<char, 200> text{};
        std::snprintf(text.data(), text.size(),
                      "%zu callbacks: %.3f ms of processor time in the mean, more than %.0f ms in %zu, %.3f ms "
                      "in the longest; by the clock at most %.3f ms",
                      m_calls, 1000 * m_cpu_s / static_cast<double>(std::max<std::size_t>(m_calls, 1)),
                      1000 * long_s, m_long, 1000 * m_longest_cpu_s, 1000 * m_longest_s);
        return text.data();
    }

private:
    static double of(clockid_t clock)
    {
        timespec now{};
        clock_gettime(clock, &now);
        return static_cast<double>(now.tv_sec) + 1e-9 * static_cast<double>(now.tv_nsec);
    }

    static constexpr double long_s = 0.001;
    std::size_t m_calls = 0;
    std::size_t m_long = 0;
    double m_cpu_s = 0;
    double m_longest_s = 0;
    double m_longest_cpu_s = 0;
};

/// In how many of them the machine did not give a control its core either, and in how many it would have been
/// so by chance.
void sayHowManyInside(const char* what, const std::vector<Moment>& these, const char* control,
                      const std::vector<Moment>& late, double seconds)
{
    constexpr double grace_s = 0.02; // the server tells us of them a little later
    double longest_s = 0;
    for (const Moment& one : late)
        longest_s = std::max(longest_s, one.to_s - one.from_s);
    const std::size_t inside = within(these, late, grace_s);
    std::printf("%zu of the %s while a control %s came late (%zu times, once by %.0f ms; %.1f %% of the time), "
                "%zu while none did\n",
                inside, what, control, late.size(), 1000 * longest_s, 100 * coverage(late, grace_s, seconds),
                these.size() - inside);
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
    CallbackTimes times;
    const auto callback = [&](float* out, std::size_t frames) {
        times.time([&] { engine.render(out, frames); });
    };
    if (auto started = (*device)->start(callback); !started) {
        std::printf("%s\n", started.error().text.c_str());
        return 1;
    }
    std::this_thread::sleep_for(std::chrono::seconds(1)); // the connection itself costs some
    const std::size_t xruns_at_first = (*device)->xruns();
    const double bare_s = seconds / 10;
    std::thread([&] {
        hosting::setPriority(hosting::Priority::Background);
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
        hosting::setPriority(hosting::Priority::Background); // as the application does it
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
        hosting::setPriority(hosting::Priority::Background);
        while (!stop.stop_requested())
            scans += scanOnce(stop.get_token()) ? 1 : 0;
    });
    std::vector<Moment> underruns; // of the rings
    std::vector<Moment> xruns;     // the server went on without us
    std::atomic<bool> counts{false};
    double looked_s = 0;
    std::size_t underruns_before = 0;
    std::size_t xruns_before = 0;
    const audition::OutputDevice& server = **device;
    MachineWatch watch([&](double now_s) {
        const std::size_t underruns_now = engine.underruns();
        const std::size_t xruns_now = server.xruns();
        if (counts) {
            underruns.insert(underruns.end(), underruns_now - underruns_before, {looked_s, now_s});
            xruns.insert(xruns.end(), xruns_now - xruns_before, {looked_s, now_s});
        }
        underruns_before = underruns_now;
        xruns_before = xruns_now;
        looked_s = now_s;
    });
    engine.play();
    const auto output = engine.listen(audition::TapPoint::Sum, audition::no_contender, 1024);
    audition::TapBlock heard;
    float before = 0;
    float largest_step = 0;
    std::size_t frames = 0;
    std::size_t switches = 0;
    for (int turn = 0;; ++turn) {
        engine.applyPending();
        const double at_s = watch.nowS();
        counts = turn > 100; // from two seconds after the start
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
    watch.stop();
    device->reset(); // before the engine that it plays
    float own_step = 0;
    for (std::size_t i = 1; i < tone.size(); ++i)
        own_step = std::max(own_step, static_cast<float>(std::abs(tone[i] - tone[i - 1])));
    std::printf("%zu lanes for %.0f s: %zu underruns, %zu xruns, %zu switches, %d measurements and %d scans "
                "beside; largest step %.5f, the source's own %.5f, ratio %.4f\n",
                played_lanes, static_cast<double>(frames) / engine.rateHz(), underruns.size(), xruns.size(),
                switches, measurements.load(), scans.load(), static_cast<double>(largest_step),
                static_cast<double>(own_step), static_cast<double>(largest_step / own_step));
    std::printf("%s\n", times.inWords().c_str());
    std::printf("xruns a minute: %.1f; of the server beside a busy core alone: %.1f\n",
                60 * static_cast<double>(xruns.size()) / seconds,
                60 * static_cast<double>(xruns_bare) / bare_s);
    std::printf("the host took %.1f s of the cores away%s\n", watch.stolenS(),
                watch.keepsDeadlines() ? "" : "; the system lets no thread keep deadlines");
    sayHowManyInside("underruns", underruns, "of the lanes' kind", watch.laneLate(), seconds);
    sayHowManyInside("underruns", underruns, "of the callback's kind", watch.callbackLate(), seconds);
    sayHowManyInside("xruns", xruns, "of the callback's kind", watch.callbackLate(), seconds);
}

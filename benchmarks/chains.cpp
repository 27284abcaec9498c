// SPDX-License-Identifier: GPL-3.0-or-later
//
// What working on chains costs, over 12 s of noise through specimens in workers. Baseline: one render of the
// chain of five stages. Then all orders of four and of five of its stages; what the level after each stage of
// 12 and of 40 takes; and how long a chain of 40 takes to be opened, what it needs of a core, and how late it
// is heard live at 128 frames with how many breaks in 10 s. Usage: bench-chains.
#include "audition/along_path.h"
#include "audition/engine.h"
#include "signal/generators.h"

#include <array>
#include <chrono>
#include <cstdio>
#include <thread>

using namespace hr;
using namespace hr::audition;

namespace {

constexpr double rate_hz = 48000;
constexpr double seconds = 12;

/// Of the five that are in turn in every chain.
constexpr std::array stages{"tidepool-equaliser", "cordage-leveller", "lantern-saturator", "breakwater",
                            "brightwork"};

chain::Chain chainOf(std::size_t count)
{
    chain::Chain chain;
    for (std::size_t i = 0; i < count; ++i)
        chain::addStage(chain, std::string("lv2:urn:honest-rack:specimens:") + stages[i % stages.size()]);
    return chain;
}

chain::Placed placed(const chain::Chain& chain)
{
    return chain::place(chain, [](const std::string& id) {
        return Result<hosting::Location>(
            hosting::Location{id, std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2"});
    });
}

Result<hosting::FaultOr<OpenedChain>> open(const chain::Chain& chain)
{
    const auto location = placed(chain).location;
    auto instance = hosting::openInstance(location);
    if (!instance)
        return hosting::FaultOr<OpenedChain>(tl::make_unexpected(instance.error()));
    auto values = chain::values(chain, (*instance)->info());
    if (!values)
        return tl::make_unexpected(values.error());
    return hosting::FaultOr<OpenedChain>(OpenedChain{std::move(*instance), *values, location});
}

template<class Work>
double secondsOf(Work work)
{
    const auto begun = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
}

void tell(const char* what, double took_s, double baseline_s)
{
    std::printf("%-36s %7.2f s  %6.1f x\n", what, took_s, took_s / baseline_s);
}

/// At 128 frames, as fast as the time goes by; what comes in and what is played have one clock.
void hearLive(const chain::Chain& chain)
{
    constexpr std::size_t period = 128;
    Engine engine(rate_hz);
    const auto input = std::make_shared<RecentInput>(rate_hz, 5);
    const auto opened = open(chain);
    std::vector<float> block(2 * period);
    engine.render(block.data(), period);
    engine.applyPending();
    Scene scene;
    scene.live = input;
    scene.contenders = {{1, 1, (*opened)->location, (*opened)->values, 0.0}};
    engine.hear(1);
    engine.setScene(std::move(scene));
    engine.play();
    const auto noise = signal::gaussianNoise(0.05, static_cast<std::size_t>(rate_hz), 2);
    auto next = std::chrono::steady_clock::now();
    std::size_t broke_off = 0;
    std::size_t late = 0;
    std::size_t lag_frames = 0;
    const auto turns = static_cast<std::size_t>(15 * rate_hz / period);
    for (std::size_t turn = 0; turn < turns; ++turn) {
        next += std::chrono::nanoseconds(static_cast<long>(1e9 * period / rate_hz));
        std::this_thread::sleep_until(next);
        late += std::chrono::steady_clock::now() - next > std::chrono::milliseconds(1) ? 1 : 0;
        for (std::size_t i = 0; i < period; ++i)
            block[2 * i] = block[2 * i + 1] = static_cast<float>(noise[(turn * period + i) % noise.size()]);
        input->put(block.data(), period);
        engine.applyPending();
        if (turn == turns / 3) // by then it has been opened
            broke_off = engine.underruns();
        engine.render(block.data(), period);
        lag_frames = engine.liveLagFrames();
    }
    std::printf("live at %zu frames: %.1f ms late, %zu breaks in 10 s (the clock itself was late %zu times), "
                "%.2f of a core\n",
                period, 1000 * static_cast<double>(lag_frames) / rate_hz, engine.underruns() - broke_off, late,
                engine.states().front().core_share);
}

} // namespace

int main()
{
    const auto folder = std::filesystem::temp_directory_path() / "bench-chains";
    std::filesystem::create_directories(folder);
    const auto file = folder / "noise.wav";
    const auto noise = signal::gaussianNoise(0.1, static_cast<std::size_t>(seconds * rate_hz), 1);
    if (!signal::writeAudioFile(file, signal::onChannels(noise, 2, rate_hz)))
        return 1;
    (void)playedThrough(chainOf(5), open, file); // workers are there from now on
    const double render_s = secondsOf([&] { (void)playedThrough(chainOf(5), open, file); });
    tell("one render of five stages", render_s, render_s);
    tell("one render of one stage", secondsOf([&] { (void)playedThrough(chainOf(1), open, file); }), render_s);
    for (const std::size_t count : {4, 5}) {
        const auto chain = chainOf(5);
        std::vector<std::string> movable;
        for (std::size_t i = 0; i < count; ++i)
            movable.push_back(chain.nodes[i].id);
        std::size_t distinct = 0;
        const double took_s = secondsOf([&] {
            const auto orders = compareOrders(chain, movable, open, file, folder);
            distinct = orders && *orders ? (*orders)->distinct : 0;
        });
        tell(("orders of " + std::to_string(count) + ", " + std::to_string(distinct) + " differ").c_str(),
             took_s, render_s);
    }
    PathQuestion levels;
    levels.with_tone = levels.with_response = false;
    for (const std::size_t count : {12, 40})
        tell(("levels after each of " + std::to_string(count)).c_str(),
             secondsOf([&] { (void)alongPath(chainOf(count), open, file, levels); }), render_s);
    tell("a chain of 40 opened", secondsOf([] { (void)open(chainOf(40)); }), render_s);
    hearLive(chainOf(5));
    hearLive(chainOf(40));
    std::filesystem::remove_all(folder);
    return 0;
}

// SPDX-License-Identifier: GPL-3.0-or-later
//
// How long a change of the line-up takes until it is audible, and what is heard meanwhile. Usage: bench-changes
// [TIMES] (20). Plays a tone to the silent device through transparent processors; each kind of change is made
// so many times. Baseline: opening and starting one worker alone. Gap: the longest run of frames without sound.
// Then how long after the key that switches, and after a parameter is turned, the output is another.
#include "audition/engine.h"
#include "audition/output_device.h"
#include "processors/settings.h"
#include "signal/generators.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <thread>

using namespace hr;
using namespace std::chrono_literals;

namespace {

constexpr double rate_hz = 48000;

double msSince(std::chrono::steady_clock::time_point begun)
{
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count();
}

std::shared_ptr<const audition::Source> toneOf(double frequency_hz)
{
    const auto tone = signal::sine(frequency_hz, 0.25, rate_hz, static_cast<std::size_t>(4 * rate_hz));
    return std::make_shared<audition::Source>(signal::onChannels(tone, 2, rate_hz));
}

/// Frames in a row without sound. A tone crosses zero, but stays there for no more than a frame.
class GapMeter {
public:
    explicit GapMeter(std::shared_ptr<audition::TapReader> reader) : m_reader(std::move(reader)) {}
    void look()
    {
        while (m_reader->take(m_block))
            for (std::size_t i = 0; i < m_block.frames; ++i) {
                m_run = std::abs(m_block.left[i]) < 1e-6F ? m_run + 1 : 0;
                m_longest = std::max(m_longest, m_run);
            }
    }
    std::size_t takeLongest() { return std::exchange(m_longest, 0); }

private:
    std::shared_ptr<audition::TapReader> m_reader;
    audition::TapBlock m_block;
    std::size_t m_run = 0, m_longest = 0;
};

/// Waits until a tone of a whole cycle in 48 frames, or nearly, has another level than in its first cycles.
class LevelMoves {
public:
    explicit LevelMoves(std::shared_ptr<audition::TapReader> reader) : m_reader(std::move(reader))
    {
        while (m_reader->take(m_block)) {
        }
        while (m_cycles < 20)
            look();
    }
    void wait()
    {
        while (!m_moved)
            look();
    }

private:
    void look()
    {
        while (m_reader->take(m_block))
            for (std::size_t i = 0; i < m_block.frames; ++i) {
                m_peak = std::max(m_peak, std::abs(m_block.left[i]));
                if (++m_frames % 48 != 0)
                    continue;
                const float peak = std::exchange(m_peak, 0.0F);
                if (++m_cycles < 20)
                    m_level = peak;
                else
                    m_moved = m_moved || std::abs(peak - m_level) > 0.05F * m_level;
            }
        std::this_thread::sleep_for(200us);
    }

    std::shared_ptr<audition::TapReader> m_reader;
    audition::TapBlock m_block;
    std::size_t m_frames = 0, m_cycles = 0;
    float m_peak = 0, m_level = 0;
    bool m_moved = false;
};

} // namespace

int main(int argc, char** argv)
{
    const int times = argc > 1 ? std::atoi(argv[1]) : 20;
    const hosting::Location equaliser{"lv2:urn:honest-rack:specimens:tidepool-equaliser",
                                      std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2"};
    const auto values = processors::defaultValues((*hosting::openInstance(equaliser))->info());
    double alone_ms = 0;
    for (int i = 0; i < times; ++i) {
        const auto begun = std::chrono::steady_clock::now();
        auto instance = hosting::openInstance(equaliser, {.channels = hosting::Channels::Stereo});
        (void)(*instance)->start({rate_hz, 256}, values);
        alone_ms += msSince(begun) / times;
    }
    std::printf("opening and starting one alone: %.1f ms (1.00)\n", alone_ms);

    audition::Engine engine(rate_hz);
    const auto device = audition::openSilentDevice(rate_hz);
    (void)device->start([&](float* out, std::size_t frames) { engine.render(out, frames); });
    GapMeter gap(engine.listen(audition::TapPoint::Sum, audition::no_contender, 1024));
    const auto low = toneOf(997);
    const auto high = toneOf(1499);
    audition::ContenderId next = 10;
    const auto one = [&] { return audition::ContenderSpec{next++, 1, equaliser, values, 0.0}; };
    audition::Scene scene{low, low->whole(), {one(), one(), one()}};
    engine.hear(scene.contenders.front().id);
    const auto settle = [&] {
        while (!engine.isSettled()) {
            engine.applyPending();
            gap.look();
            std::this_thread::sleep_for(1ms);
        }
    };
    engine.setScene(scene);
    settle();
    engine.play();
    std::this_thread::sleep_for(300ms);
    gap.look();
    (void)gap.takeLongest();

    const std::vector<std::pair<const char*, std::function<void()>>> changes{
        {"add one", [&] { scene.contenders.push_back(one()); }},
        {"remove one", [&] { scene.contenders.erase(scene.contenders.begin() + 1); }},
        {"another build of what is audible", [&] { ++scene.contenders.front().generation; }},
        {"another order", [&] { std::swap(scene.contenders[1], scene.contenders[2]); }},
        {"another section",
         [&] {
             scene.loop =
                 scene.loop.first == 0 ? audition::Section{48000, 96000} : audition::Section{0, 144000};
         }},
        {"another source", [&] { scene.source = scene.source == low ? high : low; }},
        {"another position", [] {}}};
    for (const auto& [what, change] : changes) {
        double longest_ms = 0, sum_ms = 0;
        for (int i = 0; i < times; ++i) {
            if (scene.contenders.size() < 3)
                scene.contenders.push_back(one());
            else if (scene.contenders.size() > 5)
                scene.contenders.resize(3);
            engine.setScene(scene);
            settle();
            gap.look();
            (void)gap.takeLongest();
            change();
            const auto begun = std::chrono::steady_clock::now();
            engine.setScene(scene, what == changes.back().first ? std::optional(scene.loop.first + 20000)
                                                                : std::nullopt);
            settle();
            const double took_ms = msSince(begun);
            longest_ms = std::max(longest_ms, took_ms);
            sum_ms += took_ms;
            std::this_thread::sleep_for(100ms);
            gap.look();
        }
        const std::size_t silent = gap.takeLongest();
        std::printf("%-34s mean %6.1f ms (%.2f), longest %6.1f ms, gap %zu frames\n", what, sum_ms / times,
                    sum_ms / times / alone_ms, longest_ms, silent > 1 ? silent : 0);
    }
    scene.contenders = {{1, 1, {}, {}, 0.0}, {2, 1, {"reference:gain", {}}, {-6}, 0.0}};
    engine.setScene(scene);
    settle();
    const auto sum = engine.listen(audition::TapPoint::Sum, audition::no_contender, 1024);
    int turn = 0;
    const std::vector<std::pair<const char*, std::function<void()>>> keys{
        {"the key that switches", [&] { engine.hear(1 + static_cast<audition::ContenderId>(turn % 2)); }},
        {"a parameter", [&] { engine.setParameter(2, 0, turn % 2 == 0 ? -12 : -6); }}};
    for (const auto& [what, press] : keys) {
        engine.hear(2);
        double longest_ms = 0, sum_ms = 0;
        for (turn = 0; turn < times; ++turn) {
            std::this_thread::sleep_for(150ms);
            LevelMoves moves(sum);
            const auto begun = std::chrono::steady_clock::now();
            press();
            moves.wait();
            const double took_ms = msSince(begun);
            longest_ms = std::max(longest_ms, took_ms);
            sum_ms += took_ms;
        }
        std::printf("%-34s mean %6.1f ms (%.2f), longest %6.1f ms\n", what, sum_ms / times,
                    sum_ms / times / alone_ms, longest_ms);
    }
    std::printf("underruns: %zu\n", engine.underruns());
}

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the meters of Listen cost while it plays: 30 times a second the figures, three pictures as wide as on a
// window of 1280 x 800, against the baseline of loudness alone (a momentary meter by libebur128) on the same
// sound. Usage: bench-meters [SECONDS]
#include "audition/live/gain_history.h"
#include "audition/live/live_levels.h"
#include "audition/live/live_spectrum.h"
#include "signal/generators.h"
#include "theme/theme.h"
#include "widgets/live/live_pictures.h"

#include <QApplication>
#include <QPixmap>
#include <cstdio>
#include <ctime>

using namespace hr;

namespace {

constexpr double rate_hz = 48000;
constexpr int pictures_a_second = 30;

double cpuSeconds()
{
    timespec now{};
    clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &now);
    return static_cast<double>(now.tv_sec) + 1e-9 * static_cast<double>(now.tv_nsec);
}

/// A second of noise in blocks as the engine gives them.
std::vector<audition::TapBlock> second()
{
    const auto noise = signal::gaussianNoise(0.1, static_cast<std::size_t>(rate_hz), 3);
    std::vector<audition::TapBlock> blocks;
    for (std::size_t first = 0; first < noise.size(); first += audition::TapBlock::most_frames) {
        audition::TapBlock block;
        block.source_frame = first;
        block.frames = std::min(audition::TapBlock::most_frames, noise.size() - first);
        for (std::size_t i = 0; i < block.frames; ++i)
            block.left[i] = block.right[i] = static_cast<float>(noise[first + i]);
        blocks.push_back(block);
    }
    return blocks;
}

} // namespace

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    app::Theme::apply(application, app::ThemeName::Paper);
    const int seconds = argc > 1 ? std::atoi(argv[1]) : 10;
    const auto blocks = second();

    double began = cpuSeconds();
    signal::StereoMeter loudness(rate_hz, signal::Figures::Momentary);
    for (int s = 0; s < seconds; ++s)
        for (const auto& block : blocks)
            loudness.add(block.left.data(), block.right.data(), block.frames);
    const double baseline = (cpuSeconds() - began) / seconds;

    audition::LiveLevels levels(rate_hz);
    audition::LiveSpectrum in(rate_hz);
    audition::LiveSpectrum out(rate_hz);
    audition::GainHistory gain(rate_hz, 8);
    app::SpectrumPicture spectrum;
    app::GainPicture history;
    app::StereoPicture stereo;
    spectrum.resize(370, 166);
    history.resize(370, 166);
    stereo.resize(130, 166);
    began = cpuSeconds();
    for (int s = 0; s < seconds; ++s) {
        std::size_t next = 0;
        for (int picture = 0; picture < pictures_a_second; ++picture) {
            for (; next < blocks.size() * static_cast<std::size_t>(picture + 1) / pictures_a_second; ++next) {
                levels.add(blocks[next]);
                in.add(blocks[next]);
                out.add(blocks[next]);
                gain.addInput(blocks[next]);
                gain.addOutput(blocks[next]);
            }
            in.update();
            out.update();
            (void)levels.read();
            spectrum.show(&in, &out, 1);
            history.show(&gain, 1);
            stereo.show(&levels, 1);
            for (QWidget* widget : {static_cast<QWidget*>(&spectrum), static_cast<QWidget*>(&history),
                                    static_cast<QWidget*>(&stereo)})
                (void)widget->grab();
        }
    }
    const double meters = (cpuSeconds() - began) / seconds;
    std::printf(
        "loudness alone (baseline): %.2f %% of a core\nmeters with pictures: %.1f %% of a core, %.0f times "
        "the baseline\n",
        100 * baseline, 100 * meters, meters / baseline);
}

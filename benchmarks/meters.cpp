// SPDX-License-Identifier: GPL-3.0-or-later
//
// What live views cost while it plays: 30 times a second the figures, and every picture as large as in a window
// of 1280 x 800, against the baseline of loudness alone (a momentary meter by libebur128) on the same sound.
// Usage: bench-meters [SECONDS]
#include "audition/live/live_pitch.h"
#include "pages/live/live_overviews.h"
#include "pages/live/live_pictures.h"
#include "signal/generators.h"
#include "theme/theme.h"

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

/// What is measured live, and the pictures of it, as large as the live view shows them.
struct Pictures {
    audition::LiveLevels levels{rate_hz};
    audition::LiveSpectrum in{rate_hz};
    audition::LiveSpectrum out{rate_hz};
    audition::GainHistory gain{rate_hz, 8};
    audition::LiveHistory history;
    audition::LoopWave wave{{0, static_cast<std::size_t>(rate_hz)}};
    audition::LivePitch pitch{rate_hz};

    app::SpectrumPicture spectrum;
    app::StereoPicture stereo;
    app::DifferencePicture difference;
    app::SpectrogramPicture spectrogram;
    app::WavePicture waves;
    app::LevelDotsPicture dots;
    app::LoudnessPicture loudness;
    app::GainPicture gains;

    struct Drawn {
        const char* name;
        QWidget* picture;
        double spent_s;
    };
    std::vector<Drawn> all{{"spectrum", &spectrum, 0},     {"stereo", &stereo, 0},
                           {"difference", &difference, 0}, {"spectrogram", &spectrogram, 0},
                           {"in and out", &waves, 0},      {"levels", &dots, 0},
                           {"loudness", &loudness, 0},     {"gain", &gains, 0}};

    Pictures()
    {
        for (const Drawn& one : all)
            one.picture->resize(280, 160);
        spectrum.resize(580, 160);
        difference.resize(420, 160);
        spectrogram.resize(420, 160);
    }
    void add(const audition::TapBlock& block)
    {
        levels.add(block);
        in.add(block);
        out.add(block);
        gain.addInput(block);
        gain.addOutput(block);
        wave.addInput(block);
        wave.addOutput(block);
        pitch.add(block);
    }
    void show()
    {
        in.update();
        out.update();
        history.add(levels, out);
        (void)pitch.read();
        spectrum.show(&in, &out, 1);
        stereo.show(&levels, 1);
        difference.show(&in, &out, 1);
        spectrogram.show(&history);
        waves.show(&wave, 1);
        dots.show(&gain, 1);
        loudness.show(&history, 1);
        gains.show(&gain, 1);
    }
};

/// Seconds of processor time a second, pictures_a_second times all of it.
double costOf(Pictures& pictures, const std::vector<audition::TapBlock>& blocks, int seconds)
{
    const double began = cpuSeconds();
    for (int s = 0; s < seconds; ++s) {
        std::size_t next = 0;
        for (int picture = 0; picture < pictures_a_second; ++picture) {
            for (; next < blocks.size() * static_cast<std::size_t>(picture + 1) / pictures_a_second; ++next)
                pictures.add(blocks[next]);
            pictures.show();
            for (auto& one : pictures.all) {
                const double before = cpuSeconds();
                (void)one.picture->grab();
                one.spent_s += cpuSeconds() - before;
            }
        }
    }
    return (cpuSeconds() - began) / seconds;
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

    Pictures pictures;
    const double views = costOf(pictures, blocks, seconds);
    std::printf(
        "loudness alone (baseline): %.2f %% of a core\nall figures with their pictures: %.1f %% of a core, "
        "%.0f times the baseline\n",
        100 * baseline, 100 * views, views / baseline);
    for (const auto& [name, picture, spent_s] : pictures.all)
        std::printf("  %-12s %.1f %%\n", name, 100 * spent_s / seconds);
}

// SPDX-License-Identifier: GPL-3.0-or-later
#include "loop_canvas.h"
#include "signal/biquad.h"
#include "sources.h"

#include <array>
#include <cmath>
#include <numbers>
#include <string_view>

namespace demo {

namespace {

/// What the mouth does for one sound: three formants, or noise around one frequency.
struct Sound {
    char letter;
    bool voiced;
    std::array<double, 3> formants_hz;
    double length_s;
    double gain;
};

constexpr std::array sounds{
    Sound{'a', true, {730, 1190, 2550}, 0.15, 1.0},  Sound{'e', true, {520, 1850, 2500}, 0.12, 0.9},
    Sound{'i', true, {290, 2250, 3000}, 0.11, 0.8},  Sound{'o', true, {480, 850, 2420}, 0.15, 1.0},
    Sound{'u', true, {310, 860, 2250}, 0.12, 0.8},   Sound{'m', true, {260, 1100, 2200}, 0.07, 0.45},
    Sound{'l', true, {350, 1300, 2700}, 0.06, 0.6},  Sound{'r', true, {400, 1200, 1650}, 0.06, 0.6},
    Sound{'s', false, {6200, 7800, 0}, 0.11, 0.32},  Sound{'h', false, {2600, 3600, 0}, 0.10, 0.25},
    Sound{'f', false, {4000, 8500, 0}, 0.08, 0.12},  Sound{'t', false, {4200, 6000, 0}, 0.03, 0.5},
    Sound{'k', false, {1900, 3000, 0}, 0.035, 0.45},
};

const Sound& soundOf(char letter)
{
    for (const Sound& s : sounds)
        if (s.letter == letter)
            return s;
    return sounds[0];
}

/// The throat: a falling line of pitch through the phrase, pulses rounded off above a few hundred Hz.
class Throat {
public:
    double next(double phrase_position)
    {
        const double f =
            128 - 34 * phrase_position + 6 * std::sin(2 * std::numbers::pi * 3.1 * phrase_position);
        m_phase += f / rate_hz;
        m_phase -= std::floor(m_phase);
        // Rosenberg 1971: opening, closing, closed; its derivative is what the mouth radiates.
        const double x = m_phase;
        const double flow = x < 0.4    ? 0.5 * (1 - std::cos(std::numbers::pi * x / 0.4))
                            : x < 0.56 ? std::cos(std::numbers::pi / 2 * (x - 0.4) / 0.16)
                                       : 0;
        const double out = flow - m_last;
        m_last = flow;
        return 6 * out;
    }

private:
    double m_phase = 0, m_last = 0;
};

void speakPhrase(LoopCanvas& canvas, double start_s, std::string_view letters, std::uint64_t seed)
{
    Throat throat;
    double at_s = start_s;
    const double phrase_s = 0.11 * static_cast<double>(letters.size());
    std::array<hr::signal::BiquadState, 3> mouth{};
    for (const char letter : letters) {
        if (letter == ' ') {
            at_s += 0.06;
            continue;
        }
        const Sound& sound = soundOf(letter);
        std::array<hr::signal::Biquad, 3> shape{};
        for (std::size_t k = 0; k < 3; ++k)
            if (sound.formants_hz[k] > 0)
                shape[k] = hr::signal::lowPass(sound.formants_hz[k], sound.voiced ? 9.0 : 3.0, rate_hz);
        // Each sound overlaps the next a little, as speech does.
        const double length_s = sound.length_s + 0.025;
        canvas.add(at_s, length_s, 0, sound.gain, [&](double t) {
            const double position = (at_s - start_s + t) / phrase_s;
            const double envelope = blown(t, length_s, 0.02, 0.03);
            if (!sound.voiced) {
                const double noise = grain(seed + static_cast<std::uint64_t>((at_s + t) * rate_hz));
                const double band = mouth[0].next(shape[0], noise);
                return envelope *
                       (band -
                        mouth[1].next(hr::signal::lowPass(sound.formants_hz[0] / 2, 0.7, rate_hz), band));
            }
            const double source = throat.next(position);
            return envelope * (mouth[0].next(shape[0], source) + 0.5 * mouth[1].next(shape[1], source) +
                               0.25 * mouth[2].next(shape[2], source));
        });
        at_s += sound.length_s;
    }
}

} // namespace

hr::signal::AudioBuffer spokenGuide()
{
    LoopCanvas canvas(12);
    speakPhrase(canvas, 0.3, "uelkom abort se ifenim krosim", 101);
    speakPhrase(canvas, 4.1, "on hor left iu si se olt karbor lait", 202);
    speakPhrase(canvas, 8.2, "is uas lit brait as setim as a star", 303);
    canvas.addRoom(0.35, 0.22, 21);
    canvas.addNoise(4e-5, 31);
    return canvas.finished(-23);
}

} // namespace demo

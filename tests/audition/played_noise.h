// SPDX-License-Identifier: GPL-3.0-or-later
//
// Noise that is played by an engine, and compared with itself sample by sample.
#pragma once

#include "audition/driven_engine.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/safety_limiter.h"

namespace hr::test {

inline constexpr std::size_t late = signal::SafetyLimiter::latency_frames;
inline constexpr std::size_t crossfade = 480;

inline std::shared_ptr<const audition::Source> noiseSource(unsigned seed = 1, std::size_t frames = 48000,
                                                           double rate_hz = 48000)
{
    return std::make_shared<audition::Source>(
        signal::onChannels(signal::gaussianNoise(0.05, frames, seed), 2, rate_hz));
}

/// Of its fault, or a second that has passed without one.
inline bool waitForFault(DrivenEngine& driven, audition::ContenderId id)
{
    for (int i = 0; i < 500; ++i) {
        for (const auto& state : driven.engine.states())
            if (state.id == id && state.fault)
                return true;
        (void)driven.pull(256);
        QTest::qSleep(2);
    }
    return false;
}

class PlayedNoise : public QObject {
protected:
    std::shared_ptr<const audition::Source> m_noise = noiseSource();
    signal::AudioBuffer m_sound = soundOf(*m_noise);

    static audition::ContenderSpec gain(audition::ContenderId id, double gain_db, double matched_db = 0)
    {
        return contender(id, {"reference:gain", {}}, {gain_db}, matched_db);
    }
    /// Its processor takes its time to start.
    static audition::ContenderSpec slow(audition::ContenderId id, std::uint32_t generation = 1)
    {
        auto spec = contender(id, test::faultyAt("slow-to-start"), {0});
        spec.generation = generation;
        return spec;
    }
    /// That `out`, which begins at this frame of the noise, is the noise at this level throughout.
    void isTheNoise(const std::vector<float>& out, std::size_t from, double level_db, const char* what,
                    double tolerance = 1e-6)
    {
        QVERIFY2(!out.empty(), what);
        const double level = signal::dbToLinear(level_db);
        for (std::size_t i = 0; i < out.size() / 2; ++i) {
            const double expected =
                level * m_sound.channel(0)[(from + i + m_noise->frames() - late) % m_noise->frames()];
            QVERIFY2(std::abs(out[2 * i] - expected) < tolerance,
                     qPrintable(QStringLiteral("%1: frame %2 is %3 instead of %4")
                                    .arg(QLatin1String(what))
                                    .arg(i)
                                    .arg(out[2 * i])
                                    .arg(expected)));
        }
    }

    /// That the next frames are the noise, from where it is.
    void playsTheNoise(DrivenEngine& driven, double level_db, const char* what)
    {
        const std::size_t at = driven.engine.position();
        isTheNoise(driven.pull(4800), at, level_db, what);
    }
};

} // namespace hr::test

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/warm_up.h"

#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double waking_tone_hz = 1000;
constexpr double short_tone_s = 0.3;
constexpr double long_tone_s = 4;
constexpr double waking_step_s = 0.01;
/// There is an answer where it stands no further below what it becomes, and all of it where it is so close.
constexpr double answers_db = -20;
constexpr double wide_awake_db = -0.1;
/// What a sweep from 10 Hz does not miss.
constexpr double least_waking_s = 0.05;
constexpr double waking_margin_s = 0.2;
constexpr double awake_silence_s = 0.1;

/// Levels of the loudest output, one for each step of a tone and of as much silence after it.
struct ToneAnswer {
    std::vector<double> level_db;
    std::size_t tone_steps = 0;

    double becomesDb() const { return level_db[tone_steps - 1]; }
    bool isThere(std::size_t step, double within_db) const { return level_db[step] > becomesDb() + within_db; }
};

FaultOr<ToneAnswer> answerTo(Subject& subject, double level_dbfs, double tone_s)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto step = static_cast<std::size_t>(waking_step_s * rate_hz);
    ToneAnswer answer;
    answer.tone_steps = static_cast<std::size_t>(std::lround(tone_s / waking_step_s));
    auto tone = signal::sine(waking_tone_hz, signal::dbToLinear(level_dbfs), rate_hz, answer.tone_steps * step);
    tone.resize(2 * tone.size());
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    const auto out = subject.process(tone);
    if (!out)
        return tl::make_unexpected(out.error());
    answer.level_db.assign(2 * answer.tone_steps, -200);
    for (std::size_t c = 0; c < out->channels(); ++c)
        for (std::size_t i = 0; i < answer.level_db.size(); ++i)
            answer.level_db[i] =
                std::max(answer.level_db[i], signal::rmsDbfs(out->channel(c).subspan(i * step, step)));
    return answer;
}

} // namespace

FaultOr<double> warmUpTime(Subject& subject, double level_dbfs)
{
    if (subject.known_warm_up_s)
        return *subject.known_warm_up_s;
    subject.known_warm_up_s = 0;
    if (subject.info().audio_in == 0 || subject.info().audio_out == 0)
        return 0;
    const auto brief = answerTo(subject, level_dbfs, short_tone_s);
    if (!brief)
        return tl::make_unexpected(brief.error());
    const auto soon = static_cast<std::size_t>(least_waking_s / waking_step_s);
    if (brief->becomesDb() > -200 && brief->isThere(soon, answers_db))
        return 0;
    const auto answer = answerTo(subject, level_dbfs, long_tone_s);
    if (!answer)
        return tl::make_unexpected(answer.error());
    if (answer->becomesDb() <= -200)
        return 0;
    std::size_t begins = 0;
    while (!answer->isThere(begins, answers_db))
        ++begins;
    // What is late ends as late as it began.
    std::size_t ends = answer->tone_steps;
    while (ends < answer->level_db.size() && answer->isThere(ends, answers_db))
        ++ends;
    if (begins <= ends - answer->tone_steps + soon)
        return 0;
    std::size_t awake = answer->tone_steps;
    while (awake > 0 && answer->isThere(awake - 1, wide_awake_db))
        --awake;
    subject.known_warm_up_s = static_cast<double>(awake) * waking_step_s + waking_margin_s;
    return *subject.known_warm_up_s;
}

std::vector<double> warmUpSound(double level_dbfs, double seconds, double rate_hz)
{
    auto sound =
        signal::gaussianNoise(signal::dbToLinear(level_dbfs), static_cast<std::size_t>(seconds * rate_hz), 5);
    sound.resize(sound.size() + static_cast<std::size_t>(awake_silence_s * rate_hz));
    return sound;
}

} // namespace hr::bench

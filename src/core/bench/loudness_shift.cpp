// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/loudness_shift.h"

#include "signal/levels.h"
#include "signal/loudness.h"

#include <algorithm>

namespace hr::bench {

namespace {

std::optional<double> difference(const std::optional<double>& after, const std::optional<double>& before)
{
    return after && before ? std::optional(*after - *before) : std::nullopt;
}

/// Peak over RMS of all channels together; empty for silence.
std::optional<double> crestOfAllDb(const signal::AudioBuffer& sound)
{
    double peak_dbfs = signal::no_level_db;
    double power = 0;
    for (std::size_t c = 0; c < sound.channels(); ++c) {
        peak_dbfs = std::max(peak_dbfs, signal::peakDbfs(sound.channel(c)));
        power += signal::meanSquare(sound.channel(c)) / static_cast<double>(sound.channels());
    }
    return power > 0 ? std::optional(peak_dbfs - signal::powerToDb(power)) : std::nullopt;
}

} // namespace

const std::vector<FigureInfo>& loudnessShiftFigures()
{
    const std::string loud_enough = "where the output is loud enough to have a loudness";
    static const std::vector<FigureInfo> figures{{"shift_lu",
                                                  "loudness shift",
                                                  "LU",
                                                  2,
                                                  Better::NearZero,
                                                  {0.1, 0},
                                                  "programme loudness out against in, with the programme",
                                                  "ITU-R BS.1770-4",
                                                  loud_enough,
                                                  FigureShape::Number,
                                                  true},
                                                 {"true_peak_change_db",
                                                  "true peak change",
                                                  "dB",
                                                  2,
                                                  Better::Neither,
                                                  {0.3, 0},
                                                  "out against in",
                                                  "ITU-R BS.1770-4, annex 2",
                                                  loud_enough},
                                                 {"crest_change_db",
                                                  "crest change",
                                                  "dB",
                                                  2,
                                                  Better::Neither,
                                                  {0.1, 0},
                                                  "peak over RMS, out against in",
                                                  {},
                                                  loud_enough},
                                                 {"lra_change_lu",
                                                  "change of loudness range",
                                                  "LU",
                                                  2,
                                                  Better::Neither,
                                                  {1, 0},
                                                  "out against in",
                                                  "EBU Tech 3342",
                                                  loud_enough}};
    return figures;
}

hosting::FaultOr<Reading> measureLoudnessShift(Subject& subject)
{
    const std::size_t inputs = std::max<std::size_t>(1, subject.info().audio_in);
    const Stimulus music{.main = programmeFor(subject.conditions(), inputs)};
    if (auto ready = subject.restart(); !ready)
        return tl::make_unexpected(ready.error());
    if (auto warm = subject.process(music); !warm)
        return tl::make_unexpected(warm.error());
    auto out = subject.process(music);
    if (!out)
        return tl::make_unexpected(out.error());

    // What went in, on as many channels as came out.
    signal::AudioBuffer in(out->channels(), out->frames(), subject.conditions().sample_rate_hz);
    for (std::size_t c = 0; c < in.channels(); ++c)
        std::ranges::transform(music.main[c % inputs], in.channel(c).begin(),
                               [](double sample) { return static_cast<float>(sample); });
    const signal::Loudness before = signal::measureLoudness(in);
    const signal::Loudness after = signal::measureLoudness(*out);
    Reading reading;
    const std::string silent = "what comes out is too soft for a loudness";
    reading.put("shift_lu", difference(after.integrated_lufs, before.integrated_lufs), silent);
    reading.put("true_peak_change_db", difference(after.true_peak_dbtp, before.true_peak_dbtp), silent);
    reading.put("crest_change_db", difference(crestOfAllDb(*out), crestOfAllDb(in)), silent);
    reading.put("lra_change_lu", difference(after.range_lu, before.range_lu), silent);
    reading.series["momentary_in"] = {"time_s", "momentary_lufs", signal::momentaryOverTime(in)};
    reading.series["momentary_out"] = {"time_s", "momentary_lufs", signal::momentaryOverTime(*out)};
    return reading;
}

} // namespace hr::bench

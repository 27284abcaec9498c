// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/key_input.h"

#include "bench/timing.h"
#include "bench/transfer.h"

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double key_tone_hz = 1000;

/// `part` as a group of `reading`.
void putPart(Reading& reading, const std::string& name, const Reading& part)
{
    reading.putGroup(name, part);
    for (const auto& [key, curve] : part.series)
        reading.series[key] = curve;
}

} // namespace

const std::vector<FigureInfo>& keyInputFigures()
{
    const std::string keyed = "where it has a key input";
    static const std::vector<FigureInfo> figures{
        {.key = "transfer",
         .name = "levels on the key",
         .definition =
             "the figures of transfer, with the steps on the key and a steady tone on the main inputs",
         .applies = keyed,
         .shape = FigureShape::Numbers},
        {.key = "timing",
         .name = "times on the key",
         .definition = "the figures of timing, with the steps on the key and a steady tone on the main inputs",
         .applies = keyed,
         .shape = FigureShape::Numbers}};
    return figures;
}

FaultOr<Reading> measureKeyInput(Subject& subject)
{
    Reading reading;
    if (subject.info().key_in == 0) {
        putNone(reading, keyInputFigures(), "it has no key input");
        reading.applies = false;
        return reading;
    }
    SteppedTone tone(subject, subject.conditions().frequency_hz.value_or(key_tone_hz), SteppedInput::Key);
    auto levels = settleLevels(subject, tone);
    if (!levels)
        return tl::make_unexpected(levels.error());
    Reading transfer;
    putLevels(transfer, *levels);
    Timed timing;
    if (auto done = putTiming(timing, subject, tone, *levels); !done)
        return tl::make_unexpected(done.error());
    putPart(reading, "transfer", transfer);
    putPart(reading, "timing", timing.reading);
    return reading;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/conditions.h"

#include "bench/figure_text.h"
#include "bench/programme.h"
#include "hosting/instance.h"
#include "signal/audio_file.h"
#include "signal/hash.h"
#include "signal/resample.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace hr::bench {

std::string Conditions::identity() const
{
    const auto orNull = [](const std::optional<double>& value) {
        return value ? nlohmann::json(*value) : nlohmann::json(nullptr);
    };
    nlohmann::json all{sample_rate_hz,       block_frames,      orNull(level_dbfs),
                       orNull(frequency_hz), orNull(tempo_bpm), key == KeyFeed::OwnInput};
    if (programme)
        all.push_back(programme->identity);
    return all.dump();
}

const std::vector<processors::ParameterInfo>& conditionRanges()
{
    static const std::vector<processors::ParameterInfo> ranges = [] {
        const auto range = [](const char* key, const char* name, const char* unit, double minimum,
                              double maximum) {
            processors::ParameterInfo info;
            info.key = key;
            info.name = name;
            info.unit = unit;
            info.minimum = minimum;
            info.maximum = maximum;
            return info;
        };
        return std::vector{range("rate", "Sample rate", "Hz", 8000, 384000),
                           range("block", "Block", "frames", 1, static_cast<double>(hosting::stretch_frames)),
                           range("level", "Level", "dBFS", -120, 24),
                           range("frequency", "Frequency", "Hz", 10, 192000),
                           range("tempo", "Tempo", "BPM", 1, 999)};
    }();
    return ranges;
}

std::optional<Unfit> unfit(const Conditions& conditions)
{
    const std::optional<double> values[]{conditions.sample_rate_hz,
                                         static_cast<double>(conditions.block_frames), conditions.level_dbfs,
                                         conditions.frequency_hz, conditions.tempo_bpm};
    for (std::size_t i = 0; i < conditionRanges().size(); ++i) {
        const processors::ParameterInfo& range = conditionRanges()[i];
        if (values[i] && !(*values[i] >= range.minimum && *values[i] <= range.maximum))
            return Unfit{range.key, "takes " + std::to_string(std::lround(range.minimum)) + " to " +
                                        std::to_string(std::lround(range.maximum)) + ' ' + range.unit};
    }
    if (conditions.frequency_hz && *conditions.frequency_hz >= conditions.sample_rate_hz / 2)
        return Unfit{"frequency", "takes 10 Hz to half the sample rate"};
    return std::nullopt;
}

Result<std::shared_ptr<const Passage>> passageOf(const std::string& title, const signal::AudioBuffer& sound,
                                                 double sample_rate_hz)
{
    if (sound.frames() == 0)
        return wrongRequest("There is nothing of " + title + " to measure with.");
    if (sound.seconds() > Passage::longest_s)
        return wrongRequest("Two minutes can be measured with, and " + title +
                            " is longer: choose a section of it.");
    auto passage = std::make_shared<Passage>();
    passage->title = title;
    passage->sound = signal::resampled(signal::toStereo(sound), sample_rate_hz);
    const auto samples = std::as_const(passage->sound).samples();
    passage->identity =
        signal::hashText(signal::hashOf({reinterpret_cast<const char*>(samples.data()), samples.size_bytes()}));
    return passage;
}

Result<std::shared_ptr<const Passage>> readPassage(const std::filesystem::path& file, double first_s,
                                                   double end_s, double sample_rate_hz)
{
    auto reader = signal::AudioFileReader::open(file);
    if (!reader)
        return tl::make_unexpected(reader.error());
    const double rate_hz = reader->sampleRateHz();
    const auto length_s = static_cast<double>(reader->frames()) / rate_hz;
    const double last_s = end_s > 0 ? std::min(end_s, length_s) : length_s;
    const std::string name = file.filename().string();
    if (!(first_s >= 0 && first_s < last_s))
        return wrongRequest("There is nothing of " + name + " between these places: it is " +
                            numberText(length_s, 1) + " s long.");
    // A little more than can be taken, so that it is refused as too long.
    const double read_s = std::min(last_s - first_s, Passage::longest_s + 1);
    const auto first = static_cast<std::size_t>(std::lround(first_s * rate_hz));
    const auto frames = static_cast<std::size_t>(std::lround(read_s * rate_hz));
    std::vector<float> interleaved(frames * reader->channels());
    std::size_t got = 0;
    if (first == 0 || reader->seek(first))
        for (std::size_t now = 1; got < frames && now > 0; got += now)
            now = reader->read(interleaved.data() + got * reader->channels(), frames - got);
    if (got == 0)
        return wrongRequest(name + " cannot be read from " + numberText(first_s, 1) + " s on.");
    signal::AudioBuffer sound(reader->channels(), got, rate_hz);
    for (std::size_t c = 0; c < sound.channels(); ++c)
        for (std::size_t i = 0; i < got; ++i)
            if (const float sample = interleaved[i * reader->channels() + c]; std::isfinite(sample))
                sound.channel(c)[i] = sample;
    const bool whole = first == 0 && last_s >= length_s;
    return passageOf(whole ? name
                           : name + ", " + numberText(first_s, 2) + " to " + numberText(last_s, 2) + " s",
                     sound, sample_rate_hz);
}

std::vector<std::vector<double>> programmeFor(const Conditions& conditions, std::size_t channels)
{
    if (!conditions.programme)
        return {channels, programme(conditions.sample_rate_hz)};
    const signal::AudioBuffer& sound = conditions.programme->sound;
    std::vector<std::vector<double>> all;
    for (std::size_t c = 0; c < channels; ++c) {
        const auto one = sound.channel(c % sound.channels());
        all.emplace_back(one.begin(), one.end());
    }
    if (channels == 1 && sound.channels() == 2)
        for (std::size_t i = 0; i < sound.frames(); ++i)
            all[0][i] = (all[0][i] + static_cast<double>(sound.channel(1)[i])) / 2;
    return all;
}

} // namespace hr::bench

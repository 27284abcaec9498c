// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/compare_on.h"

#include "bench/programme.h"
#include "processors/settings.h"
#include "signal/audio_file.h"
#include "signal/generators.h"

#include <algorithm>
#include <cassert>
#include <limits>

namespace hr::audition {

namespace {

namespace fs = std::filesystem;

constexpr double programme_rate_hz = 48000;

double apartDb(const Comparison& comparison)
{
    constexpr double endless = std::numeric_limits<double>::infinity();
    return comparison.residual_db.value_or(comparison.same ? -endless : endless);
}

} // namespace

std::vector<ComparedSound> soundsIn(const fs::path& folder)
{
    std::vector<ComparedSound> sounds;
    std::error_code failed;
    for (const auto& file : fs::directory_iterator(folder, failed))
        if (file.path().extension() == ".wav")
            if (auto sound = signal::readAudioFile(file.path()); sound && sound->channels() <= 2)
                sounds.push_back({file.path(), std::move(*sound)});
    std::ranges::sort(sounds, {}, &ComparedSound::file);
    if (sounds.empty())
        sounds.push_back({{}, signal::onChannels(bench::programme(programme_rate_hz), 2, programme_rate_hz)});
    return sounds;
}

hosting::FaultOr<std::vector<signal::AudioBuffer>> heardOn(const std::vector<ComparedSound>& sounds,
                                                           const hosting::Location& location,
                                                           std::span<const double> values,
                                                           const std::stop_token& cancel)
{
    auto instance = hosting::openInstance(location, {.channels = hosting::Channels::Stereo, .cancel = cancel});
    if (!instance)
        return tl::make_unexpected(instance.error());
    const auto defaults = processors::defaultValues((*instance)->info());
    std::vector<signal::AudioBuffer> heard;
    for (const ComparedSound& one : sounds) {
        auto sound = heardThrough(**instance, values.empty() ? defaults : values, one.sound);
        if (!sound)
            return tl::make_unexpected(sound.error());
        heard.push_back(std::move(*sound));
    }
    return heard;
}

MostApart mostApart(const std::vector<signal::AudioBuffer>& first,
                    const std::vector<signal::AudioBuffer>& second, const std::stop_token& cancel)
{
    assert(!first.empty() && first.size() == second.size());
    MostApart most{compare(first.front(), second.front(), cancel), 0};
    for (std::size_t i = 1; i < first.size() && !cancel.stop_requested(); ++i)
        if (const Comparison one = compare(first[i], second[i], cancel);
            apartDb(one) > apartDb(most.comparison))
            most = {one, i};
    return most;
}

} // namespace hr::audition

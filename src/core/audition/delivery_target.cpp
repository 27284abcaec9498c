// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/delivery_target.h"

#include "processors/json_text.h"
#include "signal/regular_file.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hr::audition {

namespace {

constexpr std::uintmax_t longest_target_bytes = 1 << 20;

struct Checkable {
    const char* key;
    bool follows_gain;
    std::optional<double> (*of)(const DeliveredFile& file);
};

constexpr std::array<Checkable, 10> checkable{
    {{"integrated_lufs", true, [](const DeliveredFile& f) { return f.loudness.integrated_lufs; }},
     {"momentary_max_lufs", true, [](const DeliveredFile& f) { return f.loudness.momentary_max_lufs; }},
     {"short_term_max_lufs", true, [](const DeliveredFile& f) { return f.loudness.short_term_max_lufs; }},
     {"range_lu", false, [](const DeliveredFile& f) { return f.loudness.range_lu; }},
     {"true_peak_dbtp", true, [](const DeliveredFile& f) { return f.loudness.true_peak_dbtp; }},
     {"sample_peak_dbfs", true, [](const DeliveredFile& f) { return f.loudness.sample_peak_dbfs; }},
     {"seconds", false, [](const DeliveredFile& f) { return std::optional(f.seconds); }},
     {"channels", false, [](const DeliveredFile& f) { return std::optional(static_cast<double>(f.channels)); }},
     {"sample_rate", false, [](const DeliveredFile& f) { return std::optional(f.sample_rate_hz); }},
     {"bits", false, [](const DeliveredFile& f) {
          return f.bits ? std::optional(static_cast<double>(*f.bits)) : std::nullopt;
      }}}};

const Checkable* checkableOf(const std::string& key)
{
    const auto found = std::ranges::find_if(checkable, [&](const Checkable& one) { return one.key == key; });
    return found == checkable.end() ? nullptr : &*found;
}

Result<DeliveryLimit> limitFrom(const std::string& key, const nlohmann::ordered_json& json)
{
    if (!checkableOf(key))
        return wrongRequest("\"" + key + "\" is no figure that can be checked");
    DeliveryLimit limit{key, {}, {}};
    if (!json.is_object() || json.empty())
        return wrongRequest("\"" + key + "\" must be an object with \"at_least\", \"at_most\" or both");
    for (const auto& [bound, value] : json.items()) {
        if ((bound != "at_least" && bound != "at_most") || !value.is_number() ||
            !std::isfinite(value.get<double>()))
            return wrongRequest("\"" + key + "\" takes \"at_least\" and \"at_most\", which are numbers");
        (bound == "at_least" ? limit.at_least : limit.at_most) = value.get<double>();
    }
    if (limit.at_least && limit.at_most && *limit.at_least > *limit.at_most)
        return wrongRequest("\"" + key + "\" has an \"at_least\" above its \"at_most\"");
    return limit;
}

} // namespace

const std::vector<DeliveryTarget>& shippedTargets()
{
    const DeliveryLimit r128_peak{"true_peak_dbtp", {}, -1.0};
    static const std::vector<DeliveryTarget> targets{
        {"ebu-r128", "EBU R 128, 2023", {{"integrated_lufs", -23.5, -22.5}, r128_peak}},
        {"ebu-r128-s1-short-term",
         "EBU R 128 s1, 2016: short programmes, by short-term loudness",
         {{"integrated_lufs", -23.5, -22.5}, {"short_term_max_lufs", {}, -18.0}, r128_peak}},
        {"ebu-r128-s1-momentary",
         "EBU R 128 s1, 2016: short programmes, by momentary loudness",
         {{"integrated_lufs", -23.5, -22.5}, {"momentary_max_lufs", {}, -15.0}, r128_peak}},
        {"ebu-r128-s2", "EBU R 128 s2, 2021: streaming", {{"integrated_lufs", -20.0, -16.0}, r128_peak}},
        {"atsc-a85", "ATSC A/85, 2013", {{"integrated_lufs", -26.0, -22.0}, {"true_peak_dbtp", {}, -2.0}}},
        {"aes77-speech", "AES77, 2023: speech", {{"integrated_lufs", -19.0, -17.0}, r128_peak}},
        {"aes77-music-tracks", "AES77, 2023: music, by tracks", {{"integrated_lufs", -17.0, -15.0}, r128_peak}},
        {"aes77-music-albums",
         "AES77, 2023: music, loudest track of an album",
         {{"integrated_lufs", {}, -14.0}, r128_peak}},
        {"disc-16-bit",
         "IEC 60908, 1999, with a ceiling for the peaks between its samples",
         {{"true_peak_dbtp", {}, 0.0}, {"sample_rate", 44100.0, 44100.0}, {"bits", 16.0, 16.0}}}};
    return targets;
}

Result<DeliveryTarget> targetFrom(const nlohmann::ordered_json& document)
{
    if (!document.is_object())
        return wrongRequest("it is no JSON object");
    DeliveryTarget target;
    for (const auto& [key, value] : document.items()) {
        if (key == "name" || key == "source") {
            if (!value.is_string())
                return wrongRequest("\"" + key + "\" must be a text");
            (key == "name" ? target.name : target.source) = value.get<std::string>();
            continue;
        }
        auto limit = limitFrom(key, value);
        if (!limit)
            return tl::make_unexpected(limit.error());
        target.limits.push_back(std::move(*limit));
    }
    if (target.name.empty())
        return wrongRequest("it has no \"name\"");
    if (target.limits.empty())
        return wrongRequest("it limits nothing");
    return target;
}

Result<DeliveryTarget> readTarget(const std::filesystem::path& file)
{
    auto text = signal::readRegularFile(file, longest_target_bytes);
    if (!text)
        return tl::make_unexpected(text.error());
    auto target = targetFrom(processors::orderedJsonFrom(*text));
    if (!target)
        return wrongRequest(file.string() + " is no target for delivery: " + target.error().text + ".");
    return target;
}

nlohmann::ordered_json toJson(const DeliveryTarget& target)
{
    nlohmann::ordered_json json{{"name", target.name}, {"source", target.source}};
    for (const DeliveryLimit& limit : target.limits) {
        if (limit.at_least)
            json[limit.figure]["at_least"] = *limit.at_least;
        if (limit.at_most)
            json[limit.figure]["at_most"] = *limit.at_most;
    }
    return json;
}

std::vector<DeliveryCheck> checksOf(const DeliveryTarget& target, const DeliveredFile& file)
{
    std::vector<DeliveryCheck> checks;
    for (const DeliveryLimit& limit : target.limits) {
        const Checkable& figure = *checkableOf(limit.figure);
        DeliveryCheck check{limit, figure.of(file), false, std::nullopt};
        const double below = check.value && limit.at_least ? *limit.at_least - *check.value : 0;
        const double above = check.value && limit.at_most ? *check.value - *limit.at_most : 0;
        check.pass = check.value && below <= 0 && above <= 0;
        if (check.pass)
            check.change_db = 0;
        else if (check.value && figure.follows_gain)
            check.change_db = below > 0 ? below : -above;
        checks.push_back(std::move(check));
    }
    return checks;
}

} // namespace hr::audition

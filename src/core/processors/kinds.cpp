// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/kinds.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <utility>

namespace hr::processors {

namespace {

/// Each with the one above it.
constexpr std::array<std::pair<std::string_view, std::string_view>, 28> kind_tree{{
    {"dynamics", ""},
    {"compressor", "dynamics"},
    {"limiter", "dynamics"},
    {"gate", "dynamics"},
    {"expander", "dynamics"},
    {"de-esser", "dynamics"},
    {"multiband", "dynamics"},
    {"transients", "dynamics"},
    {"equaliser", ""},
    {"filter", ""},
    {"saturation", ""},
    {"distortion", "saturation"},
    {"resolution", "saturation"},
    {"delay", ""},
    {"reverb", ""},
    {"modulation", ""},
    {"chorus", "modulation"},
    {"flanger", "modulation"},
    {"phaser", "modulation"},
    {"tremolo", "modulation"},
    {"vibrato", "modulation"},
    {"pitch", ""},
    {"stereo", ""},
    {"restoration", ""},
    {"spectral", ""},
    {"utility", ""},
    {"meter", "utility"},
    {"generator", "utility"},
}};

/// Beginnings of words (or, with a blank behind, whole ones), the telling ones first: a "multiband compressor"
/// is multiband, a "chorus delay" a chorus.
constexpr std::array<std::pair<std::string_view, std::string_view>, 55> name_tells{{
    {"de-ess", "de-esser"},      {"deess", "de-esser"},       {"multiband", "multiband"},
    {"multi-band", "multiband"}, {"transient", "transients"}, {"declick", "restoration"},
    {"de-click", "restoration"}, {"denois", "restoration"},   {"dehum", "restoration"},
    {"de-hum", "restoration"},   {"chorus", "chorus"},        {"flang", "flanger"},
    {"phaser", "phaser"},        {"tremolo", "tremolo"},      {"vibrato", "vibrato"},
    {"compress", "compressor"},  {"limiter", "limiter"},      {"expand", "expander"},
    {"gate ", "gate"},           {"equali", "equaliser"},     {"eq ", "equaliser"},
    {"reverb", "reverb"},        {"plate ", "reverb"},        {"echo", "delay"},
    {"delay", "delay"},          {"bitcrush", "resolution"},  {"decimat", "resolution"},
    {"crush", "resolution"},     {"distort", "distortion"},   {"overdrive", "distortion"},
    {"fuzz", "distortion"},      {"saturat", "saturation"},   {"exciter", "saturation"},
    {"waveshap", "saturation"},  {"clipper", "distortion"},   {"pitch", "pitch"},
    {"harmoni", "pitch"},        {"stereo", "stereo"},        {"width", "stereo"},
    {"pan ", "stereo"},          {"panner", "stereo"},        {"modulat", "modulation"},
    {"lowpass", "filter"},       {"low pass", "filter"},      {"highpass", "filter"},
    {"high pass", "filter"},     {"bandpass", "filter"},      {"notch", "filter"},
    {"shelv", "equaliser"},      {"filter", "filter"},        {"meter", "meter"},
    {"noise", "generator"},      {"oscillator", "generator"}, {"amplifier", "utility"},
    {"gain ", "utility"},
}};

/// Lower case, everything but letters, digits and hyphens a blank; blanks around it.
std::string plain(std::string_view name)
{
    std::string text = " ";
    for (const char c : name) {
        const auto letter = static_cast<unsigned char>(c);
        text += std::isalnum(letter) || c == '-' ? static_cast<char>(std::tolower(letter)) : ' ';
    }
    return text + ' ';
}

} // namespace

std::string_view kindAbove(std::string_view kind)
{
    const auto found = std::ranges::find(kind_tree, kind, &decltype(kind_tree)::value_type::first);
    return found == kind_tree.end() ? std::string_view() : found->second;
}

const std::vector<std::string>& allKinds()
{
    static const std::vector<std::string> kinds = [] {
        std::vector<std::string> all;
        for (const auto& [kind, above] : kind_tree)
            all.emplace_back(kind);
        return all;
    }();
    return kinds;
}

std::optional<std::string> kindFromWords(std::string_view name)
{
    const std::string text = plain(name);
    for (const auto& [word, kind] : name_tells)
        if (text.find(" " + std::string(word)) != std::string::npos)
            return std::string(kind);
    return std::nullopt;
}

std::string refinedKind(std::string_view kind, std::string_view name)
{
    const auto told = kindFromWords(name);
    if (told && (kind == unplaced_kind || kind.empty() || kindAbove(*told) == kind))
        return *told;
    return std::string(kind.empty() ? unplaced_kind : kind);
}

} // namespace hr::processors

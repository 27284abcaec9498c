// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/kinds.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <regex>
#include <span>
#include <utility>

namespace hr::processors {

namespace {

using Pairs = std::span<const std::pair<std::string_view, std::string_view>>;

/// Each with the one above it.
constexpr std::array<std::pair<std::string_view, std::string_view>, 29> kind_tree{{
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
    {"instrument", ""},
}};

/// Classes of LV2 (lv2core.ttl) and of LADSPA's ontology (ladspa.rdfs), which share their names; of several
/// that one has, the first here tells most.
constexpr std::array<std::pair<std::string_view, std::string_view>, 40> class_kinds{{
    {"InstrumentPlugin", "instrument"}, {"ReverbPlugin", "reverb"},         {"DelayPlugin", "delay"},
    {"ChorusPlugin", "chorus"},         {"FlangerPlugin", "flanger"},       {"PhaserPlugin", "phaser"},
    {"CompressorPlugin", "compressor"}, {"LimiterPlugin", "limiter"},       {"GatePlugin", "gate"},
    {"ExpanderPlugin", "expander"},     {"MultiEQPlugin", "equaliser"},     {"ParaEQPlugin", "equaliser"},
    {"EQPlugin", "equaliser"},          {"PitchPlugin", "pitch"},           {"FrequencyPlugin", "pitch"},
    {"DecimatorPlugin", "resolution"},  {"DistortionPlugin", "distortion"}, {"WaveshaperPlugin", "saturation"},
    {"LowpassPlugin", "filter"},        {"HighpassPlugin", "filter"},       {"BandpassPlugin", "filter"},
    {"BandRejectPlugin", "filter"},     {"CombPlugin", "filter"},           {"AllpassPlugin", "filter"},
    {"AnalyserPlugin", "meter"},        {"EnvelopePlugin", "dynamics"},     {"DynamicsPlugin", "dynamics"},
    {"FilterPlugin", "filter"},         {"ModulatorPlugin", "modulation"},  {"SpatialPlugin", "stereo"},
    {"SpectralPlugin", "spectral"},     {"SimulatorPlugin", "saturation"},  {"TimePlugin", "delay"},
    {"OscillatorPlugin", "generator"},  {"GeneratorPlugin", "generator"},   {"AmplifierPlugin", "utility"},
    {"MixerPlugin", "utility"},         {"ConverterPlugin", "utility"},     {"FunctionPlugin", "utility"},
    {"UtilityPlugin", "utility"},
}};
/// Classes from here on say little: lesser words of the name say more.
constexpr std::string_view first_vague_class = "EnvelopePlugin";

/// Beginnings of words; with a blank behind, whole words. The first that is found decides. Words that say what
/// it is for whatever stands beside them:
constexpr std::array<std::pair<std::string_view, std::string_view>, 94> telling_words{{
    {"de-ess", "de-esser"},
    {"deess", "de-esser"},
    {"de ess", "de-esser"},
    {"sibilan", "de-esser"},
    {"transient", "transients"},
    {"declick", "restoration"},
    {"de-click", "restoration"},
    {"declip", "restoration"},
    {"de-clip", "restoration"},
    {"denois", "restoration"},
    {"de-nois", "restoration"},
    {"noise reduc", "restoration"},
    {"noise repell", "restoration"},
    {"noise suppress", "restoration"},
    {"dehum", "restoration"},
    {"de-hum", "restoration"},
    {"hum remov", "restoration"},
    {"restor", "restoration"},
    {"vocoder", "spectral"},
    {"convol", "reverb"},
    {"impulse response", "reverb"},
    {"reverb", "reverb"},
    {"gate ", "gate"},
    {"noisegate", "gate"},
    {"gating", "gate"},
    {"gater", "gate"},
    {"compand", "dynamics"},
    {"compress", "compressor"},
    {"limiter", "limiter"},
    {"maximi", "limiter"},
    {"brickwall", "limiter"},
    {"expander", "expander"},
    {"leveler", "compressor"},
    {"leveller", "compressor"},
    {"ducker", "dynamics"},
    {"ducking", "dynamics"},
    {"chorus", "chorus"},
    {"flang", "flanger"},
    {"phaser", "phaser"},
    {"phase shift", "phaser"},
    {"tremolo", "tremolo"},
    {"vibrato", "vibrato"},
    {"ring mod", "modulation"},
    {"ringmod", "modulation"},
    {"rotary", "modulation"},
    {"rotating", "modulation"},
    {"autopan", "modulation"},
    {"auto pan", "modulation"},
    {"auto-pan", "modulation"},
    {"pitch", "pitch"},
    {"harmoniz", "pitch"},
    {"harmonis", "pitch"},
    {"octaver", "pitch"},
    {"detune", "pitch"},
    {"transpos", "pitch"},
    {"frequency shift", "pitch"},
    {"equali", "equaliser"},
    {"eq ", "equaliser"},
    {"parametric", "equaliser"},
    {"tone control", "equaliser"},
    {"tonestack", "equaliser"},
    {"shelv", "equaliser"},
    {"shelf", "equaliser"},
    {"echo", "delay"},
    {"delay", "delay"},
    {"bitcrush", "resolution"},
    {"bit crush", "resolution"},
    {"crush", "resolution"},
    {"decimat", "resolution"},
    {"rate reduc", "resolution"},
    {"bit reduc", "resolution"},
    {"downsampl", "resolution"},
    {"quanti", "resolution"},
    {"dither", "resolution"},
    {"distort", "distortion"},
    {"overdrive", "distortion"},
    {"fuzz", "distortion"},
    {"clipper", "distortion"},
    {"clipping", "distortion"},
    {"hard clip", "distortion"},
    {"soft clip", "distortion"},
    {"foldover", "distortion"},
    {"wavefold", "distortion"},
    {"saturat", "saturation"},
    {"exciter", "saturation"},
    {"waveshap", "saturation"},
    {"wave shap", "saturation"},
    {"harmonic gen", "saturation"},
    {"widen", "stereo"},
    {"crossfeed", "stereo"},
    {"binaural", "stereo"},
    {"ambison", "stereo"},
    {"crossover", "filter"},
    {"analy", "meter"},
}};

/// What tells wherever in a word it stands: what is made up of two words is often written as one.
constexpr std::array<std::pair<std::string_view, std::string_view>, 16> telling_parts{{
    {"reverb", "reverb"},
    {"verb ", "reverb"},
    {"compressor", "compressor"},
    {"limiter", "limiter"},
    {"chorus", "chorus"},
    {"flanger", "flanger"},
    {"phaser", "phaser"},
    {"tremolo", "tremolo"},
    {"vibrato", "vibrato"},
    {"equaliser", "equaliser"},
    {"equalizer", "equaliser"},
    {"delay", "delay"},
    {"distortion", "distortion"},
    {"saturator", "saturation"},
    {"vocoder", "spectral"},
    {"wah ", "filter"},
}};

/// Words that say it where nothing else does.
constexpr std::array<std::pair<std::string_view, std::string_view>, 87> lesser_words{{
    {"lowpass", "filter"},        {"low-pass", "filter"},      {"low pass", "filter"},
    {"highpass", "filter"},       {"high-pass", "filter"},     {"high pass", "filter"},
    {"bandpass", "filter"},       {"band-pass", "filter"},     {"band pass", "filter"},
    {"notch", "filter"},          {"comb ", "filter"},         {"allpass", "filter"},
    {"all-pass", "filter"},       {"formant", "filter"},       {"wah", "filter"},
    {"low cut", "filter"},        {"high cut", "filter"},      {"rumble", "filter"},
    {"filter", "filter"},         {"resonan", "filter"},       {"band", "multiband"},
    {"dynamic", "dynamics"},      {"agc ", "dynamics"},        {"envelope", "dynamics"},
    {"plate", "reverb"},          {"room ", "reverb"},         {"hall ", "reverb"},
    {"ambience", "reverb"},       {"diffus", "reverb"},        {"spring", "reverb"},
    {"tape", "saturation"},       {"tube", "saturation"},      {"valve", "saturation"},
    {"drive", "saturation"},      {"rectif", "saturation"},    {"shaper", "saturation"},
    {"cabinet", "saturation"},    {"amp sim", "saturation"},   {"modulat", "modulation"},
    {"doubl", "chorus"},          {"spectr", "spectral"},      {"granul", "spectral"},
    {"freez", "spectral"},        {"width", "stereo"},         {"imag", "stereo"},
    {"spatial", "stereo"},        {"surround", "stereo"},      {"panner", "stereo"},
    {"pan ", "stereo"},           {"balance", "stereo"},       {"mid side", "stereo"},
    {"mid-side", "stereo"},       {"matrix", "stereo"},        {"scope", "meter"},
    {"meter", "meter"},           {"spectrogram", "meter"},    {"tuner", "meter"},
    {"stereo enhanc", "stereo"},  {"stereo spread", "stereo"}, {"enhanc", "saturation"},
    {"oscillat", "generator"},    {"generator", "generator"},  {"comp ", "compressor"},
    {"rider ", "dynamics"},       {"ladder", "filter"},        {"resonat", "filter"},
    {"state variable", "filter"}, {"lpf ", "filter"},          {"hpf ", "filter"},
    {"bpf ", "filter"},           {"vcf ", "filter"},          {"m s ", "stereo"},
    {"ms enc", "stereo"},         {"ms dec", "stereo"},        {"mono ", "stereo"},
    {"upmix", "stereo"},          {"downmix", "stereo"},       {"harmonic", "saturation"},
    {"guitar amp", "saturation"}, {"bass amp", "saturation"},  {"speaker", "saturation"},
    {"talk box", "spectral"},     {"talkbox", "spectral"},     {"oscillosc", "meter"},
    {"goniomet", "meter"},        {"correl", "meter"},         {"vu ", "meter"},
}};

/// Words that are only better than nothing.
constexpr std::array<std::pair<std::string_view, std::string_view>, 22> weak_words{{
    {"gain", "utility"},    {"amplif", "utility"},   {"volume", "utility"},   {"attenuat", "utility"},
    {"mixer", "utility"},   {"mute", "utility"},     {"invert", "utility"},   {"polarity", "utility"},
    {"dc ", "utility"},     {"switch", "utility"},   {"split", "utility"},    {"merge", "utility"},
    {"convert", "utility"}, {"amp ", "utility"},     {"fader", "utility"},    {"trim ", "utility"},
    {"bypass", "utility"},  {"noise ", "generator"}, {"click ", "generator"}, {"metronome", "generator"},
    {"tone ", "generator"}, {"stereo", "stereo"},
}};

/// What its parameters give away: all these words must begin words of some parameter.
struct ParameterTell {
    std::array<std::string_view, 2> words;
    std::string_view kind;
};
constexpr std::array<ParameterTell, 22> parameter_tells{{
    {{"threshold", "ratio"}, "compressor"},
    {{"ceiling", ""}, "limiter"},
    {{"threshold", "hold"}, "gate"},
    {{"threshold", "range"}, "gate"},
    {{"limit", "release"}, "limiter"},
    {{"threshold", "release"}, "dynamics"},
    {{"room", ""}, "reverb"},
    {{"decay", "damp"}, "reverb"},
    {{"reverb", ""}, "reverb"},
    {{"diffus", ""}, "reverb"},
    {{"delay", "feedback"}, "delay"},
    {{"rate", "depth"}, "modulation"},
    {{"lfo", ""}, "modulation"},
    {{"speed", "depth"}, "modulation"},
    {{"semitone", ""}, "pitch"},
    {{"cents", ""}, "pitch"},
    {{"cutoff", ""}, "filter"},
    {{"bandwidth", "gain"}, "equaliser"},
    {{"treble", "bass"}, "equaliser"},
    {{"drive", ""}, "saturation"},
    {{"width", ""}, "stereo"},
    {{"bits", ""}, "resolution"},
}};

/// Lower case, everything but letters, digits and hyphens a blank; words that are written as one taken apart
/// ("StereoDelay"); blanks around it.
std::string plainWords(std::string_view text)
{
    std::string plain = " ";
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        const auto before = i > 0 ? static_cast<unsigned char>(text[i - 1]) : static_cast<unsigned char>(' ');
        if (std::isupper(c) && std::islower(before))
            plain += ' ';
        plain += std::isalnum(c) || c == '-' ? static_cast<char>(std::tolower(c)) : ' ';
    }
    return plain + ' ';
}

/// Whether a word begins so, also behind a hyphen ("auto-wah").
bool says(const std::string& words, std::string_view word)
{
    return words.find(" " + std::string(word)) != std::string::npos ||
           words.find("-" + std::string(word)) != std::string::npos;
}

/// The first of the table that the words hold.
std::string_view find(Pairs table, const std::string& words)
{
    for (const auto& [word, kind] : table)
        if (says(words, word))
            return kind;
    return {};
}

std::string_view fromParts(const std::string& words)
{
    for (const auto& [part, kind] : telling_parts)
        if (words.find(part) != std::string::npos)
            return kind;
    return {};
}

/// "EQ4", "GEQ", "ParaEQ"; a frequency is none.
bool saysEq(const std::string& words)
{
    static const std::regex eq(" (eq[0-9]|[a-z]*[^rs ]eq )");
    return std::regex_search(words, eq);
}

/// What the words of a name tell, whatever else is known.
std::string_view told(const std::string& words)
{
    if (const auto kind = find(telling_words, words); !kind.empty())
        return kind;
    return saysEq(words) ? std::string_view("equaliser") : fromParts(words);
}

std::string_view exactly(Pairs table, std::string_view key)
{
    for (const auto& [word, kind] : table)
        if (word == key)
            return kind;
    return {};
}

/// The class that tells most, and whether it tells much.
std::pair<std::string_view, bool> fromClasses(const std::vector<std::string>& classes)
{
    bool vague = false;
    for (const auto& [name, kind] : class_kinds) {
        vague = vague || name == first_vague_class;
        if (std::ranges::find(classes, name) != classes.end())
            return {kind, !vague};
    }
    return {};
}

/// Several bands of dynamics are a kind of their own; of anything else they are that.
std::string_view inBands(std::string_view kind, const std::string& words)
{
    const bool bands = says(words, "multiband") || says(words, "multi-band") || says(words, "multi band");
    return bands && (kind == "dynamics" || kindAbove(kind) == "dynamics") ? std::string_view("multiband")
                                                                          : kind;
}

std::string_view fromParameters(const ProcessorInfo& info)
{
    std::string words;
    for (const ParameterInfo& parameter : info.parameters)
        words += plainWords(parameter.name);
    for (const auto& [both, kind] : parameter_tells)
        if (says(words, both[0]) && (both[1].empty() || says(words, both[1])))
            return kind;
    return {};
}

/// The finer of two where one is a sort of the other; else the first.
std::string_view finer(std::string_view first, std::string_view second)
{
    return !second.empty() && kindAbove(second) == first ? second : first;
}

} // namespace

std::string_view kindAbove(std::string_view kind)
{
    return exactly(kind_tree, kind);
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

std::string_view kindOfClass(std::string_view class_name)
{
    return exactly(class_kinds, class_name);
}

PlacedKind placedKind(const ProcessorInfo& info)
{
    const std::string words = plainWords(info.name) + plainWords(info.label);
    const auto [of_class, class_tells] = fromClasses(info.classes);
    const auto told_kind = told(words);
    const auto lesser = find(lesser_words, words);
    if (of_class == "instrument")
        return {std::string(of_class)};
    if (!told_kind.empty())
        return {std::string(inBands(finer(told_kind, class_tells ? of_class : ""), words))};
    if (class_tells)
        return {std::string(inBands(finer(of_class, lesser), words))};
    if (!lesser.empty() && lesser != "multiband")
        return {std::string(inBands(finer(of_class.empty() ? lesser : of_class, lesser), words))};
    const auto parameters = fromParameters(info);
    if (!of_class.empty())
        return {std::string(inBands(finer(of_class, parameters), words))};
    const bool bands = !inBands("dynamics", words).compare("multiband");
    for (const auto guess : {bands ? std::string_view("multiband") : parameters, find(weak_words, words),
                             find(telling_words, plainWords(info.documentation.substr(0, 400)))})
        if (!guess.empty())
            return {std::string(guess), true};
    return {};
}

} // namespace hr::processors

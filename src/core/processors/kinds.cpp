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

constexpr std::array<std::pair<std::string_view, std::string_view>, 29> kind_sentences{{
    {"dynamics", "Changes the level by the level: what is loud or quiet is made more or less so."},
    {"compressor", "Turns down what rises above a threshold, so that loud and quiet come closer together."},
    {"limiter", "Keeps every peak below a ceiling."},
    {"gate", "Mutes what stays below a threshold: the noise between the notes."},
    {"expander", "Turns down what falls below a threshold, so that loud and quiet move apart."},
    {"de-esser", "Turns down sharp s sounds, and only those."},
    {"multiband", "Changes the level of each band by what goes on in that band."},
    {"transients", "Makes the beginning of each note stronger or softer."},
    {"equaliser", "Raises or lowers parts of the spectrum."},
    {"filter", "Takes away what lies below, above or around a frequency."},
    {"saturation", "Adds harmonics that grow with the level: warmth and density."},
    {"distortion", "Bends the waveform until it is heard as a sound of its own."},
    {"resolution", "Takes away bits or sample rate, or prepares the sound for fewer bits (dither)."},
    {"delay", "Repeats the sound later: echoes and doublings."},
    {"reverb", "Puts the sound into a room."},
    {"modulation", "Moves something about the sound by itself, in time."},
    {"chorus", "Adds copies that drift in pitch, as several players do."},
    {"flanger", "Adds a copy that is a few milliseconds late and moves: a sweeping comb."},
    {"phaser", "Moves notches through the spectrum."},
    {"tremolo", "Moves the level up and down."},
    {"vibrato", "Moves the pitch up and down."},
    {"pitch", "Shifts the pitch, or corrects it."},
    {"stereo", "Changes width and place between left and right."},
    {"restoration", "Takes away noise, hum, clicks or clipping."},
    {"spectral", "Works on the spectrum, one stretch of sound after the other."},
    {"utility", "Level, polarity, delay and routing."},
    {"meter", "Shows something and changes nothing."},
    {"generator", "Makes a signal of its own: tones, noise or a clock."},
    {"instrument", "Is played by notes."},
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

/// Words that say a kind, with strokes between.
struct Words {
    std::string_view kind, words;
};

/// Beginnings of words; with a blank behind, whole words. The first that is found decides. Words that say what
/// it is for whatever stands beside them:
constexpr std::array<Words, 28> telling_words{{
    {"de-esser", "de ess|deess|sibilan"},
    {"transients", "transient"},
    {"restoration", "declick|de click|declip|de clip|decrackl|de crackl|depop|de pop|dereverb|de reverb|"
                    "debreath|de breath|denois|de nois|noise reduc|noise repell|noise suppress|"
                    "noise remov|dehum|de hum|hum remov|restor"},
    {"spectral", "vocoder"},
    {"reverb", "convol|impulse response|reverb"},
    {"generator", "clock "},
    {"gate", "gate |noisegate|gating|gater"},
    {"dynamics", "compand"},
    {"compressor", "compress"},
    {"limiter", "limiter|maximi|brickwall"},
    {"expander", "expander"},
    {"compressor", "leveler|leveller|leveling|levelling"},
    {"dynamics", "ducker|ducking|duck |autogain|auto gain|automatic gain"},
    {"chorus", "chorus"},
    {"flanger", "flang"},
    {"phaser", "phaser|phase shift"},
    {"tremolo", "tremolo"},
    {"vibrato", "vibrato"},
    {"modulation", "ring mod|ringmod|rotary|rotating|autopan|auto pan"},
    {"pitch", "pitch|harmoniz|harmonis|octaver|octave div|detune|transpos|frequency shift"},
    {"equaliser", "equali|eq |parametric|tone control|tonestack|tone stack|baxandall|shelv|shelf"},
    {"delay", "echo|multitap|multi tap|ping pong|pingpong|delay"},
    {"resolution", "bitcrush|bit crush|crush|decimat|rate reduc|bit reduc|bit depth|bitdepth|lo fi|"
                   "lofi |sample and hold|sample hold|noise shap|downsampl|quanti|dither"},
    {"distortion", "distort|overdrive|fuzz|clipper|clipping|hard clip|soft clip|foldover|wavefold"},
    {"saturation", "saturat|exciter|waveshap|wave shap|bass enhanc|harmonic gen"},
    {"stereo", "widen|haas|crossfeed|binaural|ambison"},
    {"filter", "crossover"},
    {"meter", "analy"},
}};

/// What tells wherever in a word it stands: what is made up of two words is often written as one.
constexpr std::array<Words, 16> telling_parts{{
    {"reverb", "reverb|verb "},
    {"compressor", "compressor"},
    {"limiter", "limiter"},
    {"chorus", "chorus"},
    {"flanger", "flanger"},
    {"phaser", "phaser"},
    {"tremolo", "tremolo"},
    {"vibrato", "vibrato"},
    {"equaliser", "equaliser|equalizer"},
    {"delay", "delay"},
    {"distortion", "distortion"},
    {"saturation", "saturator"},
    {"spectral", "vocoder"},
    {"filter", "wah "},
    {"meter", "scope "},
    {"dynamics", "compander"},
}};

/// Words that say it where nothing else does.
constexpr std::array<Words, 31> lesser_words{{
    {"filter", "lowpass|low pass|highpass|high pass|bandpass|band pass|notch|comb |allpass|all pass|"
               "formant|wah|low cut|high cut|rumble|biquad|phase rotat|filter"},
    {"equaliser", "tilt|graphic|treble|bass boost|third octave|10 band|15 band|30 band|31 band"},
    {"filter", "resonan"},
    {"multiband", "band"},
    {"dynamics", "dynamic|agc |swell"},
    {"limiter", "limit "},
    {"distortion", "clip "},
    {"dynamics", "envelope"},
    {"generator", "impulse gen"},
    {"reverb", "plate|room |hall |ambience|diffus|spring|reflection|chamber|cathedral|shimmer|impulse"},
    {"saturation", "tape|tube|valve|drive|rectif|shaper|cabinet|cab |preamp|pre amp|vinyl|amp sim"},
    {"modulation", "modulat"},
    {"chorus", "doubl|ensemble"},
    {"vibrato", "flutter|wow "},
    {"spectral", "spectr|granul|freez"},
    {"delay", "stutter|looper|revers|bucket brigade"},
    {"pitch", "octav|time stretch"},
    {"stereo", "width|imag|spatial|spacial|surround|panner|pan |balance|mid side|matrix"},
    {"meter", "meter|loudness|spectrogram|tuner"},
    {"stereo", "stereo enhanc|stereo spread"},
    {"saturation", "enhanc"},
    {"generator", "oscillat"},
    {"instrument", "synth|sampler|drum machine"},
    {"generator", "generator"},
    {"compressor", "comp "},
    {"dynamics", "rider "},
    {"filter", "ladder|resonat|state variable|lpf |hpf |bpf |vcf "},
    {"stereo", "m s |ms enc|ms dec|mono |upmix|downmix"},
    {"saturation", "harmonic|guitar amp|bass amp|speaker"},
    {"spectral", "talk box|talkbox"},
    {"meter", "goniomet|correl|vu "},
}};

/// Words that are only better than nothing.
constexpr std::array<Words, 3> weak_words{{
    {"utility", "gain|amplif|volume|attenuat|mixer|mute|invert|polarity|dc |switch|split|merge|"
                "convert|amp |fader|crossfad|cross fad|constant|multipl|rout|selector|latency|trim |"
                "bypass"},
    {"generator", "noise |click |metronome|tone "},
    {"stereo", "stereo"},
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

/// Lower case, whatever stands between letters and digits one blank; words that are written as one taken apart
/// ("StereoDelay"); blanks around it.
std::string plainWords(std::string_view text)
{
    std::string plain = " ";
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        const auto before = i > 0 ? static_cast<unsigned char>(text[i - 1]) : static_cast<unsigned char>(' ');
        if (std::isupper(c) && std::islower(before))
            plain += ' ';
        if (std::isalnum(c))
            plain += static_cast<char>(std::tolower(c));
        else if (plain.back() != ' ')
            plain += ' ';
    }
    return plain + ' ';
}

/// Whether a word begins so.
bool says(const std::string& words, std::string_view word)
{
    return words.find(" " + std::string(word)) != std::string::npos;
}

/// The first of the table of which a word `holds`.
template<class Holds>
std::string_view firstOf(std::span<const Words> table, const Holds& holds)
{
    for (const auto& [kind, all] : table)
        for (auto left = all; !left.empty();) {
            const auto word = left.substr(0, left.find('|'));
            if (holds(word))
                return kind;
            left.remove_prefix(std::min(left.size(), word.size() + 1));
        }
    return {};
}

/// The first of the table that the words hold.
std::string_view find(std::span<const Words> table, const std::string& words)
{
    return firstOf(table, [&](std::string_view word) { return says(words, word); });
}

std::string_view fromParts(const std::string& words)
{
    return firstOf(telling_parts, [&](std::string_view part) { return words.find(part) != std::string::npos; });
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
    const bool bands = says(words, "multiband") || says(words, "multi band");
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

std::string_view kindAbout(std::string_view kind)
{
    return exactly(kind_sentences, kind);
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

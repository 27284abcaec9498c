// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known about a processor before it runs: the same for every format.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace hr::processors {

/// Rate at which bounds that scale with it are described.
inline constexpr double described_rate_hz = 48000;

enum class Scale { Linear, Logarithmic, Integer, Toggle, Choice };

struct Choice {
    double value = 0;
    std::string label;
};

/// One control. `minimum <= default_value <= maximum`, all finite. A bound that its author did not state is a
/// proposal for the eye: no value is refused or changed because of it.
struct ParameterInfo {
    std::string key;  ///< port symbol (LV2), control name (LADSPA), own key (reference)
    std::string name; ///< for people
    std::string unit; ///< "dB", "Hz", "ms", "%", ":1" …; empty where it has none
    double minimum = 0;
    double maximum = 1;
    double default_value = 0;
    Scale scale = Scale::Linear;
    std::vector<Choice> choices; ///< named values; with Scale::Choice no others are meant
    std::string comment;
    bool hidden = false;           ///< its maker asks not to show it
    bool scales_with_rate = false; ///< bounds are for described_rate_hz and move in proportion to the rate
    bool minimum_stated = true, maximum_stated = true;
    bool enables = false; ///< declared as what takes the processor in and out (lv2:enabled)

    bool isStated() const { return minimum_stated && maximum_stated; }
    /// Whether a value lies within what is stated.
    bool allows(double value) const
    {
        return (!minimum_stated || value >= minimum) && (!maximum_stated || value <= maximum);
    }
    /// The nearest value that is allowed.
    double allowed(double value) const
    {
        if (minimum_stated && value < minimum)
            return minimum;
        return maximum_stated && value > maximum ? maximum : value;
    }
};

/// The nearest value that `p` allows at this rate.
double insideAtRate(const ParameterInfo& p, double value, double sample_rate_hz);

struct PresetInfo {
    std::string name;
    std::string id;                                     ///< URI, or empty
    std::vector<std::pair<std::string, double>> values; ///< parameter key and value
    std::string bank = {};                              ///< as delivered; empty: none
    std::string state = {}; ///< what it sets beside parameters (Processor::setState()); empty: nothing
};

struct ProcessorInfo {
    std::string id;   ///< "lv2:URI", "reference:NAME"
    std::string name; ///< the maker's
    std::string maker;
    std::string kind;                      ///< in the trade's words: "compressor", "equaliser", …
    bool kind_proposed = false;            ///< guessed, to be confirmed (kinds.h)
    std::vector<std::string> classes = {}; ///< of the format's ontology: "CompressorPlugin"
    std::string label = {};                ///< LADSPA: its short name
    unsigned long unique_id = 0;           ///< LADSPA: its number; 0: none
    std::string format;
    std::string version;
    std::string documentation;
    std::vector<std::string> links = {}; ///< addresses where its maker says more
    std::size_t audio_in = 0;            ///< without key inputs
    std::size_t audio_out = 0;
    std::size_t key_in = 0;   ///< channels of the key (side-chain) input
    bool takes_tempo = false; ///< it asks to be told the tempo
    std::vector<ParameterInfo> parameters;
    std::vector<PresetInfo> presets;

    /// Position of the parameter with this key.
    std::optional<std::size_t> parameterIndex(const std::string& key) const;
};

/// The description at another rate: bounds and defaults that scale with it are those of that rate.
ProcessorInfo atRate(ProcessorInfo info, double sample_rate_hz);

/// Values by key; what is not named stays at its default.
struct Setting {
    std::string key;
    double value = 0;
};

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a figure is: declared once, beside the test that takes it. The command line, tables, sorting, lists,
// comparison, the self-check, export and help all read it here.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace hr::bench {

/// How far a reading may be from the known answer: an absolute part in the figure's unit, and a part of the
/// figure.
struct AllowedError {
    double absolute = 0;
    double relative = 0;

    double at(double known) const { return absolute + relative * (known < 0 ? -known : known); }
};

enum class Better { Neither, Lower, Higher, NearZero };

/// What stands under its key.
enum class FigureShape {
    Number,
    Word,    ///< "compressor"
    YesNo,   ///< true or false
    List,    ///< of numbers or of objects
    Numbers, ///< an object of such figures, as `at_100_hz`
    Verdict, ///< an object of `result` ("pass", "fail", "not applicable"), `value` (that decided it) and
             ///< `detail`
};

struct FigureInfo {
    std::string key;       ///< unique within its test: "thd_percent"
    std::string name;      ///< for people: "THD"
    std::string unit = {}; ///< "dB"; empty where it has none
    int digits = 2;        ///< behind the point
    Better better = Better::Neither;
    AllowedError allowed = {};   ///< of measurements.md; zero where it is exact or a matter of the machine
    std::string definition = {}; ///< what it is, in a sentence
    std::string source = {};     ///< standard or paper, with its year; empty: the definition says it all
    std::string applies = {};    ///< where it exists at all; empty: always
    FigureShape shape = FigureShape::Number;
    bool in_lists = false; ///< one of the few by which whole catalogues are sorted
    /// Of a verdict: what it means for the work, as a sentence, where it is kept and where it is broken.
    std::string if_kept = {}, if_broken = {};
};

} // namespace hr::bench

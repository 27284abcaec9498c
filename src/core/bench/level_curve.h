// SPDX-License-Identifier: GPL-3.0-or-later
//
// A curve of settled levels, in against out, and the figures of dynamics read off it. Arithmetic only: where
// the levels came from does not matter.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace hr::bench {

/// Input and output level in dBFS, inputs rising; at least 8 points.
using LevelCurve = std::vector<std::pair<double, double>>;

/// The knee model of D. Giannoulis, M. Massberg, J. Reiss, "Digital dynamic range compressor design", JAES
/// 60, 2012, eq. 4, for one bend: beyond `threshold_db` (above it, or below it where `bends_below`) the
/// output goes with `slope` times the input, through a quadratic knee `knee_db` wide, and the gain leaves
/// its neutral value `makeup_db` by at most `range_db`.
struct KneeModel {
    bool bends_below = false;
    double threshold_db = 0;
    double slope = 1;
    double knee_db = 0;
    double makeup_db = 0;
    double range_db = 200;

    double gainDb(double level_dbfs) const;
};

struct LevelFigures {
    std::string kind; ///< "linear", "compressor", "limiter", "expander", "gate" or "upward"
    std::optional<double> threshold_db, ratio, knee_db, makeup_db, range_db;
    bool neutral_unseen = false;    ///< no level that is left alone is among those tried
    bool other_end_nearer = false;  ///< to 0 dB, and level there as well: it might be told from that end
    std::optional<KneeModel> model; ///< that it was read off; empty where the gain is level, or jumps
    double misfit_db = 0;           ///< RMS distance of the model from the curve
    /// By more than a curve of one knee and one slope is off.
    bool fitsPoorly() const { return misfit_db > 0.05; }
    /// Input levels between which the gain jumps: to be bisected.
    std::optional<std::pair<double, double>> jump;
};

/// Kind by the shape; threshold, ratio, knee and make-up by least squares on KneeModel, told from the end of
/// the curve that is left alone (of two such ends, from the one nearer to 0 dB); range as the largest change of
/// the gain from its neutral value. `ratio` is at least 1: input dB per output dB for what compresses, output
/// dB per input dB for what expands. Never a jump. `noise_db`: how far the subject's own noise moves a level,
/// RMS; no bend is seen in what is no larger.
LevelFigures readLevelCurve(const LevelCurve& curve, double noise_db = 0);

/// Where the gain moves by more than 3 dB a step, and does so in one step or two: it jumps, between two levels
/// or with one of them in the middle, or it is a steep slope. Which, only levels in between can tell.
std::optional<std::pair<double, double>> steepPart(const LevelCurve& curve);

/// What is read off a curve whose gain jumps between two of its levels.
LevelFigures readJump(const LevelCurve& curve, std::pair<double, double> jump);

/// The same once more, where there is a model, with the output at further input levels: near the threshold they
/// tell how sharp a knee is that lies between two of the steps.
LevelFigures refined(LevelFigures figures, LevelCurve curve, const LevelCurve& further);

} // namespace hr::bench

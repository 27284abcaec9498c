// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/level_curve.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <nlopt.h>

namespace hr::bench {

namespace {

/// A gain that moves by less than this over the whole curve is none.
constexpr double linear_within_db = 0.1;
constexpr double jump_db = 3;
/// Flatter than this above the threshold is a limiter, steeper below it a gate.
constexpr double limiting_ratio = 20;
constexpr double widest_knee_db = 40;

double gainAt(const LevelCurve& curve, std::size_t i)
{
    return curve[i].second - curve[i].first;
}

double misfit(const KneeModel& model, const LevelCurve& curve)
{
    double sum = 0;
    for (const auto& [in, out] : curve) {
        const double off = in + model.gainDb(in) - out;
        sum += off * off;
    }
    return std::sqrt(sum / static_cast<double>(curve.size()));
}

/// What the optimiser moves: threshold, slope, knee, make-up and, where the curve levels off, range.
struct Fit {
    const LevelCurve& curve;
    KneeModel model;
    bool levels_off = false;

    void take(const double* x)
    {
        model.threshold_db = x[0];
        model.slope = x[1];
        model.knee_db = x[2];
        model.makeup_db = x[3];
        if (levels_off)
            model.range_db = x[4];
    }
};

double objective(unsigned, const double* x, double*, void* data)
{
    auto& fit = *static_cast<Fit*>(data);
    fit.take(x);
    return misfit(fit.model, fit.curve);
}

/// Least squares from one starting point, by Nelder and Mead's simplex in subspaces (Rowan 1990).
void improve(Fit& fit)
{
    std::array<double, 5> x{fit.model.threshold_db, fit.model.slope, fit.model.knee_db, fit.model.makeup_db,
                            fit.model.range_db};
    const std::array<double, 5> low{-80, 0, 0, -120, 0};
    const std::array<double, 5> high{20, 50, widest_knee_db, 120, 200};
    for (std::size_t i = 0; i < x.size(); ++i)
        x[i] = std::clamp(x[i], low[i], high[i]);
    nlopt_opt optimiser = nlopt_create(NLOPT_LN_SBPLX, fit.levels_off ? 5 : 4);
    nlopt_set_lower_bounds(optimiser, low.data());
    nlopt_set_upper_bounds(optimiser, high.data());
    nlopt_set_min_objective(optimiser, objective, &fit);
    nlopt_set_xtol_rel(optimiser, 1e-7);
    nlopt_set_maxeval(optimiser, 6000);
    double best = 0;
    nlopt_optimize(optimiser, x.data(), &best);
    nlopt_destroy(optimiser);
    fit.take(x.data());
}

/// Where the curve bends and which way, from its two ends.
struct Shape {
    double slope_low = 1, slope_high = 1; ///< output dB per input dB over the lowest and the highest steps
    double lowest_gain = 0, highest_gain = 0;
};

Shape shapeOf(const LevelCurve& curve)
{
    const std::size_t last = curve.size() - 1;
    const auto slope = [&](std::size_t a, std::size_t b) {
        return (curve[b].second - curve[a].second) / (curve[b].first - curve[a].first);
    };
    Shape shape{slope(0, 3), slope(last - 3, last), gainAt(curve, 0), gainAt(curve, 0)};
    for (std::size_t i = 0; i < curve.size(); ++i) {
        shape.lowest_gain = std::min(shape.lowest_gain, gainAt(curve, i));
        shape.highest_gain = std::max(shape.highest_gain, gainAt(curve, i));
    }
    return shape;
}

std::optional<std::pair<double, double>> findJump(const LevelCurve& curve)
{
    std::optional<std::pair<double, double>> jump;
    for (std::size_t i = 1; i < curve.size(); ++i)
        if (std::abs(gainAt(curve, i) - gainAt(curve, i - 1)) > jump_db) {
            if (jump)
                return std::nullopt; // steep, not a jump
            jump = {curve[i - 1].first, curve[i].first};
        }
    return jump;
}

/// The best of several starts on both sides: one bend above or below, with and without an end to it.
KneeModel fitted(const LevelCurve& curve)
{
    KneeModel best;
    double least = 1e9;
    const double low = curve.front().first;
    const double high = curve.back().first;
    for (const bool below : {false, true})
        for (const bool levels_off : {false, true})
            for (const double part : {0.25, 0.5, 0.75})
                for (const double slope : below ? std::array{0.5, 2.0} : std::array{0.2, 0.7}) {
                    const double neutral = gainAt(curve, below ? curve.size() - 1 : 0);
                    const double farthest = gainAt(curve, below ? 0 : curve.size() - 1);
                    Fit fit{curve, {below, low + part * (high - low), slope, 6, neutral, 200}, levels_off};
                    if (levels_off)
                        fit.model.range_db = std::abs(farthest - neutral);
                    improve(fit);
                    // An end of the range must earn its place: it always fits a little better. And a bend
                    // with two ends can be told from either: the neutral one is the one nearer to 0 dB.
                    const double off = misfit(fit.model, curve) + (levels_off ? 0.01 : 0) +
                                       0.001 * std::abs(fit.model.makeup_db);
                    if (off < least) {
                        least = off;
                        best = fit.model;
                    }
                }
    return best;
}

std::string kindOf(const KneeModel& model)
{
    if (model.bends_below)
        return model.slope < 1 ? "upward" : model.slope > limiting_ratio ? "gate" : "expander";
    return model.slope > 1 ? "expander" : model.slope < 1 / limiting_ratio ? "limiter" : "compressor";
}

} // namespace

double KneeModel::gainDb(double level_dbfs) const
{
    // Over the threshold in the direction of the bend, so that both bends share one formula.
    const double over = bends_below ? threshold_db - level_dbfs : level_dbfs - threshold_db;
    const double turn = bends_below ? 1 - slope : slope - 1;
    double change = 0;
    if (2 * over >= knee_db)
        change = turn * over;
    else if (2 * over > -knee_db)
        change = turn * (over + knee_db / 2) * (over + knee_db / 2) / (2 * knee_db);
    return makeup_db + std::clamp(change, -range_db, range_db);
}

LevelFigures readLevelCurve(const LevelCurve& curve, double noise_db)
{
    assert(curve.size() >= 8);
    LevelFigures figures;
    const Shape shape = shapeOf(curve);
    // Of sixty levels that noise moves, the extremes are some five of its deviations apart.
    if (shape.highest_gain - shape.lowest_gain < std::max(linear_within_db, 6 * noise_db)) {
        figures.kind = "linear";
        figures.makeup_db = (shape.highest_gain + shape.lowest_gain) / 2;
        return figures;
    }
    const auto rangeFrom = [&](double neutral_db) {
        return std::max(shape.highest_gain - neutral_db, neutral_db - shape.lowest_gain);
    };
    figures.jump = findJump(curve);
    if (figures.jump) {
        const bool opens = gainAt(curve, curve.size() - 1) > gainAt(curve, 0);
        figures.kind = opens ? "gate" : "compressor";
        figures.makeup_db = gainAt(curve, opens ? curve.size() - 1 : 0);
        figures.threshold_db = (figures.jump->first + figures.jump->second) / 2;
        figures.range_db = rangeFrom(*figures.makeup_db);
        return figures;
    }
    const KneeModel model = fitted(curve);
    figures.kind = kindOf(model);
    figures.threshold_db = model.threshold_db;
    figures.knee_db = model.knee_db;
    figures.makeup_db = model.makeup_db;
    figures.range_db = rangeFrom(model.makeup_db);
    figures.misfit_db = misfit(model, curve);
    if (figures.kind != "limiter")
        figures.ratio = model.slope < 1 ? 1 / model.slope : model.slope;
    return figures;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/level_curve.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <gsl/gsl_multifit_nlinear.h>
#include <memory>
#include <vector>

namespace hr::bench {

namespace {

/// A gain that moves by less than this over the whole curve is none.
constexpr double linear_within_db = 0.1;
constexpr double steep_db = 3; // from one level to the next
/// Flatter than this above the threshold is a limiter, steeper below it a gate.
constexpr double limiting_ratio = 20.1;
constexpr double widest_knee_db = 60;
constexpr double unlimited_db = 200; // a range that is none
constexpr double least_neutral_db = 2;
/// A curve is left alone at an end where its gain stays within this over so many dB.
constexpr double left_alone_within_db = 0.02;
constexpr double left_alone_over_db = 6;
/// Of the two ends of a curve, one is this much nearer to 0 dB.
constexpr double plainly_nearer_db = 1;
/// A model of the other end has to fit better by this.
constexpr double other_end_db = 0.5;
/// A model whose neutral part is not seen has to fit better by this.
constexpr double unseen_neutral_db = 0.1;
/// A gain that wanders from level to level within so much, of which no model tells half, does not go with them.
constexpr double wanders_within_db = 1;
constexpr double told_by_model = 0.5;

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

/// What the solver moves: threshold, slope, knee, make-up and, where the curve levels off, range. Slope and
/// knee go in as roots, so that they stay positive.
struct KneeFit {
    const LevelCurve& curve;
    KneeModel model;
    bool levels_off = false;

    std::size_t unknowns() const { return levels_off ? 5 : 4; }
    std::array<double, 5> unknown() const
    {
        return {model.threshold_db, std::sqrt(model.slope), std::sqrt(model.knee_db), model.makeup_db,
                model.range_db};
    }
    void take(const double* x)
    {
        model.threshold_db = x[0];
        model.slope = x[1] * x[1];
        model.knee_db = std::min(x[2] * x[2], widest_knee_db);
        model.makeup_db = x[3];
        if (levels_off)
            model.range_db = std::abs(x[4]);
    }
};

int residuals(const gsl_vector* x, void* data, gsl_vector* off)
{
    auto& fit = *static_cast<KneeFit*>(data);
    fit.take(x->data);
    for (std::size_t i = 0; i < fit.curve.size(); ++i) {
        const auto& [in, out] = fit.curve[i];
        gsl_vector_set(off, i, in + fit.model.gainDb(in) - out);
    }
    return GSL_SUCCESS;
}

/// Least squares from one starting point until it has converged, by Levenberg and Marquardt.
void improve(KneeFit& fit)
{
    auto x = fit.unknown();
    gsl_multifit_nlinear_fdf problem{};
    problem.f = residuals;
    problem.n = fit.curve.size();
    problem.p = fit.unknowns();
    problem.params = &fit;
    gsl_multifit_nlinear_parameters parameters = gsl_multifit_nlinear_default_parameters();
    const std::unique_ptr<gsl_multifit_nlinear_workspace, decltype(&gsl_multifit_nlinear_free)> work(
        gsl_multifit_nlinear_alloc(gsl_multifit_nlinear_trust, &parameters, problem.n, problem.p),
        gsl_multifit_nlinear_free);
    const auto start = gsl_vector_view_array(x.data(), problem.p);
    gsl_multifit_nlinear_init(&start.vector, &problem, work.get());
    int why = 0;
    gsl_multifit_nlinear_driver(200, 1e-10, 1e-10, 0, nullptr, nullptr, &why, work.get());
    fit.take(gsl_multifit_nlinear_position(work.get())->data);
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

/// The largest distance of the gain from a neutral one.
double rangeFrom(double neutral_db, const Shape& shape)
{
    return std::max(shape.highest_gain - neutral_db, neutral_db - shape.lowest_gain);
}

/// Whether levels that are left alone are among those that were tried.
bool neutralIsSeen(const KneeModel& model, const LevelCurve& curve)
{
    return model.bends_below ? model.threshold_db + model.knee_db / 2 < curve.back().first - least_neutral_db
                             : model.threshold_db - model.knee_db / 2 > curve.front().first + least_neutral_db;
}

struct Fitted {
    KneeModel model;
    double off = 1e9; ///< what it does not tell, dB RMS, and what speaks against it
};

/// A start at the place where the gain moves fastest: a short steep slope is not found from afar.
KneeModel fromSteepest(bool below, const LevelCurve& curve)
{
    const auto slope = [&](std::size_t i) {
        return (curve[i].second - curve[i - 1].second) / (curve[i].first - curve[i - 1].first);
    };
    std::size_t steepest = 1;
    for (std::size_t i = 2; i < curve.size(); ++i)
        if (std::abs(slope(i) - 1) > std::abs(slope(steepest) - 1))
            steepest = i;
    return {.bends_below = below,
            .threshold_db = curve[below ? steepest : steepest - 1].first,
            .slope = std::max(0.01, slope(steepest)),
            .knee_db = 0.5};
}

/// Where the fit starts from.
std::vector<KneeModel> starts(bool below, const LevelCurve& curve)
{
    const double low = curve.front().first;
    const double high = curve.back().first;
    std::vector<KneeModel> from{fromSteepest(below, curve)};
    for (const double part : {0.1, 0.25, 0.5, 0.75, 0.9})
        for (const double knee_db : {2.0, 20.0})
            for (const double slope : below ? std::array{0.5, 3.0} : std::array{0.2, 0.7})
                from.push_back({below, low + part * (high - low), slope, knee_db});
    return from;
}

/// The best of several starts: one bend, above or below, with and without an end to it.
Fitted fittedOn(bool below, const LevelCurve& curve)
{
    Fitted best;
    const double neutral_db = gainAt(curve, below ? curve.size() - 1 : 0);
    const double farthest_db = gainAt(curve, below ? 0 : curve.size() - 1);
    for (const bool levels_off : {false, true})
        for (const KneeModel& start : starts(below, curve)) {
            KneeFit fit{curve, start, levels_off};
            fit.model.makeup_db = neutral_db;
            fit.model.range_db = levels_off ? std::abs(farthest_db - neutral_db) : unlimited_db;
            improve(fit);
            // An end of the range must earn its place: it always fits a little better. A bend with two ends can
            // be told from either: the neutral one is the one nearer to 0 dB. And what is called neutral has to
            // be seen.
            const double off = misfit(fit.model, curve) + (levels_off ? 0.01 : 0) +
                               0.001 * std::abs(fit.model.makeup_db) +
                               (neutralIsSeen(fit.model, curve) ? 0 : unseen_neutral_db);
            if (off < best.off)
                best = {fit.model, off};
        }
    return best;
}

/// Which ends of a curve are left alone.
struct LeftAlone {
    bool low = false, high = false;
};

LeftAlone leftAlone(const LevelCurve& curve, double noise_db, double over_db)
{
    const double within_db = std::max(left_alone_within_db, 3 * noise_db);
    const std::size_t last = curve.size() - 1;
    LeftAlone alone{true, true};
    for (std::size_t i = 0; i < curve.size(); ++i) {
        if (curve[i].first - curve[0].first <= over_db)
            alone.low = alone.low && std::abs(gainAt(curve, i) - gainAt(curve, 0)) < within_db;
        if (curve[last].first - curve[i].first <= over_db)
            alone.high = alone.high && std::abs(gainAt(curve, i) - gainAt(curve, last)) < within_db;
    }
    return alone;
}

/// From the end that is left alone, although a very wide knee may fit better from the other (a compressor and
/// the dry sound together); of two such ends the one nearer to 0 dB; else from whichever fits better.
KneeModel fitted(const LevelCurve& curve, double noise_db)
{
    Fitted above = fittedOn(false, curve);
    Fitted below = fittedOn(true, curve);
    auto [low, high] = leftAlone(curve, noise_db, left_alone_over_db);
    const double nearer_db = std::abs(gainAt(curve, curve.size() - 1)) - std::abs(gainAt(curve, 0));
    // Of a threshold near the lowest level, with a range that is soon used up, the quiet end is hardly seen.
    if (high && nearer_db > plainly_nearer_db)
        low = low || leftAlone(curve, noise_db, least_neutral_db).low;
    if (low && (!high || nearer_db > plainly_nearer_db))
        below.off += other_end_db;
    else if (high && (!low || nearer_db < -plainly_nearer_db))
        above.off += other_end_db;
    return above.off <= below.off ? above.model : below.model;
}

double meanGainDb(const LevelCurve& curve)
{
    double sum = 0;
    for (std::size_t i = 0; i < curve.size(); ++i)
        sum += gainAt(curve, i);
    return sum / static_cast<double>(curve.size());
}

/// How far the gains are from their mean, RMS.
double spreadDb(const LevelCurve& curve)
{
    const double mean = meanGainDb(curve);
    double sum = 0;
    for (std::size_t i = 0; i < curve.size(); ++i)
        sum += (gainAt(curve, i) - mean) * (gainAt(curve, i) - mean);
    return std::sqrt(sum / static_cast<double>(curve.size()));
}

std::string kindOf(const KneeModel& model)
{
    if (model.bends_below)
        return model.slope < 1 ? "upward" : model.slope > limiting_ratio ? "gate" : "expander";
    return model.slope > 1 ? "expander" : model.slope < 1 / limiting_ratio ? "limiter" : "compressor";
}

/// What the model says, but for the range.
void putModel(LevelFigures& figures, const LevelCurve& curve)
{
    const KneeModel& model = *figures.model;
    figures.kind = kindOf(model);
    figures.threshold_db = model.threshold_db;
    figures.knee_db = model.knee_db;
    figures.makeup_db = model.makeup_db;
    figures.misfit_db = misfit(model, curve);
    figures.neutral_unseen = !neutralIsSeen(model, curve);
    const std::size_t last = curve.size() - 1;
    const std::size_t far = model.bends_below ? 0 : last;
    const double goes_on_db = gainAt(curve, model.bends_below ? 1 : last - 1) - gainAt(curve, far);
    figures.other_end_nearer = std::abs(goes_on_db) < left_alone_within_db &&
                               std::abs(model.makeup_db) - std::abs(gainAt(curve, far)) > plainly_nearer_db;
    if (model.threshold_db < curve.front().first || model.threshold_db > curve.back().first)
        figures.threshold_db = figures.knee_db = std::nullopt;
    figures.ratio.reset();
    if (figures.kind != "limiter")
        figures.ratio = model.slope < 1 ? 1 / model.slope : model.slope;
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

LevelFigures refined(LevelFigures figures, LevelCurve curve, const LevelCurve& further)
{
    if (!figures.model)
        return figures;
    curve.insert(curve.end(), further.begin(), further.end());
    std::ranges::sort(curve);
    KneeModel best = *figures.model;
    for (const double knee_db : {0.02, 0.3, 1.0, figures.model->knee_db}) {
        KneeFit fit{curve, *figures.model, figures.model->range_db < unlimited_db};
        fit.model.knee_db = knee_db;
        improve(fit);
        if (misfit(fit.model, curve) < misfit(best, curve))
            best = fit.model;
    }
    figures.model = best;
    putModel(figures, curve);
    return figures;
}

std::optional<std::pair<double, double>> steepPart(const LevelCurve& curve)
{
    std::vector<std::size_t> steep;
    for (std::size_t i = 1; i < curve.size(); ++i)
        if (std::abs(gainAt(curve, i) - gainAt(curve, i - 1)) > steep_db)
            steep.push_back(i);
    if (steep.empty() || steep.size() > 2 || steep.back() - steep.front() != steep.size() - 1)
        return std::nullopt;
    return std::pair(curve[steep.front() - 1].first, curve[steep.back()].first);
}

LevelFigures readJump(const LevelCurve& curve, std::pair<double, double> jump)
{
    LevelFigures figures;
    figures.jump = jump;
    const bool opens = gainAt(curve, curve.size() - 1) > gainAt(curve, 0);
    figures.kind = opens ? "gate" : "compressor";
    figures.makeup_db = gainAt(curve, opens ? curve.size() - 1 : 0);
    figures.threshold_db = (jump.first + jump.second) / 2;
    figures.range_db = rangeFrom(*figures.makeup_db, shapeOf(curve));
    return figures;
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
    figures.model = fitted(curve, noise_db);
    if (shape.highest_gain - shape.lowest_gain < wanders_within_db &&
        misfit(*figures.model, curve) > told_by_model * spreadDb(curve)) {
        figures.model.reset();
        figures.kind = "linear";
        figures.makeup_db = meanGainDb(curve);
        figures.misfit_db = spreadDb(curve);
        return figures;
    }
    figures.range_db = rangeFrom(figures.model->makeup_db, shape);
    putModel(figures, curve);
    return figures;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/stereo.h"

#include "bench/impulse.h"
#include "bench/linear_level.h"
#include "bench/magnitude.h"
#include "bench/spectrum.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

/// What stays this far below what it is compared with is the arithmetic's.
constexpr double nothing_crosses_db = -120;
constexpr int width_per_octave = 12;
/// Lower it is the end of the sweep.
constexpr double lowest_mono_hz = 20;
/// What two sweeps have in common; with less it is noise.
constexpr double least_common = 0.5;

constexpr double band_step_hz = 5;

/// Mean power of the response between 20 Hz and 20 kHz, evenly by frequency as white noise would have it.
double bandPower(const Spectrum& spectrum, double rate_hz)
{
    const double high_hz = std::min(20000.0, 0.45 * rate_hz);
    double sum = 0;
    double count = 0;
    for (double f = 20; f < high_hz; f += band_step_hz, ++count)
        sum += signal::dbToPower(spectrum.magnitudeDb(f));
    return sum / count;
}

/// Whether two responses are the same by more than chance, the strongest twentieth of the band left aside: hum
/// is strong in a few places, and may be in step there.
bool haveInCommon(const Spectrum& one, const Spectrum& other, double high_hz)
{
    std::vector<std::pair<double, double>> points; // power, and what of it is common
    for (const double f : logarithmicGrid(20, high_hz, 48))
        points.emplace_back(std::norm(one.at(f)), (std::conj(one.at(f)) * other.at(f)).real());
    std::ranges::sort(points);
    points.resize(points.size() - points.size() / 20);
    double power = 0;
    double common = 0;
    for (const auto& [its_power, its_common] : points) {
        power += its_power;
        common += its_common;
    }
    return common > least_common * power;
}

/// The same of what both have in common; 0 where that is only by chance: noise, hum, an offset.
double commonPower(const std::vector<double>& response, const std::vector<double>& again, double rate_hz)
{
    const Spectrum one(response, rate_hz);
    const Spectrum other(again, rate_hz);
    const double high_hz = std::min(20000.0, 0.45 * rate_hz);
    if (!haveInCommon(one, other, high_hz))
        return 0;
    double common = 0;
    double count = 0;
    for (double f = 20; f < high_hz; f += band_step_hz, ++count)
        common += (std::conj(one.at(f)) * other.at(f)).real();
    return std::max(0.0, common / count);
}

/// The first two outputs, each as the linear part of its response.
struct BothSides {
    std::vector<double> left, right;
};

FaultOr<BothSides> answerTo(Subject& subject, double left_gain, double right_gain, double level_dbfs,
                            bool again = false)
{
    std::vector<double> gains(subject.info().audio_in, 0.0);
    gains[0] = left_gain;
    gains[1] = right_gain;
    auto swept = impulseResponses(
        subject, {.level_dbfs = level_dbfs, .input_gains = gains, .fresh = !again, .another = again});
    if (!swept)
        return tl::make_unexpected(swept.error());
    const double rate_hz = subject.conditions().sample_rate_hz;
    return BothSides{linearPart(swept->outputs[0], swept->frames, rate_hz),
                     linearPart(swept->outputs[1], swept->frames, rate_hz)};
}

std::vector<double> halfDifference(const std::vector<double>& a, const std::vector<double>& b)
{
    std::vector<double> half(a.size());
    std::ranges::transform(a, b, half.begin(), [](double one, double other) { return (one - other) / 2; });
    return half;
}

/// The louder of what leaves the wrong side, each against the right one.
FaultOr<void> putCrosstalk(Reading& reading, Subject& subject, double level_dbfs)
{
    double worst_db = signal::no_level_db;
    bool heard = false;
    for (const bool left : {true, false}) {
        auto answer = answerTo(subject, left ? 1 : 0, left ? 0 : 1, level_dbfs);
        if (!answer)
            return tl::make_unexpected(answer.error());
        const auto& wrong_side = left ? answer->right : answer->left;
        const double rate_hz = subject.conditions().sample_rate_hz;
        const double own = bandPower(Spectrum(left ? answer->left : answer->right, rate_hz), rate_hz);
        double other = 0;
        if (std::ranges::any_of(wrong_side, [](double sample) { return sample != 0; })) {
            auto again = answerTo(subject, left ? 1 : 0, left ? 0 : 1, level_dbfs, true);
            if (!again)
                return tl::make_unexpected(again.error());
            other = commonPower(wrong_side, left ? again->right : again->left, rate_hz);
        }
        heard = heard || signal::powerToDb(own) > nothing_crosses_db;
        if (signal::powerToDb(own) > nothing_crosses_db)
            worst_db = std::max(worst_db, signal::powerToDb(other / own));
    }
    const bool crosses = worst_db > nothing_crosses_db;
    reading.put("crosstalk_db", crosses ? std::optional(worst_db) : std::nullopt,
                heard ? "nothing crosses from one side to the other" : "one side alone does not come through");
    return {};
}

/// Side against mid, by frequency.
FaultOr<void> putWidth(Reading& reading, Subject& subject, double level_dbfs)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    auto mid = answerTo(subject, 1, 1, level_dbfs);
    if (!mid)
        return tl::make_unexpected(mid.error());
    auto side = answerTo(subject, 1, -1, level_dbfs);
    if (!side)
        return tl::make_unexpected(side.error());
    const Spectrum lefts(mid->left, rate_hz);
    const Spectrum rights(mid->right, rate_hz);
    const Spectrum mids = Spectrum::mean(lefts, rights);
    const Spectrum sides(halfDifference(side->left, side->right), rate_hz);
    const MagnitudeDb width = [&](double f) { return sides.magnitudeDb(f) - mids.magnitudeDb(f); };
    const MagnitudeFigures figures = readMagnitude(width, rate_hz);
    const auto audible = [&](const Spectrum& s) { return s.magnitudeDb(1000) > nothing_crosses_db; };
    const bool has_mid = audible(mids);
    const bool has_side = audible(sides);
    const std::string why =
        has_mid ? "no side signal comes through: its output is mono" : "no mid signal comes through";
    reading.put("width_db", has_mid && has_side ? std::optional(figures.passband_db) : std::nullopt, why);
    // Of a filter in both, the ratio knows nothing.
    const bool falls = figures.corner_low_hz && *figures.corner_low_hz >= lowest_mono_hz;
    reading.put("mono_below_hz", has_mid && has_side && falls ? figures.corner_low_hz : std::nullopt,
                has_mid && has_side ? "the side keeps its level against the mid down to the lowest frequencies"
                                    : why);
    const double left = bandPower(lefts, rate_hz);
    const double right = bandPower(rights, rate_hz);
    reading.put("balance_db",
                left > 0 && right > 0 ? std::optional(signal::powerToDb(right / left)) : std::nullopt,
                "one side stays silent");
    const auto grid = logarithmicGrid(20, 0.45 * rate_hz, width_per_octave);
    if (left > 0 && right > 0) {
        Curve& balance = reading.series["balance"] = {"frequency_hz", "balance_db", {}};
        for (const double f : grid)
            balance.points.emplace_back(f, rights.magnitudeDb(f) - lefts.magnitudeDb(f));
    }
    if (!has_mid || !has_side)
        return {};
    Curve& series = reading.series["width"] = {"frequency_hz", "width_db", {}};
    for (const double f : grid)
        series.points.emplace_back(f, width(f));
    return {};
}

/// By thirds of an octave, where something sounds.
Curve correlationOver(std::span<const float> left, std::span<const float> right, double rate_hz)
{
    constexpr double least_share = 1e-8; // of the loudest band
    const auto a = signal::forwardTransform(asDoubles(left));
    const auto b = signal::forwardTransform(asDoubles(right));
    const double bin_hz = rate_hz / static_cast<double>(left.size());
    struct Band {
        double centre_hz, both, left, right;
    };
    std::vector<Band> bands;
    for (const double centre_hz : logarithmicGrid(25, 0.4 * rate_hz, 3)) {
        Band band{centre_hz, 0, 0, 0};
        const auto last = static_cast<std::size_t>(centre_hz * std::exp2(1.0 / 6) / bin_hz);
        for (auto k = static_cast<std::size_t>(centre_hz * std::exp2(-1.0 / 6) / bin_hz) + 1;
             k <= last && k < a.size(); ++k) {
            band.both += (a[k] * std::conj(b[k])).real();
            band.left += std::norm(a[k]);
            band.right += std::norm(b[k]);
        }
        bands.push_back(band);
    }
    double loudest = 0;
    for (const Band& band : bands)
        loudest = std::max({loudest, band.left, band.right});
    Curve curve{"frequency_hz", "correlation", {}};
    for (const Band& band : bands)
        if (std::min(band.left, band.right) > least_share * loudest)
            curve.points.emplace_back(band.centre_hz, band.both / std::sqrt(band.left * band.right));
    return curve;
}

FaultOr<void> putProgramme(Reading& reading, Subject& subject)
{
    if (auto started = subject.restart(); !started)
        return started;
    auto out = subject.process({.main = programmeFor(subject.conditions(), subject.info().audio_in)});
    if (!out)
        return tl::make_unexpected(out.error());
    const auto left = std::as_const(*out).channel(0);
    const auto right = std::as_const(*out).channel(1);
    double both = 0;
    for (std::size_t i = 0; i < left.size(); ++i)
        both += static_cast<double>(left[i]) * right[i] / static_cast<double>(left.size());
    const double l = signal::meanSquare(left);
    const double r = signal::meanSquare(right);
    const bool sounds = l > 0 && r > 0;
    if (sounds)
        reading.series["correlation"] = correlationOver(left, right, subject.conditions().sample_rate_hz);
    reading.put("correlation", sounds ? std::optional(both / std::sqrt(l * r)) : std::nullopt,
                "one side stays silent");
    const double mono = (l + r + 2 * both) / 4;
    reading.put("mono_loss_db",
                mono > 0 ? std::optional(std::max(0.0, signal::powerToDb((l + r) / 2 / mono))) : std::nullopt,
                l + r > 0 ? "nothing is left of it in mono" : "the programme does not come through");
    return {};
}

} // namespace

const std::vector<FigureInfo>& stereoFigures()
{
    const std::string two = "where it has two inputs and two outputs";
    static const std::vector<FigureInfo> figures{
        {.key = "crosstalk_db",
         .name = "crosstalk",
         .unit = "dB",
         .digits = 1,
         .better = Better::Lower,
         .allowed = {0.1, 0},
         .definition =
             "one side fed alone: what leaves the other side against what leaves its own, 20 Hz to 20 "
             "kHz; the worse of both",
         .source = "IEC 60268-3",
         .applies = two},
        {.key = "width_db",
         .name = "width",
         .unit = "dB",
         .digits = 2,
         .better = Better::NearZero,
         .allowed = {0.1, 0},
         .definition = "gain of the side signal against that of the mid signal: the level that most of their "
                       "ratio has, evenly by octaves",
         .applies = two},
        {.key = "balance_db",
         .name = "balance",
         .unit = "dB",
         .digits = 2,
         .better = Better::NearZero,
         .allowed = {0.1, 0},
         .definition = "level of the right against the left with the same on both, positive when the right is "
                       "louder",
         .applies = two},
        {.key = "correlation",
         .name = "correlation",
         .digits = 3,
         .allowed = {0.01, 0},
         .definition = "of both outputs, with the same programme on both inputs: 1 the same, 0 unrelated, -1 "
                       "against each other",
         .applies = two},
        {.key = "mono_loss_db",
         .name = "loss in mono",
         .unit = "dB",
         .digits = 2,
         .better = Better::NearZero,
         .allowed = {0.1, 0},
         .definition = "how far half the sum of both outputs lies below their mean power, with the bench's "
                       "programme on both inputs",
         .applies = two},
        {.key = "mono_below_hz",
         .name = "mono below",
         .unit = "Hz",
         .digits = 1,
         .allowed = {0, 0.01},
         .definition =
             "below it the side signal lies more than 3.01 dB below what it has elsewhere against the "
             "mid signal",
         .applies = "where low frequencies are made mono"}};
    return figures;
}

FaultOr<Reading> measureStereo(Subject& subject)
{
    Reading reading;
    if (subject.info().audio_in < 2 || subject.info().audio_out < 2) {
        putNone(reading, stereoFigures(), "it does not have two inputs and two outputs");
        reading.applies = false;
        return reading;
    }
    const auto linear_dbfs = linearLevel(subject);
    if (!linear_dbfs)
        return tl::make_unexpected(linear_dbfs.error());
    const double level_dbfs = *linear_dbfs;
    reading.conditions = {{"level_dbfs", level_dbfs}};
    if (auto done = putCrosstalk(reading, subject, level_dbfs); !done)
        return tl::make_unexpected(done.error());
    if (auto done = putWidth(reading, subject, level_dbfs); !done)
        return tl::make_unexpected(done.error());
    if (auto done = putProgramme(reading, subject); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

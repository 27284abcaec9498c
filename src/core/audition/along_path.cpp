// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/along_path.h"

#include "bench/curve.h"
#include "bench/magnitude.h"
#include "bench/response.h"
#include "bench/stepped_tone.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

using hosting::FaultOr;

constexpr int response_per_octave = 12;
/// A slope that is flatter has no ratio to speak of.
constexpr double flattest_slope = 1e-4;

/// As the processor's own noise lets it.
FaultOr<void> putTone(PathPoint& point, bench::Subject& subject, const PathQuestion& wanted)
{
    constexpr double about_s = 0.05;
    const double cycles = std::max(1.0, std::round(wanted.frequency_hz * about_s));
    bench::SteppedTone tone(subject, wanted.frequency_hz, bench::SteppedInput::Main,
                            cycles / wanted.frequency_hz);
    if (auto known = tone.getToKnow(wanted.level_dbfs); !known)
        return tl::make_unexpected(known.error());
    std::array<double, 3> out_dbfs{};
    for (std::size_t i = 0; i < out_dbfs.size(); ++i) {
        auto settled = tone.settled(wanted.level_dbfs - 1 + static_cast<double>(i));
        if (!settled)
            return tl::make_unexpected(settled.error());
        out_dbfs[i] = bench::acLevelDbfs(*settled);
    }
    constexpr double silent_dbfs = -190;
    if (out_dbfs[1] < silent_dbfs)
        return {};
    point.gain_db = out_dbfs[1] - wanted.level_dbfs;
    if (const double slope = (out_dbfs[2] - out_dbfs[0]) / 2; std::abs(slope) > flattest_slope)
        point.ratio = 1 / slope;
    return {};
}

FaultOr<void> putResponse(PathPoint& point, bench::Subject& subject)
{
    auto reading = bench::measureResponse(subject);
    if (!reading)
        return tl::make_unexpected(reading.error());
    const bench::Points* magnitude = bench::pointsOf(*reading, "magnitude");
    if (!magnitude)
        return {};
    for (const double hz :
         bench::logarithmicGrid(20, std::min(20000.0, magnitude->back().first), response_per_octave))
        point.response.emplace_back(hz, bench::valueAt(*magnitude, hz));
    return {};
}

Result<FaultOr<PathPoint>> pointAfter(const chain::Chain& part, const OpenPart& open,
                                      const std::filesystem::path& file, const PathQuestion& question)
{
    PathPoint point;
    auto sound = playedThrough(part, open, file, question.cancel);
    if (!sound)
        return tl::make_unexpected(sound.error());
    if (!*sound)
        return FaultOr<PathPoint>(tl::make_unexpected(sound->error()));
    point.loudness_lufs = (*sound)->loudness.integrated_lufs;
    point.true_peak_dbtp = (*sound)->loudness.true_peak_dbtp;
    point.sample_peak_dbfs = (*sound)->loudness.sample_peak_dbfs;
    point.latency_samples = (*sound)->latency_samples;
    if (!question.with_tone && !question.with_response)
        return FaultOr<PathPoint>(std::move(point));
    auto opened = open(part);
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return FaultOr<PathPoint>(tl::make_unexpected(opened->error()));
    bench::Conditions conditions;
    conditions.sample_rate_hz = (*sound)->rate_hz;
    auto subject = bench::Subject::open((*opened)->location, (*opened)->values, conditions);
    if (!subject)
        return FaultOr<PathPoint>(tl::make_unexpected(subject.error()));
    if (question.with_tone)
        if (auto put = putTone(point, *subject, question); !put)
            return FaultOr<PathPoint>(tl::make_unexpected(put.error()));
    if (question.with_response)
        if (auto put = putResponse(point, *subject); !put)
            return FaultOr<PathPoint>(tl::make_unexpected(put.error()));
    return FaultOr<PathPoint>(std::move(point));
}

} // namespace

Result<FaultOr<Played>> playedThrough(const chain::Chain& chain, const OpenPart& open,
                                      const std::filesystem::path& file, const std::stop_token& cancel)
{
    auto opened = open(chain);
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return FaultOr<Played>(tl::make_unexpected(opened->error()));
    auto played = playThrough(
        *(*opened)->instance, (*opened)->values, file, [](std::vector<float>&) { return Result<void>(); },
        cancel);
    if (!played)
        return tl::make_unexpected(played.error());
    return played->fault ? FaultOr<Played>(tl::make_unexpected(*played->fault)) : FaultOr<Played>(*played);
}

Result<FaultOr<AlongPath>> alongPath(const chain::Chain& chain, const OpenPart& open,
                                     const std::filesystem::path& file, const PathQuestion& question)
{
    AlongPath path;
    auto nodes = chain::scheduleOf(chain);
    if (!nodes)
        return tl::make_unexpected(nodes.error());
    chain::Chain nothing = chain;
    nothing.nodes.clear();
    nothing.edges.clear();
    std::vector<std::pair<std::string, chain::Chain>> parts{{processors::chain_input, std::move(nothing)}};
    for (const std::string& node : *nodes) {
        auto part = chain::upTo(chain, node);
        if (!part)
            return tl::make_unexpected(part.error());
        parts.emplace_back(node, std::move(*part));
    }
    for (const auto& [after, part] : parts) {
        if (question.cancel.stop_requested())
            return FaultOr<AlongPath>(hosting::fault(hosting::Phase::Run, hosting::Cause::Cancelled, {}));
        auto point = pointAfter(part, open, file, question);
        if (!point)
            return tl::make_unexpected(point.error());
        if (!*point)
            return FaultOr<AlongPath>(tl::make_unexpected(point->error()));
        (*point)->after = after;
        if ((*point)->overloads() && !path.overload_arises)
            path.overload_arises = after;
        if (question.point)
            question.point(**point, parts.size());
        path.points.push_back(std::move(**point));
    }
    path.overload_heard = path.points.back().overloads();
    if (!nodes->empty() && !chain::endsWith(chain, nodes->back())) {
        auto whole = playedThrough(chain, open, file, question.cancel);
        if (!whole)
            return tl::make_unexpected(whole.error());
        if (!*whole)
            return FaultOr<AlongPath>(tl::make_unexpected(whole->error()));
        path.overload_heard = (*whole)->loudness.true_peak_dbtp.value_or(-1) > 0;
    }
    return FaultOr<AlongPath>(std::move(path));
}

} // namespace hr::audition

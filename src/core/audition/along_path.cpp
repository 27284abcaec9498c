// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/along_path.h"

#include "bench/curve.h"
#include "bench/magnitude.h"
#include "bench/response.h"
#include "bench/stepped_tone.h"
#include "hosting/worker_folder.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

namespace hr::audition {

namespace {

using hosting::FaultOr;

constexpr int response_per_octave = 12;
/// A slope that is flatter has no ratio to speak of.
constexpr double flattest_slope = 1e-4;

/// Of what goes through so many cycles in the stretch.
double amplitudeAt(std::span<const double> stretch, double cycles)
{
    std::complex<double> sum = 0;
    const double step = -2 * std::numbers::pi * cycles / static_cast<double>(stretch.size());
    for (std::size_t i = 0; i < stretch.size(); ++i)
        sum += stretch[i] * std::polar(1.0, step * static_cast<double>(i));
    return std::abs(sum);
}

void putHarmonics(PathPoint& point, std::span<const double> stretch, double cycles)
{
    constexpr double over_noise = 3; // as high as what stands beside it, a harmonic is noise
    const double fundamental = amplitudeAt(stretch, cycles);
    if (fundamental <= 0)
        return;
    for (std::size_t order = 2; order <= most_harmonics + 1; ++order) {
        const double at = cycles * static_cast<double>(order);
        if (at >= 0.5 * static_cast<double>(stretch.size()))
            return;
        const double found = amplitudeAt(stretch, at);
        const double beside = std::max({amplitudeAt(stretch, at - 3), amplitudeAt(stretch, at - 2),
                                        amplitudeAt(stretch, at + 2), amplitudeAt(stretch, at + 3)});
        const double db = signal::linearToDb(found / fundamental);
        const bool is_one = db >= least_harmonic_db && found > over_noise * beside;
        point.harmonics_db.push_back(is_one ? std::optional(db) : std::nullopt);
    }
}

FaultOr<void> putInOut(PathPoint& point, bench::SteppedTone& tone)
{
    constexpr double lowest_dbfs = -60, step_db = 5;
    for (double in_dbfs = lowest_dbfs; in_dbfs <= 0; in_dbfs += step_db) {
        auto settled = tone.settled(in_dbfs);
        if (!settled)
            return tl::make_unexpected(settled.error());
        point.in_out.emplace_back(in_dbfs, bench::acLevelDbfs(*settled));
    }
    return {};
}

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
        if (i == 1 && wanted.with_in_out)
            putHarmonics(point, *settled,
                         std::round(tone.frequencyHz() * static_cast<double>(settled->size()) /
                                    subject.conditions().sample_rate_hz));
    }
    constexpr double silent_dbfs = -190;
    if (out_dbfs[1] < silent_dbfs) {
        point.harmonics_db.clear();
        return {};
    }
    point.gain_db = out_dbfs[1] - wanted.level_dbfs;
    if (const double slope = (out_dbfs[2] - out_dbfs[0]) / 2; std::abs(slope) > flattest_slope)
        point.ratio = 1 / slope;
    if (wanted.with_in_out)
        return putInOut(point, tone);
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

PathPoint ofFile(const Played& sound)
{
    PathPoint point;
    point.loudness_lufs = sound.loudness.integrated_lufs;
    point.true_peak_dbtp = sound.loudness.true_peak_dbtp;
    point.sample_peak_dbfs = sound.loudness.sample_peak_dbfs;
    point.latency_samples = sound.latency_samples;
    point.core_percent = sound.core_percent;
    return point;
}

Result<FaultOr<PathPoint>> pointAfter(const chain::Chain& part, const OpenPart& open,
                                      const std::filesystem::path& file, const PathQuestion& question)
{
    auto sound = playedThrough(part, open, file, question.cancel);
    if (!sound)
        return tl::make_unexpected(sound.error());
    if (!*sound)
        return FaultOr<PathPoint>(tl::make_unexpected(sound->error()));
    PathPoint point = ofFile(**sound);
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
                                      const std::filesystem::path& file, const std::stop_token& cancel,
                                      const std::filesystem::path& out)
{
    auto opened = open(chain);
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return FaultOr<Played>(tl::make_unexpected(opened->error()));
    std::optional<signal::AudioFileWriter> writer;
    if (!out.empty()) {
        const auto in = signal::AudioFileReader::open(file);
        auto created =
            in ? signal::AudioFileWriter::create(out, 2, in->sampleRateHz()) : tl::make_unexpected(in.error());
        if (!created)
            return tl::make_unexpected(created.error());
        writer = std::move(*created);
    }
    auto played = playThrough(
        *(*opened)->instance, (*opened)->values, file,
        [&](std::vector<float>& frames) {
            return writer ? writer->write(frames.data(), frames.size() / 2) : Result<void>();
        },
        cancel);
    if (!played)
        return tl::make_unexpected(played.error());
    if (played->fault)
        return FaultOr<Played>(tl::make_unexpected(*played->fault));
    if (writer)
        if (auto finished = writer->finish(); !finished)
            return tl::make_unexpected(finished.error());
    return FaultOr<Played>(std::move(*played));
}

namespace {

/// Points of a chain one after the other, each from what there is before it.
class PathWalk {
public:
    PathWalk(const chain::Chain& chain, const OpenPart& open, std::filesystem::path file,
             const PathQuestion& question)
        : m_chain(chain), m_open(open), m_file(std::move(file)), m_question(question),
          m_in_turn(!question.with_tone && !question.with_response && chain::runsInTurn(chain))
    {
        if (m_in_turn)
            m_folder.make();
        m_in_turn = m_in_turn && !m_folder.path().empty();
    }

    Result<FaultOr<PathPoint>> after(const std::string& node)
    {
        chain::Chain part = m_chain;
        if (node == processors::chain_input) {
            part.nodes.clear();
            part.edges.clear();
        } else if (m_in_turn) {
            part = chain::onlyStages(m_chain, {&node, 1});
        } else {
            auto up_to = chain::upTo(m_chain, node);
            if (!up_to)
                return tl::make_unexpected(up_to.error());
            part = std::move(*up_to);
        }
        if (!m_in_turn)
            return pointAfter(part, m_open, m_file, m_question);
        const std::filesystem::path out = m_folder.path() / (m_turn++ % 2 == 0 ? "even.wav" : "odd.wav");
        auto sound = playedThrough(part, m_open, m_file, m_question.cancel, out);
        if (!sound)
            return tl::make_unexpected(sound.error());
        if (!*sound)
            return FaultOr<PathPoint>(tl::make_unexpected(sound->error()));
        m_file = out;
        PathPoint point = ofFile(**sound);
        point.latency_samples = m_latency_samples += point.latency_samples;
        point.core_percent = m_core_percent += point.core_percent;
        return FaultOr<PathPoint>(std::move(point));
    }

private:
    const chain::Chain& m_chain;
    const OpenPart& m_open;
    std::filesystem::path m_file;
    const PathQuestion& m_question;
    bool m_in_turn;
    hosting::WorkerFolder m_folder;
    int m_turn = 0;
    std::size_t m_latency_samples = 0;
    double m_core_percent = 0;
};

} // namespace

Result<FaultOr<AlongPath>> alongPath(const chain::Chain& chain, const OpenPart& open,
                                     const std::filesystem::path& file, const PathQuestion& question)
{
    AlongPath path;
    auto nodes = chain::scheduleOf(chain);
    if (!nodes)
        return tl::make_unexpected(nodes.error());
    nodes->insert(nodes->begin(), processors::chain_input);
    PathWalk walk(chain, open, file, question);
    for (const std::string& after : *nodes) {
        if (question.cancel.stop_requested())
            return FaultOr<AlongPath>(hosting::fault(hosting::Phase::Run, hosting::Cause::Cancelled, {}));
        auto point = walk.after(after);
        if (!point)
            return tl::make_unexpected(point.error());
        if (!*point)
            return FaultOr<AlongPath>(tl::make_unexpected(point->error()));
        (*point)->after = after;
        if ((*point)->overloads() && !path.overload_arises)
            path.overload_arises = after;
        if (question.point)
            question.point(**point, nodes->size());
        path.points.push_back(std::move(**point));
    }
    path.overload_heard = path.points.back().overloads();
    if (nodes->size() > 1 && !chain::endsWith(chain, nodes->back())) {
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

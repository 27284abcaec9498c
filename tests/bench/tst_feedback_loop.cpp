// SPDX-License-Identifier: GPL-3.0-or-later
//
// Delays that feed back through a filter, as impulse responses on paper.
#include "bench/feedback_loop.h"
#include "signal/biquad.h"
#include "support/fixtures.h"

using namespace hr;

namespace {

constexpr double loop_rate_hz = 48000;
constexpr std::size_t frames = 48000;
/// A deconvolved response has its negative time behind it.
constexpr std::size_t with_negative_time = frames + 8192;

using Filters = std::vector<signal::Biquad>;

/// The sound itself, and its echoes on one channel or from side to side.
std::vector<std::vector<double>> echoes(std::size_t delay, double feedback_db, const Filters& filters,
                                        bool before_output, bool side_to_side = false)
{
    std::vector<std::vector<double>> responses(side_to_side ? 2 : 1, std::vector<double>(with_negative_time));
    for (auto& response : responses)
        response[0] = 1;
    std::vector<double> echo(with_negative_time);
    echo[delay] = 1;
    const auto filter = [&] {
        for (const auto& one : filters) {
            signal::BiquadState state;
            for (double& sample : echo)
                sample = state.next(one, sample);
        }
    };
    if (before_output)
        filter();
    for (std::size_t count = 0; (count + 2) * delay < frames && count < 8; ++count) {
        auto& heard = responses[count % responses.size()];
        std::ranges::transform(heard, echo, heard.begin(), std::plus());
        filter();
        for (std::size_t i = frames; i-- > 0;) // and no later
            echo[i] = i >= delay ? echo[i - delay] * std::pow(10, feedback_db / 20) : 0;
    }
    return responses;
}

std::optional<bench::FeedbackLoop> loopIn(const std::vector<std::vector<double>>& responses)
{
    auto arrivals = bench::arrivalsIn(responses, frames, loop_rate_hz);
    if (bench::directSound(arrivals, 0, loop_rate_hz))
        arrivals.list.erase(arrivals.list.begin());
    return bench::findFeedbackLoop(responses, arrivals.list, 0, frames, loop_rate_hz);
}

} // namespace

class tst_feedback_loop : public QObject {
    Q_OBJECT

private slots:
    void theDelayIsThatOfTheLoop_data()
    {
        QTest::addColumn<Filters>("filters");
        QTest::addColumn<int>("delay");
        QTest::addColumn<bool>("before_output");
        const std::vector<std::pair<const char*, Filters>> kinds{
            {"nothing", {}},
            {"low pass, 1.6 kHz", {signal::lowPass(1600, 0.7071, loop_rate_hz)}},
            {"low pass, 700 Hz", {signal::lowPass(700, 0.7071, loop_rate_hz)}},
            {"steep low pass, 4 kHz",
             {signal::lowPass(4000, 0.54, loop_rate_hz), signal::lowPass(4000, 1.31, loop_rate_hz)}},
            {"high pass, 300 Hz", {signal::highPass(300, 0.7071, loop_rate_hz)}},
            {"band",
             {signal::highPass(200, 0.7071, loop_rate_hz), signal::lowPass(3000, 0.7071, loop_rate_hz)}}};
        for (const auto& [name, filters] : kinds)
            for (const int delay : {400, 1111, 6000})
                for (const bool before_output : {false, true})
                    QTest::addRow("%s, %d%s", name, delay, before_output ? ", heard filtered" : "")
                        << filters << delay << before_output;
    }
    void theDelayIsThatOfTheLoop()
    {
        QFETCH(const Filters, filters);
        QFETCH(const int, delay);
        QFETCH(const bool, before_output);
        const auto loop = loopIn(echoes(static_cast<std::size_t>(delay), -5, filters, before_output));
        QVERIFY(loop);
        HR_NEAR(loop->gap_samples, delay, 0.5);
        for (std::size_t i = 0; i < 5; ++i)
            HR_NEAR(loop->echoes.at(i).at, static_cast<double>(delay) * static_cast<double>(i + 1), 0.5);
        // The band is flat to a tenth of a decibel between its corners.
        HR_NEAR(loop->feedback_db.value_or(99), -5, filters.size() > 1 ? 0.1 : 0.05);
    }
    void fromSideToSide()
    {
        const auto loop = loopIn(echoes(2000, -4, {signal::lowPass(2000, 0.7071, loop_rate_hz)}, true, true));
        QVERIFY(loop && !loop->doubtful);
        HR_NEAR(loop->gap_samples, 2000, 0.1);
        HR_NEAR(loop->feedback_db.value_or(99), -4, 0.05);
    }
    /// Of 48 samples and a filter that rings for longer: nothing, or it says that it is not sure.
    void whatRunsTogetherIsInDoubt()
    {
        for (const double corner_hz : {300.0, 700.0, 1200.0}) {
            const auto loop = loopIn(echoes(48, -3, {signal::lowPass(corner_hz, 2, loop_rate_hz)}, true));
            QVERIFY(!loop || loop->doubtful);
        }
    }
    void tapsAreNoLoop()
    {
        std::vector<std::vector<double>> taps(1, std::vector<double>(with_negative_time));
        for (const auto& [at, level] :
             std::map<std::size_t, double>{{0, 1}, {900, 0.7}, {2300, 0.5}, {2900, 0.45}})
            taps[0][at] = level;
        QVERIFY(!loopIn(taps));
    }
};

HR_TEST(tst_feedback_loop)
#include "tst_feedback_loop.moc"

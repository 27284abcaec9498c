// SPDX-License-Identifier: GPL-3.0-or-later
//
// A processor that keeps time, on a lane: it is told the tempo of what plays, and each other one from then on.
#include "audition/matching.h"
#include "bench/subject.h"
#include "driven_engine.h"

using namespace hr;

namespace {

/// Only its echo, a quarter note later, fed back by half.
audition::Treatment echo(const hosting::Location& at, const std::string& of = "")
{
    auto subject = bench::Subject::open(at, {}, {});
    if (!subject)
        qFatal("%s", hosting::sentence(subject.error()).c_str());
    auto values = processors::defaultValues(subject->info());
    values[*subject->info().parameterIndex(of + "beat")] = 3;
    values[*subject->info().parameterIndex(of + "blend_percent")] = 100;
    return {at, values};
}

/// A click at the beginning of three seconds.
std::shared_ptr<const audition::Source> click()
{
    signal::AudioBuffer sound(2, 144000, 48000);
    sound.channel(0)[0] = sound.channel(1)[0] = 0.5F;
    return std::make_shared<const audition::Source>(std::move(sound));
}

constexpr double late_ms = 2; // the limiter at the end looks ahead

/// Where the loudest sample of a pass is.
double loudestMs(const std::vector<float>& stereo)
{
    const auto loudest = std::ranges::max_element(stereo, {}, [](float s) { return std::abs(s); });
    return static_cast<double>((loudest - stereo.begin()) / 2) / 48;
}

} // namespace

class tst_tempo : public QObject {
    Q_OBJECT

private slots:
    void aLaneFollowsIt_data()
    {
        QTest::addColumn<bool>("in_a_chain");
        QTest::newRow("alone") << false;
        QTest::newRow("in a chain") << true;
    }
    void aLaneFollowsIt()
    {
        QFETCH(const bool, in_a_chain);
        const auto quay =
            in_a_chain
                ? echo(test::chainOf(R"([{"id":"d","processor":"lv2:urn:honest-rack:specimens:double-quay"}])",
                                     R"([{"from":"in","to":"d"},{"from":"d","to":"out"}])"),
                       "d.")
                : echo(test::specimenAt("double-quay"));
        const auto source = click();
        source->setTempo(150);
        test::DrivenEngine driven;
        QVERIFY(driven.begin(source, {test::contender(1, quay.location, quay.values)}));
        HR_NEAR(loudestMs(driven.pull(144000)), 400, late_ms);
        source->setTempo(100);
        driven.pull(144000); // what comes back late is still of the other tempo
        HR_NEAR(loudestMs(driven.pull(144000)), 600, late_ms);
        source->setTempo(0); // nobody says another: it keeps the last
        driven.pull(144000);
        HR_NEAR(loudestMs(driven.pull(144000)), 600, late_ms);
    }

    /// In a section of 0.5 s the echo of 400 ms is heard, and that of 600 ms is in the next: what it is matched
    /// by is what the lane plays.
    void soDoesTheMatching()
    {
        const auto source = click();
        const auto quay = echo(test::specimenAt("double-quay"));
        std::vector<double> levels;
        for (const double bpm : {150.0, 300.0, 150.0}) {
            source->setTempo(bpm);
            const auto loop = audition::measureLoop(*source, {0, 24000}, quay);
            HR_VERIFY(loop);
            levels.push_back(loop->levels.loudness_lufs.value());
        }
        HR_NEAR(levels[2], levels[0], 0.01);
        QVERIFY(std::abs(levels[1] - levels[0]) > 0.05);
    }

    void whoAsksForItSaysSo()
    {
        for (const auto& [name, asks] : {std::pair("double-quay", true), {"tidepool-equaliser", false}}) {
            const auto subject = bench::Subject::open(test::specimenAt(name), {}, {});
            HR_VERIFY(subject);
            QCOMPARE(subject->info().takes_tempo, asks);
        }
    }
};

HR_TEST(tst_tempo)
#include "tst_tempo.moc"

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/fit.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "support/fixtures.h"

using namespace hr;
using bench::Fitted;

class tst_fit : public QObject {
    Q_OBJECT

    static Fitted reference(const std::string& id, const std::vector<processors::Setting>& settings)
    {
        for (const processors::ProcessorInfo& info : processors::referenceInfos())
            if (info.id == id)
                return {{id, {}}, info, processors::nearestValues(info, settings)};
        qFatal("no such reference");
    }
    static std::size_t at(const Fitted& of, const char* key) { return *of.info.parameterIndex(key); }

private slots:
    void aFilterIsSetLikeAnother()
    {
        const Fitted like = reference("reference:low-pass", {{"frequency_hz", 2300}});
        const Fitted set = reference("reference:low-pass", {{"frequency_hz", 9000}});
        int gains = 0;
        const auto found = bench::fit(like, set, {{at(set, "frequency_hz")}, {"response"}}, {}, {},
                                      [&](const bench::Fit&) { ++gains; });
        HR_VERIFY(found);
        QVERIFY(gains > 1);
        HR_NEAR(found->values[at(set, "frequency_hz")], 2300, 23);
        QVERIFY(found->before.front().by > 5);
        QVERIFY(found->after.front().by < 0.1);
    }

    void aCompressorIsSetLikeAnother()
    {
        const Fitted like =
            reference("reference:compressor", {{"threshold_db", -24}, {"ratio", 3}, {"attack_ms", 20}});
        const Fitted set =
            reference("reference:compressor", {{"threshold_db", -24}, {"ratio", 8}, {"attack_ms", 20}});
        const auto found = bench::fit(like, set, {{at(set, "ratio")}, {"transfer"}}, {});
        HR_VERIFY(found);
        HR_NEAR(found->values[at(set, "ratio")], 3, 0.15);
    }

    void whatCannotBeAlikeComesAsCloseAsItCan()
    {
        const Fitted like = reference("reference:low-pass", {{"frequency_hz", 1000}});
        const Fitted set = reference("reference:gain", {{"gain_db", 0}});
        const auto found = bench::fit(like, set, {{at(set, "gain_db")}, {"response"}}, {});
        HR_VERIFY(found);
        QVERIFY(found->after.front().by > 10);
        HR_NEAR(found->after.front().by, found->before.front().by, 1e-3); // a level is none of its shape
    }

    void aFaultIsSaidAndCancellingKeepsTheBest()
    {
        const Fitted set = reference("reference:gain", {});
        const Fitted broken{test::faultyAt("exit-in-run"), {}, {0}};
        QVERIFY(!bench::fit(broken, set, {{0}, {"response"}}, {}));
        QVERIFY(!bench::fit(set, set, {{}, {"response"}}, {}));
        std::stop_source stop;
        const Fitted like = reference("reference:peak-filter", {{"gain_db", 9}});
        const Fitted flat = reference("reference:peak-filter", {{"gain_db", 0}});
        const auto stopped =
            bench::fit(like, flat, {{at(flat, "gain_db"), at(flat, "q")}, {"response"}}, {},
                       {stop.get_token(), {}}, [&](const bench::Fit&) { stop.request_stop(); });
        HR_VERIFY(stopped);
        QVERIFY(stopped->cancelled);
        QVERIFY(stopped->after.front().by < stopped->before.front().by);
    }

    void timesAndHarmonicsAreComparedInWhatCanBeNoticed()
    {
        bench::Reading one;
        bench::Reading other;
        one.put("attack_ms", 10.0, {});
        other.put("attack_ms", 11.0, {});
        one.put("release_ms", 100.0, {});
        other.put("release_ms", std::optional<double>(), "nothing recovers");
        const auto times = bench::apart("timing", one, other);
        QVERIFY(times);
        QVERIFY(times->noticeable > 10); // one has none
        other.put("release_ms", 100.0, {});
        HR_NEAR(bench::apart("timing", one, other)->by, 100 * std::log(1.1) / std::sqrt(2), 0.01);
        one.figures["harmonics_db"] = {-40, -60, -90};
        other.figures["harmonics_db"] = {-46, -60, -120};
        HR_NEAR(bench::apart("harmonics", one, other)->by, 6 / std::sqrt(2), 0.01);
        QVERIFY(!bench::apart("response", one, other));
    }
};

HR_TEST(tst_fit)
#include "tst_fit.moc"

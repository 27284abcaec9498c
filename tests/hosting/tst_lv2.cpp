// SPDX-License-Identifier: GPL-3.0-or-later
//
// LV2's features, each by a plug-in that is silent unless the host keeps its word (tests/plugins/features.cpp).
#include "hosting/instance.h"
#include "processors/settings.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::hosting;

namespace {

Location featureAt(const QString& name)
{
    return {"lv2:urn:honest-rack:tests:" + name.toStdString(),
            std::filesystem::path(HR_FAULTY_BUNDLES) / "features.lv2"};
}

} // namespace

class tst_lv2 : public QObject {
    Q_OBJECT

private slots:
    void theHostKeepsItsWord_data()
    {
        QTest::addColumn<QString>("plugin");
        QTest::addColumn<int>("block");
        QTest::addColumn<int>("latency");
        QTest::addColumn<double>("gain");
        QTest::newRow("fixed block") << "fixed-block" << 100 << 100 << 1.0;
        QTest::newRow("power of two") << "power-of-two-block" << 100 << 64 << 1.0;
        QTest::newRow("worker") << "working" << 128 << 0 << 1.0;
        QTest::newRow("default state") << "default-state" << 256 << 0 << 0.25;
    }
    void theHostKeepsItsWord()
    {
        QFETCH(QString, plugin);
        QFETCH(int, block);
        QFETCH(int, latency);
        QFETCH(double, gain);
        auto instance = openInstance(featureAt(plugin));
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, static_cast<std::size_t>(block)}, {}));
        // A length that is not a multiple of any block, so that the last one would be shorter.
        const auto in = signal::slice(test::tone(1000, -6, 0.25), 0, 10007);
        signal::AudioBuffer mono(1, in.frames(), 48000);
        std::ranges::copy(in.channel(0), mono.channel(0).begin());
        const auto out = (*instance)->process(mono);
        HR_VERIFY(out);
        QCOMPARE((*instance)->latencySamples(), static_cast<std::size_t>(latency));
        // The worker's answer counts from the second block on.
        const std::size_t settled = 2 * static_cast<std::size_t>(block);
        for (std::size_t i = settled; i + settled < mono.frames(); ++i)
            QCOMPARE(out->channel(0)[i + static_cast<std::size_t>(latency)],
                     static_cast<float>(gain) * mono.channel(0)[i]);
    }

    void aPresetsInnerStateIsRestored()
    {
        Location location = featureAt(QStringLiteral("default-state"));
        location.preset = "Half";
        auto instance = openInstance(location);
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, {}));
        signal::AudioBuffer ones(1, 512, 48000);
        std::ranges::fill(ones.samples(), 1.0F);
        const auto out = (*instance)->process(ones);
        HR_VERIFY(out);
        QCOMPARE(out->channel(0)[511], 0.5F);
    }

    void aStateIsCarriedToAnother()
    {
        const auto lastSampleOf = [](Instance& instance) -> float {
            if (!instance.start({48000, 256}, {}))
                return -1;
            signal::AudioBuffer ones(1, 512, 48000);
            std::ranges::fill(ones.samples(), 1.0F);
            const auto out = instance.process(ones);
            return out ? out->channel(0)[511] : -1;
        };
        Location location = featureAt(QStringLiteral("default-state"));
        location.preset = "Half";
        auto first = openInstance(location);
        HR_VERIFY(first);
        QCOMPARE(lastSampleOf(**first), 0.5F);
        const auto kept = (*first)->state();
        HR_VERIFY(kept);
        QVERIFY(!kept->empty());
        Location other = featureAt(QStringLiteral("default-state"));
        other.state = *kept;
        auto second = openInstance(other);
        HR_VERIFY(second);
        QCOMPARE(lastSampleOf(**second), 0.5F);
        // In a chain, where each stage has its own.
        Location chain;
        chain.graph.nodes = {{"a"}, {"b"}};
        chain.graph.edges = processors::inSeries(chain.graph.nodes);
        chain.stages = {{"a", other.id, other.bundle, {}, {}, *kept}, {"b", other.id, other.bundle, "Half"}};
        auto both = openInstance(chain);
        HR_VERIFY(both);
        HR_VERIFY((*both)->start({48000, 256}, processors::defaultValues((*both)->info())));
        signal::AudioBuffer ones(2, 512, 48000);
        std::ranges::fill(ones.samples(), 1.0F);
        const auto out = (*both)->process(ones);
        HR_VERIFY(out);
        QCOMPARE(out->channel(1)[511], 0.25F);
        // What is not one is refused, in words.
        other.state = "not a state";
        auto third = openInstance(other);
        HR_VERIFY(third);
        const auto refused = (*third)->start({48000, 256}, {});
        QVERIFY(!refused);
        QVERIFY(refused.error().detail.find("state") != std::string::npos);
    }

    void anOptionNobodyHasIsRefused()
    {
        const auto instance = openInstance(featureAt(QStringLiteral("needs-option")));
        QVERIFY(!instance);
        QCOMPARE(instance.error().cause, Cause::UnsupportedFeature);
        QVERIFY(instance.error().detail.find("an-option-nobody-has") != std::string::npos);
    }
};

HR_TEST(tst_lv2)
#include "tst_lv2.moc"

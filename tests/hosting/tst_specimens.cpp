// SPDX-License-Identifier: GPL-3.0-or-later
//
// Every specimen: described whole, running, and as broken or as sound as it is meant to be.
#include "hosting/scanner.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <map>

using namespace hr;
using namespace hr::hosting;

class tst_specimens : public QObject {
    Q_OBJECT

    std::map<std::string, Finding> m_found;

private slots:
    void initTestCase()
    {
        const TimeLimits quick{std::chrono::milliseconds(2000), std::chrono::milliseconds(700)};
        for (Finding& finding : tryBundle({test::specimens_bundle, {}}, {.limits = quick}).findings)
            m_found[finding.location.id.substr(test::specimen.size())] = std::move(finding);
    }

    void threeAreBrokenAndTheOthersRun()
    {
        QVERIFY(m_found.size() >= 30);
        std::vector<std::string> broken;
        for (const auto& [name, finding] : m_found)
            if (finding.fault)
                broken.push_back(name);
        QCOMPARE(broken, (std::vector<std::string>{"becalmed", "stormglass", "wrecker"}));
    }

    void eachDescribesItself()
    {
        std::map<std::string, int> makers;
        for (const auto& [name, finding] : m_found) {
            QVERIFY2(finding.info, name.c_str());
            QVERIFY2(!finding.info->documentation.empty() && !finding.info->parameters.empty(), name.c_str());
            QVERIFY2(finding.info->kind != "effect", name.c_str());
            ++makers[finding.info->maker];
        }
        QCOMPARE(makers.size(), std::size_t{5});
    }

    void keysChannelsLatencyAndChoicesComeThrough()
    {
        const auto& winch = *m_found.at("winch-bus").info;
        QCOMPARE(winch.key_in, std::size_t{2});
        QCOMPARE(winch.audio_in, std::size_t{2});
        QCOMPARE(winch.parameters[1].choices.size(), std::size_t{3});
        QCOMPARE(winch.parameters[4].scale, processors::Scale::Toggle);
        QCOMPARE(m_found.at("breakwater-mono").info->audio_out, std::size_t{1});
        QCOMPARE(m_found.at("chart-room").info->audio_in, std::size_t{1});
        QCOMPARE(m_found.at("chart-room").info->audio_out, std::size_t{2});
        auto wall = openInstance(test::specimenAt("harbour-wall"));
        HR_VERIFY(wall);
        HR_VERIFY((*wall)->start({48000, 256}, processors::defaultValues((*wall)->info())));
        HR_VERIFY((*wall)->process(test::tone(440, -20, 0.1)));
        QCOMPARE((*wall)->latencySamples(), std::size_t{240}); // 5 ms
    }

    void aKeyIsListenedTo()
    {
        // The main input is quiet; only the key is over the threshold.
        auto winch = openInstance(test::specimenAt("winch-bus"));
        HR_VERIFY(winch);
        const auto values = processors::resolveSettings((*winch)->info(), {}, {{"use_key", 1}});
        const auto quiet = test::tone(1000, -40, 0.5);
        const auto loud = test::tone(300, 0, 0.5);
        for (const bool keyed : {false, true}) {
            HR_VERIFY((*winch)->start({48000, 256}, *values));
            signal::AudioBuffer in(4, quiet.frames(), 48000);
            for (std::size_t c = 0; c < 4; ++c)
                if (c < 2 || keyed)
                    std::ranges::copy(c < 2 ? quiet.channel(c) : loud.channel(c - 2), in.channel(c).begin());
            const auto out = (*winch)->process(in);
            HR_VERIFY(out);
            const double amplitude = test::amplitudeAt(out->channel(0).subspan(12000), 1000, 48000);
            if (keyed)
                QVERIFY(amplitude < 0.007); // 2:1 from 20 dB over: some 9 dB less
            else
                HR_NEAR(amplitude, 0.01, 1e-4);
        }
    }
};

HR_TEST(tst_specimens)
#include "tst_specimens.moc"

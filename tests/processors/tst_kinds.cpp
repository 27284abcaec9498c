// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/kinds.h"
#include "processors/reference/registry.h"
#include "support/fixtures.h"

#include <algorithm>

using namespace hr::processors;

class tst_kinds : public QObject {
    Q_OBJECT

private slots:
    void placedByAllItSays_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("classes");    // with blanks between
        QTest::addColumn<QString>("parameters"); // with commas between
        QTest::addColumn<QString>("kind");
        QTest::addColumn<bool>("proposed");
        const auto row = [](const char* name, const char* classes, const char* parameters, const char* kind,
                            bool proposed = false) {
            QTest::addRow("%s", name) << name << classes << parameters << kind << proposed;
        };
        // Words that tell, whatever the class.
        row("Tarn Reverb", "", "", "reverb");
        row("Quay Noise Gate", "GeneratorPlugin", "", "gate");
        row("Noisegate", "", "", "gate");
        row("Quay Clock with Gate", "", "", "generator");
        row("31 Bands of Reed", "", "", "equaliser");
        row("Noise Reduction", "", "", "restoration");
        row("Quay multiband compressor", "DynamicsPlugin", "", "multiband");
        row("Multiband Equaliser", "DynamicsPlugin", "", "equaliser");
        row("8-band Parametric EQ", "", "", "equaliser");
        row("Reed De-Esser", "DynamicsPlugin", "", "de-esser");
        row("Chorus/Flanger", "ModulatorPlugin", "", "chorus");
        row("StereoDelay", "", "", "delay");
        row("Slapback Echo", "SimulatorPlugin", "", "delay");
        row("Auto-pan", "SpatialPlugin", "", "modulation");
        row("Bass Enhancer Compressor", "", "", "compressor");
        // Two words written as one, or with a hyphen.
        row("Quayverb", "", "", "reverb");
        row("Tapedelay", "", "", "delay");
        row("Buoy ParaEQ", "FilterPlugin", "", "equaliser");
        row("EQ4", "", "", "equaliser");
        row("Freq scope", "", "", "meter");
        row("Auto-Wah", "", "", "filter");
        row("Multichorus", "", "", "chorus");
        row("Tapescope", "", "", "meter");
        row("Lo-Fi Box", "", "", "resolution");
        row("Sample & Hold", "", "", "resolution");
        row("Ping-Pong", "", "", "delay");
        row("Multi-band Limiter", "", "", "multiband");
        // Near each other, and not the same.
        row("De-Reverb", "", "", "restoration");
        row("Gated Reverb", "", "", "reverb");
        row("Levelling Amplifier", "AmplifierPlugin", "", "compressor");
        row("Auto Gain", "", "", "dynamics");
        row("Tilt", "", "", "equaliser");
        row("Early Reflections", "", "", "reverb");
        row("Cross-fader", "", "", "utility", true);
        row("Harmonic Generator", "GeneratorPlugin", "", "saturation");
        row("Harmoniser", "", "", "pitch");
        row("Soft Clip", "", "", "distortion");
        row("De-Clipper", "", "", "restoration");
        row("Oscilloscope", "", "", "meter");
        row("Sine Oscillator", "", "", "generator");
        row("Crossover Distortion", "", "", "distortion");
        row("Guitar Amp", "", "", "saturation");
        row("M/S Encoder", "", "", "stereo");
        row("Bus Comp", "", "", "compressor");
        row("Voice rider", "", "", "dynamics");
        row("Pink noise", "", "", "generator", true);
        // The class that tells most of several.
        row("Old Harbour", "DelayPlugin SimulatorPlugin Plugin", "", "delay");
        row("Old Harbour 2", "SimulatorPlugin ReverbPlugin DelayPlugin", "", "reverb");
        row("Tin Whistle", "UtilityPlugin CompressorPlugin", "", "compressor");
        row("Keel", "WaveshaperPlugin DistortionPlugin", "", "distortion");
        row("Synth", "InstrumentPlugin", "Delay", "instrument");
        // Lesser words beside vague classes, and alone.
        row("Warm Tape", "DynamicsPlugin", "", "dynamics");
        row("Low-pass", "FilterPlugin", "", "filter");
        row("Vocal Plate", "", "", "reverb");
        row("Tube Stage", "", "", "saturation");
        // Parameters, as a proposal.
        row("Brightwork", "", "Threshold,Ratio,Attack", "compressor", true);
        row("Undertow", "", "Delay time,Feedback", "delay", true);
        row("Gulls", "DynamicsPlugin", "Threshold,Hold,Range", "gate");
        row("Slipway", "", "Cutoff,Resonance", "filter", true);
        row("Some gain", "", "", "utility", true);
        row("Investigate", "", "", "effect"); // "gate" begins no word
        row("", "", "", "effect");
    }
    void placedByAllItSays()
    {
        QFETCH(QString, name);
        QFETCH(QString, classes);
        QFETCH(QString, parameters);
        QFETCH(bool, proposed);
        ProcessorInfo info;
        info.name = name.toStdString();
        for (const QString& one : classes.split(QLatin1Char(' '), Qt::SkipEmptyParts))
            info.classes.push_back(one.toStdString());
        for (const QString& one : parameters.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
            info.parameters.emplace_back();
            info.parameters.back().name = one.toStdString();
        }
        const PlacedKind placed = placedKind(info);
        QTEST(QString::fromStdString(placed.kind), "kind");
        QCOMPARE(placed.proposed, proposed);
    }

    void theTreeHasTwoLevels()
    {
        for (const std::string& kind : allKinds()) {
            QVERIFY2(kindAbout(kind).ends_with("."), kind.c_str());
            if (const auto above = kindAbove(kind); !above.empty())
                QVERIFY2(kindAbove(above).empty() && std::ranges::count(allKinds(), above) == 1, kind.c_str());
        }
        QVERIFY(kindAbout("gramophone").empty());
        for (const ProcessorInfo& info : referenceInfos())
            QVERIFY2(std::ranges::count(allKinds(), info.kind) == 1, info.kind.c_str());
    }
};

HR_TEST(tst_kinds)
#include "tst_kinds.moc"

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a row of the line-up shows of its candidate, and what is done to it there.
#include "chain/chain.h"
#include "models/line_up_document.h"
#include "pages/listen/listen_page.h"
#include "pages/listen/parameter_grid.h"
#include "pages/live/live_pictures.h"
#include "signal/audio_file.h"
#include "widgets/candidate_mark.h"
#include "widgets/fair_line.h"
#include "widgets/parameter_row.h"
#include "workbench.h"

#include <QLineEdit>
#include <QWheelEvent>

using namespace hr;
using namespace hr::app;

class tst_rows : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<test::Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }
    LineUp& lineUp() const { return desk().line_up; }
    const Contender& of(ContenderId id) const { return *lineUp().find(id); }

    /// In the line-up, and asked for.
    ContenderId add(const QString& processor, const std::vector<processors::Setting>& settings = {}) const
    {
        const ContenderId id = lineUp().add(processor, settings);
        lineUp().hear(id);
        QCoreApplication::processEvents();
        return id;
    }
    ContenderId addEqualiser() const
    {
        return add(QString::fromStdString(test::specimen + "tidepool-equaliser"));
    }
    QStringList parametersSeen() const
    {
        QStringList names;
        for (const auto* grid : m_bench->window->findChildren<ParameterGrid*>())
            for (auto* one : grid->findChildren<ParameterRow*>())
                if (one->isVisible()) {
                    const auto* edit = one->findChild<QLineEdit*>();
                    names << (edit ? edit->accessibleName() : QStringLiteral("a choice"));
                }
        return names;
    }
    /// What the menu of this parameter offers, chosen.
    void chooseOf(const QString& parameter, const QString& entry) const
    {
        for (auto* one : m_bench->window->findChildren<ParameterRow*>()) {
            const auto* edit = one->findChild<QLineEdit*>();
            if (one->isVisible() && edit && edit->accessibleName() == parameter) {
                emit one->customContextMenuRequested(QPoint());
                return m_bench->choose(entry);
            }
        }
        QFAIL(qPrintable(parameter));
    }
    static void turnWheel(QWidget* over, int notches)
    {
        QWheelEvent event(QPointF(5, 5), over->mapToGlobal(QPointF(5, 5)), {}, QPoint(0, 120 * notches),
                          Qt::NoButton, {}, Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(over, &event);
    }

private slots:
    void init()
    {
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        lineUp().clear();
        desk().undo.clear();
        m_bench->window->showPage(PageName::Listen);
    }
    void cleanup() { m_bench.reset(); }

    void ofManyParametersTheFirstAreSeen()
    {
        chain::Chain chain{"two", {}};
        chain::addStage(chain, test::specimen + "tidepool-equaliser");
        chain::addStage(chain, test::specimen + "cordage-leveller");
        const ContenderId id = lineUp().addChain(chain);
        lineUp().hear(id);
        QTRY_VERIFY_WITH_TIMEOUT(of(id).isOpen(), 10000);
        const auto all = static_cast<qsizetype>(of(id).info.parameters.size());
        QVERIFY(all > 8);
        QTRY_COMPARE(parametersSeen().size(), qsizetype{7}); // and the amount
        m_bench->press(Qt::Key_P);
        QTRY_COMPARE(parametersSeen().size(), all + 1);
        QTest::mouseClick(m_bench->button(QStringLiteral("Fewer parameters")), Qt::LeftButton);
        QTRY_COMPARE(parametersSeen().size(), qsizetype{7});
        QVERIFY(m_bench->says(QStringLiteral("chain: ")));
    }

    void whatIsPinnedIsSeenFirst()
    {
        const ContenderId id = addEqualiser();
        const auto& parameters = of(id).info.parameters;
        const auto all = static_cast<qsizetype>(parameters.size());
        const QString first = QString::fromStdString(parameters.front().name);
        const QString last = QString::fromStdString(parameters.back().name);
        QTRY_COMPARE(parametersSeen().size(), all + 1); // few enough
        chooseOf(last, QStringLiteral("Seen first"));
        QVERIFY(of(id).pinned.contains(parameters.size() - 1));
        QTRY_COMPARE(parametersSeen(), (QStringList{last, QStringLiteral("Amount")}));
        QTest::mouseClick(m_bench->button(QStringLiteral("All %1 parameters").arg(all)), Qt::LeftButton);
        QTRY_COMPARE(parametersSeen().size(), all + 1);
        m_bench->press(Qt::Key_P);
        QTRY_COMPARE(parametersSeen().size(), qsizetype{2});
        // The next of its kind is like it, until nothing is pinned any more.
        lineUp().remove(id);
        const ContenderId next = addEqualiser();
        QCOMPARE(of(next).pinned, (std::set{parameters.size() - 1}));
        chooseOf(last, QStringLiteral("Seen first"));
        QTRY_VERIFY(parametersSeen().contains(first));
        desk().undo.undo();
        QTRY_VERIFY(!parametersSeen().contains(first));
        desk().undo.redo();
    }

    void whatIsSwitchedOffIsTheSource()
    {
        const ContenderId id = add(QStringLiteral("reference:low-pass"), {{"frequency_hz", 500}});
        QVERIFY(m_bench->matched());
        QTRY_VERIFY_WITH_TIMEOUT(of(id).difference, 20000);
        QVERIFY(lineUp().differenceDb(of(id)).value_or(-200) > -60);
        m_bench->press(Qt::Key_O);
        QVERIFY(!of(id).on);
        QVERIFY(m_bench->matched());
        QTRY_VERIFY_WITH_TIMEOUT(of(id).difference && !lineUp().differenceDb(of(id)), 20000);
        QTest::mouseClick(m_bench->button(QStringLiteral("Off")), Qt::LeftButton);
        QVERIFY(of(id).on);
        desk().undo.undo();
        QVERIFY(!of(id).on);
        // On a send nothing of it comes back.
        lineUp().setUse(LineUp::Use::Send);
        QVERIFY(m_bench->matched());
        HR_NEAR(*of(id).loudnessLufs(), *m_bench->at(0).loudnessLufs(), 0.05);
    }

    void itIsCalledByItsPurposeAndAllIsKept()
    {
        const ContenderId id = addEqualiser();
        auto* more = m_bench->find<QPushButton>(QStringLiteral("more about %1").arg(of(id).title));
        QVERIFY(more);
        QTest::mouseClick(more, Qt::LeftButton);
        m_bench->choose(QStringLiteral("Call it"));
        const QString asked = QStringLiteral("what it is called here, for instance what it is for");
        auto* name = m_bench->find<QLineEdit>(asked);
        QVERIFY(name);
        QTest::keyClicks(name, QStringLiteral("less <b>mud</b>"));
        QTest::keyClick(name, Qt::Key_Return);
        const QString called = QStringLiteral("less <b>mud</b>");
        QCOMPARE(of(id).name, called);
        QVERIFY(m_bench->says(called)); // as plain text
        lineUp().setOn(id, false);
        lineUp().pin(id, 2, true);
        lineUp().setLimits(id, 1, std::pair(9e9, -9e9)); // in their order, and inside what it takes
        const auto limits = of(id).limits.at(1);
        QCOMPARE(limits, std::pair(of(id).info.parameters[1].minimum, of(id).info.parameters[1].maximum));
        const auto document = toDocument(lineUp(), desk().transport);
        fromDocument(document, lineUp(), desk().transport);
        const Contender& back = m_bench->at(1);
        QCOMPARE(back.name, called);
        QVERIFY(!back.on && back.pinned == std::set<std::size_t>{2} && back.limits.at(1) == limits);
        auto nonsense = document;
        nonsense["candidates"][0]["pinned"] = 7;
        nonsense["candidates"][0]["limits"] = {{"none", {1}}, {"band_1_gain_db", {"x", 2}}};
        nonsense["candidates"][0]["on"] = "no";
        fromDocument(nonsense, lineUp(), desk().transport);
        QVERIFY(m_bench->at(1).on && m_bench->at(1).pinned.empty() && m_bench->at(1).limits.empty());
    }

    void randomSettingsKeepToTheirLimits()
    {
        const ContenderId id = add(QStringLiteral("reference:gain"), {{"gain_db", 2}});
        chooseOf(QStringLiteral("Gain"), QStringLiteral("Random settings from here up"));
        lineUp().setValue(id, 0, 4);
        chooseOf(QStringLiteral("Gain"), QStringLiteral("Random settings up to here"));
        QCOMPARE(of(id).limits.at(0), std::pair(2.0, 4.0));
        for (int i = 0; i < 5; ++i) {
            desk().settings.takeRandom(id);
            const double value = of(id).pending ? of(id).pending->values[0] : of(id).values[0];
            QVERIFY2(value >= 2 && value <= 4, qPrintable(QString::number(value)));
        }
        chooseOf(QStringLiteral("Gain"), QStringLiteral("Random settings anywhere"));
        QVERIFY(of(id).limits.empty());
        desk().undo.undo();
        QVERIFY(!of(id).limits.empty());
    }

    void aRenderedSoundIsACandidate()
    {
        auto sound = signal::readAudioFile(QFile::encodeName(desk().transport.sourceFile()).toStdString());
        HR_VERIFY(sound);
        for (std::size_t c = 0; c < sound->channels(); ++c)
            for (float& sample : sound->channel(c))
                sample *= 0.5F;
        const QString file = m_data.filePath(QStringLiteral("half <i>.wav"));
        HR_VERIFY(signal::writeAudioFile(file.toStdString(), *sound, signal::SampleFormat::Float32));
        m_bench->window->findChild<ListenPage*>()->addFile(file);
        const ContenderId id = m_bench->idAt(1);
        lineUp().hear(id);
        QVERIFY(m_bench->matched());
        HR_NEAR(*of(id).loudnessLufs(), *m_bench->at(0).loudnessLufs() - 6.02, 0.02);
        QTRY_VERIFY_WITH_TIMEOUT(of(id).difference && !lineUp().differenceDb(of(id)), 20000);
        QVERIFY(m_bench->says(QStringLiteral("switched in, it loses 6.0 LU")));
        QVERIFY(!m_bench->button(QStringLiteral("Measure"))->isEnabled());
        desk().routes.measure(id); // by another way: it says why not
        QCOMPARE(desk().bench.waiting(), 0);
        const auto document = toDocument(lineUp(), desk().transport);
        const QString source = desk().transport.sourceFile();
        // On another source nothing is heard of it; back on its own it is.
        desk().actions.run(QStringLiteral("source.next"));
        QVERIFY(m_bench->says(QStringLiteral("was rendered from another source")));
        QVERIFY(!of(id).isOpen());
        desk().transport.load(source);
        QTRY_VERIFY_WITH_TIMEOUT(of(id).isOpen(), 10000);
        QVERIFY(m_bench->matched());
        fromDocument(document, lineUp(), desk().transport);
        QVERIFY(m_bench->at(1).rendered);
        QVERIFY(m_bench->matched());
        // Against the source in a blind trial, which names it.
        auto& trial = desk().trials.abx;
        QTRY_VERIFY_WITH_TIMEOUT(trial.disabledReason(m_bench->idAt(1), LineUp::untreated).isEmpty(), 20000);
        trial.begin(m_bench->idAt(1), LineUp::untreated, 5);
        QTRY_COMPARE_WITH_TIMEOUT(trial.stage(), AbxTrial::Stage::Asking, 20000);
        trial.answer(true);
        trial.stop();
        QCOMPARE(trial.document()["first"]["rendered"].get<std::string>(), file.toStdString());
        trial.putAway();
        QFile::remove(file);
        fromDocument(document, lineUp(), desk().transport);
        QVERIFY(m_bench->says(QStringLiteral("lacks a file")));
    }

    void theWheelSwitches()
    {
        const ContenderId first = add(QStringLiteral("reference:gain"));
        const ContenderId second = add(QStringLiteral("reference:gain"), {{"gain_db", 3}});
        auto* line = m_bench->find<FairLine>(QStringLiteral("fair line: loudness before and after matching"));
        turnWheel(line, -1); // beyond the last comes the source
        QCOMPARE(lineUp().wanted(), LineUp::untreated);
        turnWheel(line, -1);
        QCOMPARE(lineUp().wanted(), first);
        turnWheel(m_bench->find<CandidateMark>(QStringLiteral("candidate A")), -1);
        QCOMPARE(lineUp().wanted(), second);
        turnWheel(m_bench->find<CandidateMark>(QStringLiteral("candidate A")), 1);
        QCOMPARE(lineUp().wanted(), first);
        line->setCovered(true); // as it is in a blind trial
        turnWheel(line, -1);
        QCOMPARE(lineUp().wanted(), first);
    }

    void whatItTakesIsSaidWhileItPlays()
    {
        add(QStringLiteral("reference:added-latency"), {{"latency_samples", 480}});
        add(QString::fromStdString(test::specimen + "breakwater"));
        QVERIFY(m_bench->matched());
        desk().transport.play(true);
        QVERIFY(m_bench->says(QStringLiteral("latency 10.0 ms")));
        QVERIFY(m_bench->says(QStringLiteral(" % of a core · ")));
    }

    void theBandIsDraggedOnTheSpectrum()
    {
        m_bench->press(Qt::Key_N);
        auto* picture =
            m_bench->find<SpectrumPicture>(QStringLiteral("spectrum of what goes in and what comes out"));
        QVERIFY(picture);
        QVERIFY(!picture->grab().isNull()); // it has been drawn
        const auto at = [picture](double hz) {
            const double left = 34;
            const double right = picture->width() - 8;
            return QPoint(static_cast<int>(left + (right - left) * std::log(hz / 20) / std::log(1000)), 40);
        };
        QTest::mousePress(picture, Qt::LeftButton, {}, at(2000));
        for (const double hz : {2500.0, 4000.0, 5000.0}) {
            QMouseEvent move(QEvent::MouseMove, at(hz), picture->mapToGlobal(at(hz)), Qt::NoButton,
                             Qt::LeftButton, {});
            QCoreApplication::sendEvent(picture, &move);
        }
        QTest::mouseRelease(picture, Qt::LeftButton, {}, at(5000));
        QCOMPARE(lineUp().rule().band.low_hz, 200.0);
        HR_NEAR(lineUp().rule().band.high_hz, 5000, 100);
        QCOMPARE(desk().transport.monitor().band->high_hz, lineUp().rule().band.high_hz);
        desk().undo.undo(); // one step, however far it was dragged
        QCOMPARE(lineUp().rule().band.high_hz, 2000.0);
        m_bench->press(Qt::Key_N);
    }
};

HR_TEST(tst_rows)
#include "tst_rows.moc"

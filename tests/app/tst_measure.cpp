// SPDX-License-Identifier: GPL-3.0-or-later
//
// The Measure page: tests are ticked and run, one is looked at whole, and what each figure says stands in its
// cell.
#include "app/measure_bench.h"
#include "pages/measure/figures_view.h"
#include "widgets/plot.h"

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>

using namespace hr;
using namespace hr::app;

class tst_measure : public test::MeasureBench {
    Q_OBJECT

private slots:
    void init() { openBench(); }
    void cleanup() { m_bench.reset(); }

    void tickedTestsAreRunAndLookedAt()
    {
        QCOMPARE(tests()->count(), 24); // the overview and all figures before them, what else there is after
        QVERIFY(!tests()->ticked().contains(QStringLiteral("trust"))); // it takes its time
        tickOnly({QStringLiteral("Timing")});
        measureAll();
        click(QStringLiteral("Timing"));
        HR_NEAR(cell(QStringLiteral("attack, ms"), 1).toDouble(), 20, 0.5);
        QCOMPARE(cell(QStringLiteral("attack, ms"), 2), QStringLiteral("none"));
        QCOMPARE(cell(QStringLiteral("release depends on depth"), 1), QStringLiteral("no"));
        QVERIFY(figures()->item(0, 2)->toolTip().contains(QStringLiteral("the same at every level")));
        const auto labels = m_bench->window->findChildren<QLabel*>();
        QVERIFY(std::ranges::any_of(labels, [](const QLabel* one) {
            return one->isVisible() &&
                   one->text().contains(QStringLiteral(": the gain is the same at every level."));
        }));
        click(QStringLiteral("Harmonics")); // not run
        QCOMPARE(cell(QStringLiteral("THD, %"), 1), QStringLiteral("not measured"));
        click(QStringLiteral("Overview"));
        QCOMPARE(cell(QStringLiteral("gain at 1 kHz, dB"), 1), QStringLiteral("not measured"));
    }

    void aCheckThatFailsSaysWhatItMeans()
    {
        m_bench->desk->line_up.remove(m_bench->idAt(2)); // it takes its time
        tickOnly({QStringLiteral("Trust")});
        measureAll();
        click(QStringLiteral("Trust"));
        QVERIFY(cell(QStringLiteral("repeatable"), 1).startsWith(QStringLiteral("pass")));
        QVERIFY(cell(QStringLiteral("honest about level"), 1).startsWith(QStringLiteral("fail · −7")));
        QCOMPARE(cell(QStringLiteral("clean bypass"), 1), QStringLiteral("does not apply"));
        QCOMPARE(cell(QStringLiteral("repeatable"), 1), QStringLiteral("pass · −∞ dBFS"));
        // What each means for the work: that it is kept, that it is broken, and why it does not apply.
        QVERIFY(cell(QStringLiteral("repeatable"), 2).contains(QStringLiteral("what will be rendered")));
        QVERIFY(cell(QStringLiteral("honest about level"), 2).contains(QStringLiteral("match it first")));
        QCOMPARE(cell(QStringLiteral("clean bypass"), 2), QStringLiteral("It offers no bypass."));
        const auto labels = m_bench->window->findChildren<QLabel*>();
        QVERIFY(std::ranges::any_of(labels, [](const QLabel* one) {
            return one->isVisible() && one->text().contains(QStringLiteral("honest about level: switched in"));
        }));
    }

    void underWhichConditionsIsTypedAndSaid()
    {
        const auto& now = m_bench->desk->conditions;
        m_bench->desk->line_up.remove(m_bench->idAt(1));
        m_bench->desk->line_up.remove(m_bench->idAt(1));
        m_bench->desk->line_up.add(QStringLiteral("reference:gain"), {{"gain_db", -7}});
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->at(1).isOpen(), 10000);
        const auto type = [this](const QString& field, const QString& text) {
            auto* edit = m_bench->find<QLineEdit>(field);
            QVERIFY2(edit, qPrintable(field));
            edit->setFocus();
            edit->selectAll();
            QTest::keyClicks(edit, text.isEmpty() ? QStringLiteral(" ") : text);
            QTest::keyClick(edit, Qt::Key_Return);
        };
        const auto open = [this] {
            QTest::mouseClick(m_bench->button(QStringLiteral("Conditions")), Qt::LeftButton);
        };
        open();
        type(QStringLiteral("Sample rate, Hz"), QStringLiteral("44.1 kHz"));
        QCOMPARE(now.now().sample_rate_hz, 44100.0);
        type(QStringLiteral("Block, frames"), QStringLiteral("64"));
        type(QStringLiteral("Frequency, Hz"), QStringLiteral("30000")); // there is no such tone
        QVERIFY(!now.now().frequency_hz);
        QCOMPARE(m_bench->find<QLineEdit>(QStringLiteral("Frequency, Hz"))->text(), QString());
        type(QStringLiteral("Level, dBFS"), QStringLiteral("loud"));
        QVERIFY(!now.now().level_dbfs);
        type(QStringLiteral("Level, dBFS"), QStringLiteral("-40"));
        QVERIFY(m_bench->says(QStringLiteral("44.1 kHz · block of 64 · at −40.0 dBFS")));
        tickOnly({QStringLiteral("Response")});
        measureAll();
        click(QStringLiteral("Response"));
        HR_NEAR(
            cell(QStringLiteral("gain at 1 kHz, dB"), 1).replace(QChar(0x2212), QLatin1Char('-')).toDouble(),
            -7, 0.01);
        open(); // a click beside it has closed it
        // Under the usual ones it has not been measured, and says so; nothing is lost.
        QTest::mouseClick(m_bench->button(QStringLiteral("Back to the usual ones")), Qt::LeftButton);
        QVERIFY(now.areStandard());
        QVERIFY(m_bench->says(QStringLiteral("not under these conditions")));
        QCOMPARE(cell(QStringLiteral("gain at 1 kHz, dB"), 1), QStringLiteral("not measured"));
        type(QStringLiteral("Sample rate, Hz"), QStringLiteral("44100"));
        type(QStringLiteral("Block, frames"), QStringLiteral("64"));
        type(QStringLiteral("Level, dBFS"), QStringLiteral("-40"));
        QVERIFY(!cell(QStringLiteral("gain at 1 kHz, dB"), 1).isEmpty());
        // The section that plays in place of the bench's programme.
        m_bench->desk->transport.load(m_bench->desk->sources.first());
        QTRY_VERIFY(m_bench->desk->transport.source());
        auto* programme = m_bench->find<QComboBox>(QStringLiteral("programme"));
        programme->setCurrentIndex(1);
        emit programme->activated(1);
        QTRY_VERIFY_WITH_TIMEOUT(now.now().programme, 10000);
        QCOMPARE(now.now().programme->sound.sampleRateHz(), 44100.0);
        m_bench->desk->conditions.type(QStringLiteral("rate"), QStringLiteral("96000"));
        QVERIFY(!now.now().programme); // it was at another rate
        // They come back with the next start.
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        QCOMPARE(m_bench->desk->conditions.now().sample_rate_hz, 96000.0);
        QCOMPARE(*m_bench->desk->conditions.now().level_dbfs, -40.0);
        m_bench->desk->conditions.reset();
    }

    void conditionsThatWereKeptAndMakeNoSenseAreTheUsualOnes_data()
    {
        QTest::addColumn<QString>("kept");
        QTest::newRow("nothing") << QString();
        QTest::newRow("no JSON") << QStringLiteral("48 kHz, please");
        QTest::newRow("a list") << QStringLiteral("[44100]");
        QTest::newRow("words") << QStringLiteral(R"({"rate": "fast", "block": null, "key_silent": 1})");
        QTest::newRow("no rate") << QStringLiteral(R"({"rate": -1})");
        QTest::newRow("a tone beyond half the rate") << QStringLiteral(R"({"rate": 8000, "frequency": 5000})");
        QTest::newRow("no block") << QStringLiteral(R"({"block": 1e300})");
    }
    void conditionsThatWereKeptAndMakeNoSenseAreTheUsualOnes()
    {
        QFETCH(const QString, kept);
        HR_VERIFY(m_bench->desk->store->setSetting(QStringLiteral("bench-conditions"), kept));
        const BenchConditions read({*m_bench->desk->store, m_bench->desk->transport, m_bench->desk->sources,
                                    m_bench->desk->jobs, m_bench->desk->notices});
        QVERIFY(read.areStandard());
        QCOMPARE(read.text(), QStringLiteral("48 kHz · block of 256"));
        HR_VERIFY(m_bench->desk->store->setSetting(QStringLiteral("bench-conditions"), QString()));
    }

    /// Each is swept where it is linear: the plot says from where to where.
    void aPlotSaysAllThatWasUsed()
    {
        const auto threshold = *m_bench->at(1).info.parameterIndex("threshold_db");
        m_bench->desk->line_up.setValue(m_bench->idAt(1), threshold, -50);
        for (const int place : {1, 2})
            m_bench->desk->routes.measure(m_bench->idAt(place));
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->desk->bench.waiting(), 0, 120000);
        click(QStringLiteral("Response"));
        QVERIFY(m_bench->says(QStringLiteral(" dBFS to −30.0 dBFS")));
    }

    void measuredFromElsewhereItIsUnderTheseConditions()
    {
        m_bench->desk->conditions.type(QStringLiteral("level"), QStringLiteral("-33"));
        m_bench->desk->routes.measure(m_bench->idAt(2));
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->desk->bench.waiting(), 0, 120000);
        click(QStringLiteral("Response"));
        QVERIFY(!cell(QStringLiteral("gain at 1 kHz, dB"), 2).isEmpty());
        QVERIFY(m_bench->says(QStringLiteral("exponential sweep · −33.0 dBFS")));
        m_bench->desk->conditions.reset();
    }

    void aSecondOutputIsDrawnWhereItIsAnother()
    {
        LineUp& line_up = m_bench->desk->line_up;
        while (m_bench->candidates() > 0)
            line_up.remove(m_bench->idAt(1));
        line_up.add(QStringLiteral("lv2:urn:honest-rack:specimens:spreader"), {{"balance_db", 4}});
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->at(1).isOpen(), 10000);
        m_bench->desk->bench.measure(m_bench->at(1), {QStringLiteral("response")});
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->desk->bench.waiting(), 0, 60000);
        click(QStringLiteral("Response"));
        QCheckBox* second = nullptr;
        for (auto* box : m_bench->window->findChildren<QCheckBox*>())
            if (box->isVisible())
                second = box;
        QVERIFY(second);
        const auto magnitude = [this] {
            for (auto* plot : m_bench->window->findChildren<Plot*>())
                if (plot->isVisible() && plot->accessibleName().contains(QStringLiteral("magnitude")))
                    return plot;
            return static_cast<Plot*>(nullptr);
        };
        QVERIFY(magnitude());
        magnitude()->setCursor(1000);
        QVERIFY(!magnitude()->cursorText().contains(QStringLiteral("second output")));
        second->setChecked(true);
        magnitude()->setCursor(1000);
        QVERIFY(magnitude()->cursorText().contains(QStringLiteral("A second output")));
    }

    void plotsAreLookedAtOneByOneAndAgainstAnother()
    {
        m_bench->desk->line_up.add(QStringLiteral("reference:low-pass"));
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->at(3).isOpen(), 10000);
        tickOnly({QStringLiteral("Response")});
        measureAll();
        click(QStringLiteral("Response"));
        const auto inSight = [this] {
            QList<Plot*> plots;
            for (auto* plot : m_bench->window->findChildren<Plot*>())
                if (plot->isVisible())
                    plots << plot;
            return plots;
        };
        const auto choose = [this](const QString& box, int choice) {
            auto* combo = m_bench->find<QComboBox>(box);
            QVERIFY2(combo && combo->count() > choice, qPrintable(box));
            combo->setCurrentIndex(choice);
            emit combo->activated(choice);
        };
        QCOMPARE(inSight().size(), 3);
        choose(QStringLiteral("which plot is shown"), 1);
        QCOMPARE(inSight().size(), 1);
        Plot* magnitude = inSight().front();
        magnitude->setCursor(1000);
        QVERIFY(magnitude->cursorText().contains(QStringLiteral("B −3.00 dB")));
        choose(QStringLiteral("what the plots are drawn against"), 2); // B
        magnitude->setCursor(1000);
        QVERIFY(magnitude->cursorText().contains(QStringLiteral("A 3.00 dB")));
        QVERIFY(magnitude->cursorText().contains(QStringLiteral("B 0.00 dB")));
        choose(QStringLiteral("which plot is shown"), 0);
        choose(QStringLiteral("what the plots are drawn against"), 0);
        QCOMPARE(inSight().size(), 3);
    }

    void allFiguresAreFoundSortedExplainedAndSaved()
    {
        tickOnly({QStringLiteral("Response"), QStringLiteral("Timing")});
        measureAll();
        click(QStringLiteral("All figures"));
        auto* words = m_bench->find<QLineEdit>(QStringLiteral("find a figure"));
        QVERIFY(words);
        QTest::keyClicks(words, QStringLiteral("GAIN"));
        QCOMPARE(figures()->rowsInSight().size(), std::size_t{1});
        QCOMPARE(cell(QStringLiteral("Response: gain at 1 kHz, dB"), 2), QStringLiteral("−3.000"));
        words->clear();
        const auto all = figures()->rowsInSight().size();
        QVERIFY(all > 10);
        auto* differing = m_bench->window->findChild<QCheckBox*>();
        for (auto* box : m_bench->window->findChildren<QCheckBox*>())
            if (box->isVisible())
                differing = box;
        QTest::mouseClick(differing, Qt::LeftButton, {}, QPoint(8, differing->height() / 2));
        QVERIFY(differing->isChecked());
        const auto differ = figures()->rowsInSight();
        QVERIFY(!differ.empty() && differ.size() < all);
        QVERIFY(std::ranges::count(
                    differ, FiguresTable::Row(QStringLiteral("response"), QStringLiteral("gain_1k_db"))) == 1);
        QCOMPARE(figures()->item(0, 0)->text(), QStringLiteral("Response: gain at 1 kHz, dB")); // as tests are
        // Sorted as numbers: what is not there comes last.
        figures()->sortByColumn(2, Qt::AscendingOrder);
        double before = -1e9;
        for (int row = 0; row < figures()->rowCount(); ++row)
            if (const QVariant value = figures()->item(row, 2)->data(Qt::UserRole); value.isValid()) {
                QVERIFY(value.toDouble() >= before);
                before = value.toDouble();
            } else {
                before = 1e9; // no number after words
            }
        // A click on the name says what it is.
        const int row = figures()->row(
            figures()->findItems(QStringLiteral("Response: gain at 1 kHz, dB"), Qt::MatchExactly).value(0));
        figures()->setCurrentCell(row, 0);
        QTest::keyClick(figures(), Qt::Key_Return);
        QVERIFY(m_bench->says(QStringLiteral("magnitude of the first output at 1 kHz")));
        QVERIFY(m_bench->says(QStringLiteral("Farina")));
        QTest::keyClick(figures(), Qt::Key_C, Qt::ControlModifier);
        QVERIFY(QGuiApplication::clipboard()->text().contains(QStringLiteral("gain at 1 kHz, dB\t")));
        auto* view = m_bench->window->findChild<FiguresView*>();
        const QString file = m_data.filePath(QStringLiteral("figures.csv"));
        HR_VERIFY(view->saveAs(file.toStdString()));
        QFile written(file);
        QVERIFY(written.open(QIODevice::ReadOnly));
        const QByteArray csv = written.readAll();
        QCOMPARE(csv.left(csv.indexOf("\r\n")), QByteArray("test,figure,unit,\"A Compressor\",\"B Gain\""));
        QVERIFY(csv.contains("\r\nresponse,gain_1k_db,\"dB\","));
        QVERIFY(!view->saveAs("/proc/nowhere.csv"));
    }

    void whatAnotherBenchTookIsOutOfDate()
    {
        measureAll();
        QVERIFY(!saidInSight().contains(QStringLiteral("out of date: another bench")));
        auto& database = m_bench->desk->store->database();
        QVERIFY(database
                    .change(QStringLiteral("UPDATE runs SET conditions = replace(conditions, ?, ?)"),
                            {QString::fromStdString(bench::benchVersion()), QStringLiteral("0.0.1-old")})
                    .has_value());
        m_bench->desk->line_up.add(QStringLiteral("reference:gain")); // so that it looks again
        QTRY_VERIFY(saidInSight().contains(QStringLiteral("out of date: another bench")));
    }
};

HR_TEST(tst_measure)
#include "tst_measure.moc"

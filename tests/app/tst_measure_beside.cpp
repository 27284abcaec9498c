// SPDX-License-Identifier: GPL-3.0-or-later
//
// What Measure does beside its tests: sweeps, fits, comparisons, live views, and the bench held against what is
// known.
#include "app/measure_bench.h"
#include "library/bench_check.h"
#include "widgets/plot.h"

#include <QComboBox>
#include <QListWidget>
#include <QSpinBox>

using namespace hr;
using namespace hr::app;

class tst_measure_beside : public test::MeasureBench {
    Q_OBJECT

private slots:
    void init() { openBench(); }
    void cleanup() { m_bench.reset(); }

    void candidatesAreTheSameOrSoFarApart()
    {
        m_bench->desk->line_up.add(QStringLiteral("reference:gain"), {{"gain_db", 9}});
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->at(3).isOpen(), 10000);
        click(QStringLiteral("Are they the same?"));
        auto* with = m_bench->find<QComboBox>(QStringLiteral("which one all others are compared with"));
        with->setCurrentIndex(with->findText(QStringLiteral("B"), Qt::MatchStartsWith));
        const auto* table = m_bench->find<QTableWidget>(QStringLiteral("how far apart they are"));
        QCOMPARE(table->rowCount(), 2);
        QTest::mouseClick(m_bench->button(QStringLiteral("Compare")), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(!m_bench->desk->comparing.isRunning(), 60000);
        const auto text = [&](int row, int column) { return table->item(row, column)->text().trimmed(); };
        QVERIFY(text(0, 5).startsWith(QStringLiteral("not the same: furthest apart on ")));
        QVERIFY(QString(text(0, 3)).replace(QChar(0x2212), QLatin1Char('-')).toDouble() > -60);
        QVERIFY(text(0, 4).toDouble() > 0.1);
        QVERIFY(text(1, 5).startsWith(QStringLiteral("the same")));
        QCOMPARE(text(1, 2), QStringLiteral("−12.00")); // what brings it to the loudness of the other
        // What is set otherwise by now is not what was compared.
        m_bench->desk->line_up.setValue(m_bench->idAt(1), 0, -30);
        click(QStringLiteral("Overview"));
        click(QStringLiteral("Are they the same?"));
        QCOMPARE(text(0, 5), QStringLiteral("not compared yet"));
        QVERIFY(text(1, 5).startsWith(QStringLiteral("the same")));
    }

    void aParameterIsSweptAgainstItsLabel()
    {
        click(QStringLiteral("Sweep a parameter"));
        auto* parameter = m_bench->find<QComboBox>(QStringLiteral("parameter to sweep"));
        auto* figure = m_bench->find<QComboBox>(QStringLiteral("figure to read"));
        QVERIFY(parameter && figure);
        parameter->setCurrentIndex(parameter->findText(QStringLiteral("Ratio")));
        QCOMPARE(figure->currentData().toString(), QStringLiteral("transfer.ratio")); // guessed from the label
        m_bench->find<QSpinBox>(QStringLiteral("steps"))->setValue(3);
        SweepJob& sweep = m_bench->desk->sweep;
        QTest::mouseClick(m_bench->button(QStringLiteral("Sweep")), Qt::LeftButton);
        QVERIFY(sweep.isRunning());
        QTRY_VERIFY_WITH_TIMEOUT(!sweep.isRunning(), 60000);
        QCOMPARE(sweep.points().size(), std::size_t{3});
        const auto& middle = sweep.points()[1];
        HR_NEAR(*middle.measured, middle.honest, 0.01 * middle.honest);
        const auto* table = m_bench->find<QTableWidget>(QStringLiteral("set against measured"));
        QCOMPARE(table->rowCount(), 3);
        QVERIFY(table->horizontalHeaderItem(0)->text().contains(QStringLiteral("Ratio set")));
        QVERIFY(m_bench->find<Plot>(QStringLiteral("Ratio, measured against set")));
        // Told once, it is remembered for this processor and parameter; another keeps its guess.
        figure->setCurrentIndex(figure->findData(QStringLiteral("transfer.knee_db")));
        emit figure->activated(figure->currentIndex());
        parameter->setCurrentIndex(parameter->findText(QStringLiteral("Attack")));
        QCOMPARE(figure->currentData().toString(), QStringLiteral("timing.attack_ms"));
        parameter->setCurrentIndex(parameter->findText(QStringLiteral("Ratio")));
        QCOMPARE(figure->currentData().toString(), QStringLiteral("transfer.knee_db"));
        // At two settings of another: a line for each.
        auto* beside = m_bench->find<QComboBox>(QStringLiteral("another parameter"));
        QCOMPARE(beside->findText(QStringLiteral("Ratio")), -1); // which is swept
        beside->setCurrentIndex(beside->findText(QStringLiteral("Knee")));
        m_bench->find<QSpinBox>(QStringLiteral("settings of the other parameter"))->setValue(2);
        m_bench->find<QSpinBox>(QStringLiteral("steps"))->setValue(2);
        QTest::mouseClick(m_bench->button(QStringLiteral("Sweep")), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(!sweep.isRunning(), 60000);
        QCOMPARE(sweep.points().size(), std::size_t{4});
        QCOMPARE(table->columnCount(), 4);
        QCOMPARE(*sweep.points()[3].beside, 24.0);
        HR_NEAR(*sweep.points()[3].measured, 24, 1);
        beside->setCurrentIndex(0);
        QTest::mouseClick(m_bench->button(QStringLiteral("Sweep")), Qt::LeftButton);
        QTest::mouseClick(m_bench->button(QStringLiteral("Stop")), Qt::LeftButton);
        QVERIFY(!sweep.isRunning());
        QVERIFY(saidInSight().contains(QStringLiteral("stopped after 0 of 2 settings")));
    }

    void theBenchItselfIsShownAgainstWhatIsKnown()
    {
        const bench::Check good{"reference:gain, gain_db = -6", "gain_1k_db", -6, -6.001, 0.02, "gain", "dB"};
        bench::Check off = good;
        off.measured = -5.9;
        HR_VERIFY(library::keepBenchCheck(*m_bench->desk->store, library::benchCheckOf({good, off})));
        m_bench->window->close();
        openBench(); // as after a restart
        QVERIFY(saidInSight().filter(QStringLiteral("The bench was off on ")).size() == 1);
        QTest::mouseClick(m_bench->button(QStringLiteral("Show")), Qt::LeftButton);
        const auto* table = m_bench->find<QTableWidget>(QStringLiteral("known against measured"));
        QVERIFY(table && table->isVisible());
        QStringList rows;
        for (int row = 0; row < table->rowCount(); ++row) {
            QStringList cells;
            for (int column = 0; column < table->columnCount(); ++column)
                cells << table->item(row, column)->text().trimmed();
            rows << cells.join(QLatin1Char('|'));
        }
        const QString same = QStringLiteral("gain, gain_db = -6|gain, dB|−6.000|");
        QCOMPARE(rows, QStringList({same + QStringLiteral("−5.900|+0.100|0.020|off"),
                                    same + QStringLiteral("−6.001|−0.001|0.020|within")}));
    }

    void oneIsSetLikeAnother()
    {
        LineUp& line_up = m_bench->desk->line_up;
        while (m_bench->candidates() > 0)
            line_up.remove(m_bench->idAt(1));
        line_up.add(QStringLiteral("reference:low-pass"), {{"frequency_hz", 2300}});
        line_up.add(QStringLiteral("reference:low-pass"), {{"frequency_hz", 9000}});
        click(QStringLiteral("Set one like another"));
        auto* fit = m_bench->button(QStringLiteral("Fit"));
        QVERIFY(fit && fit->isEnabled());
        auto* alike = m_bench->find<QComboBox>(QStringLiteral("which one it is to behave like"));
        alike->setCurrentIndex(1); // itself
        QVERIFY(!fit->isEnabled());
        alike->setCurrentIndex(0);
        auto* parameters = m_bench->find<QListWidget>(QStringLiteral("parameters that may be moved"));
        for (int row = 0; row < parameters->count(); ++row) // the frequency alone
            parameters->item(row)->setCheckState(row == 0 ? Qt::Checked : Qt::Unchecked);
        QTest::mouseClick(fit, Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->candidates(), 3, 120000);
        const Contender& fitted = m_bench->at(2); // beside the one it is like
        QTRY_VERIFY_WITH_TIMEOUT(std::abs(fitted.values[0] - 2300) < 30, 20000);
        QCOMPARE(m_bench->at(3).values[0], 9000.0); // which is as it was
        auto* result = m_bench->find<QTableWidget>(QStringLiteral("how close it came"));
        QVERIFY(result && result->rowCount() == 2);
        QCOMPARE(result->item(0, 0)->text(), QStringLiteral("Response"));
    }

    /// What is to be alike at first is what the parameters that may be moved are known to move.
    void whatIsToBeAlikeGoesWithWhatMayBeMoved()
    {
        m_bench->desk->line_up.add(QStringLiteral("reference:compressor"), {});
        click(QStringLiteral("Set one like another"));
        auto* tests = m_bench->find<QListWidget>(QStringLiteral("tests that are to be alike"));
        const auto ticked = [tests] {
            QStringList names;
            for (int row = 0; row < tests->count(); ++row)
                if (tests->item(row)->checkState() == Qt::Checked)
                    names << tests->item(row)->text();
            return names;
        };
        auto* set = m_bench->find<QComboBox>(QStringLiteral("which one is set"));
        const auto choose = [set](const QString& name) {
            set->setCurrentIndex(set->findText(name, Qt::MatchContains));
        };
        choose(QStringLiteral("Low pass"));
        QCOMPARE(ticked(), QStringList{QStringLiteral("Response")});
        choose(QStringLiteral("Compressor"));
        QCOMPARE(ticked(), QStringList{QStringLiteral("In and out")});
    }

    void whatPlaysIsSeenAsItPlays()
    {
        click(QStringLiteral("Live"));
        m_bench->desk->line_up.hear(m_bench->idAt(1));
        m_bench->desk->transport.play(true);
        LiveTap& live = m_bench->desk->live;
        QTRY_VERIFY_WITH_TIMEOUT(live.hasAny() && live.history().spectra().size() > 40, 20000);
        QCOMPARE(live.contender(), m_bench->idAt(1));
        QVERIFY(std::ranges::any_of(live.wave().out(), [](float peak) { return peak > 0.01F; }));
        const QImage before = m_bench->window->grab().toImage();
        auto* averaging = m_bench->find<QComboBox>(QStringLiteral("averaging of spectra"));
        averaging->setCurrentIndex(3);
        emit averaging->activated(3);
        QCOMPARE(live.averagingS(), 3.0);
        QTest::mouseClick(m_bench->button(QStringLiteral("Forget the peaks")), Qt::LeftButton);
        QTest::qWait(200);
        QVERIFY(m_bench->window->grab().toImage() != before); // it moves
        click(QStringLiteral("Overview"));
        QVERIFY(!live.hasAny()); // nobody looks any more
        m_bench->desk->transport.play(false);
    }
};

HR_TEST(tst_measure_beside)
#include "tst_measure_beside.moc"

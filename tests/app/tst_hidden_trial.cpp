// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench.h"
#include "exchange/trial_file.h"

#include <QLabel>
#include <QSpinBox>

using namespace hr;
using namespace hr::app;
using test::Workbench;
using Stage = BlindTrial::Stage;

/// The source and two low-passed candidates, in trials among several.
class tst_hidden_trial : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }

    /// By the keys and the mouse, as far as its first question.
    void begin(const QString& kind, HiddenTrial& trial, int passes)
    {
        QTRY_VERIFY_WITH_TIMEOUT(desk().line_up.fairWithinLu().has_value(), 20000);
        m_bench->press(Qt::Key_B);
        QTest::mouseClick(m_bench->button(kind), Qt::LeftButton);
        auto* count = m_bench->find<QSpinBox>(QStringLiteral("passes"));
        QVERIFY(count);
        count->setValue(passes);
        QTest::mouseClick(m_bench->button(QStringLiteral("Begin the trial")), Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(trial.stage(), Stage::Asking, 20000);
    }
    void hearAll(const HiddenTrial& trial)
    {
        QVERIFY(!trial.whyNotAnswer().isEmpty());
        for (std::size_t label = 0; label < trial.labels(); ++label)
            m_bench->press(static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(label)));
        QVERIFY(trial.whyNotAnswer().isEmpty());
    }
    /// From all that can be read on the window, what is not a pass or a number.
    QStringList readable() const
    {
        QStringList all;
        for (const QWidget* widget : m_bench->window->findChildren<QWidget*>())
            if (widget->isVisible() && !widget->accessibleName().contains(QStringLiteral("ource")))
                all << widget->accessibleName() + QLatin1Char('|') + widget->accessibleDescription();
        return all;
    }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        desk().line_up.add(QStringLiteral("reference:low-pass"), {{"frequency_hz", 300}});
        desk().line_up.add(QStringLiteral("reference:low-pass"), {{"frequency_hz", 3000}});
        m_bench->window->showPage(PageName::Listen);
    }
    void cleanupTestCase() { m_bench.reset(); }
    void cleanup()
    {
        desk().trials.stop();
        if (BlindTrial* trial = desk().trials.current())
            trial->putAway();
    }

    void preferenceByKeys()
    {
        PreferenceTrial& trial = desk().trials.preference;
        begin(QStringLiteral("Which is best?"), trial, 4);
        QCOMPARE(trial.labels(), std::size_t{2}); // the source stays out unless it is ticked
        for (int pass = 0; pass < 4; ++pass) {
            QVERIFY(!m_bench->button(QStringLiteral("Keep this order"))->isEnabled());
            hearAll(trial);
            // The brighter one is liked better: it comes to the top.
            const std::size_t bright = trial.sheet().behind(0) == 1 ? 0 : 1;
            m_bench->press(static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(bright)));
            m_bench->press(Qt::Key_Up);
            QTest::mouseClick(m_bench->button(QStringLiteral("Keep this order")), Qt::LeftButton);
        }
        QCOMPARE(trial.stage(), Stage::Over);
        const auto document = trial.document();
        QCOMPARE(document["kind"].get<std::string>(), std::string("preference"));
        HR_NEAR(document["result"]["w"].get<double>(), 1, 1e-12);
        for (const auto& ranking : document["result"]["rankings"])
            QCOMPARE(ranking[0].get<std::string>(), std::string("B"));
        QVERIFY(m_bench->find<QWidget>(QStringLiteral("how they stand")));
        QCOMPARE(trial.earlier().size(), std::size_t{1});
        const std::filesystem::path csv = m_data.filePath(QStringLiteral("order.csv")).toStdString();
        HR_VERIFY(exchange::writeTrial(csv, document));
        QFile table(csv);
        QVERIFY(table.open(QIODevice::ReadOnly));
        QCOMPARE(table.readAll().count('\n'), 9); // a head, and two places in each of four passes
        QTest::mouseClick(m_bench->button(QStringLiteral("Back to the line-up")), Qt::LeftButton);
        QVERIFY(m_bench->button(QStringLiteral("Add a candidate")));
    }

    void earlierOnesArePooledWhereThatIsAskedFor()
    {
        PreferenceTrial& trial = desk().trials.preference;
        begin(QStringLiteral("Which is best?"), trial, 2);
        for (int pass = 0; pass < 2; ++pass) {
            hearAll(trial);
            trial.rank(trial.sheet().behind(0) == 1 ? std::vector<std::size_t>{0, 1}
                                                    : std::vector<std::size_t>{1, 0});
        }
        QCOMPARE(trial.earlier().size(), std::size_t{2});
        QVERIFY(m_bench->button(QStringLiteral("Pool them")));
        QTest::mouseClick(m_bench->button(QStringLiteral("Pool them")), Qt::LeftButton);
        QVERIFY(m_bench->says(QStringLiteral("Pooled over 2 trials: B before A")));
    }

    void ratingFindsTheHiddenSource()
    {
        RatingTrial& trial = desk().trials.rating;
        begin(QStringLiteral("How good is each?"), trial, 1);
        QCOMPARE(trial.labels(), std::size_t{5}); // two candidates, the source and two anchors
        QVERIFY(!trial.heard());                  // the open reference comes first
        hearAll(trial);
        for (std::size_t label = 0; label < trial.labels(); ++label) {
            m_bench->press(static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(label)));
            for (int up = 0; up < (trial.sheet().behind(label) == 0 ? 20 : 8); ++up)
                m_bench->press(Qt::Key_Up);
        }
        QTest::mouseClick(m_bench->button(QStringLiteral("Keep these grades")), Qt::LeftButton);
        QCOMPARE(trial.stage(), Stage::Over);
        const auto result = trial.document()["result"];
        QVERIFY(result["counted"].get<bool>());
        HR_NEAR(result["grades"]["the hidden source"]["median"].get<double>(), 100, 0);
        HR_NEAR(result["grades"]["A"]["median"].get<double>(), 40, 0);
        QCOMPARE(trial.document()["candidates"].size(), std::size_t{2});
    }

    void anchorsAreHeardAndNothingTellsThem()
    {
        RatingTrial& trial = desk().trials.rating;
        begin(QStringLiteral("How good is each?"), trial, 1);
        desk().transport.play(false);
        std::vector<QStringList> seen;
        for (std::size_t label = 0; label < trial.labels(); ++label) {
            trial.hear(label);
            QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.audible(), desk().line_up.wanted(), 10000);
            QVERIFY(!desk().line_up.find(desk().line_up.audible())); // nobody can name it
            seen.push_back(readable());
        }
        for (const QStringList& texts : seen)
            QCOMPARE(texts, seen.front());
    }

    void thereIsRoomForAllOfEight()
    {
        std::vector<ContenderId> all;
        while (m_bench->candidates() < LineUp::most_candidates)
            desk().line_up.add(QStringLiteral("reference:gain"), {{"gain_db", -1.0 * m_bench->candidates()}});
        for (int place = 1; place <= LineUp::most_candidates; ++place)
            all.push_back(m_bench->idAt(place));
        RatingTrial& rating = desk().trials.rating;
        QTRY_COMPARE_WITH_TIMEOUT(rating.disabledReason(all), QString(), 30000);
        rating.begin(all, 1);
        QTRY_COMPARE_WITH_TIMEOUT(rating.stage(), Stage::Asking, 60000);
        QCOMPARE(desk().transport.lanes().size(), audition::most_lanes); // nobody stands in another's place
        for (std::size_t label = 0; label < rating.labels(); ++label) {
            rating.hear(label);
            QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.audible(), desk().line_up.wanted(), 10000);
        }
        rating.stop();
        while (m_bench->candidates() > 2)
            desk().line_up.remove(m_bench->idAt(3));
    }

    void oneThatFailsEndsItAndTheRoundDoesNotCount()
    {
        PreferenceTrial& trial = desk().trials.preference;
        begin(QStringLiteral("Which is best?"), trial, 4);
        const auto before = desk().store->trials.all()->size();
        desk().transport.setLoop({4800, 48000}); // what plays is changed under it
        QCOMPARE(trial.stage(), Stage::Over);
        QCOMPARE(desk().store->trials.all()->size(), before); // no pass was whole
        QVERIFY(trial.document().is_null());
    }
};

HR_TEST(tst_hidden_trial)
#include "tst_hidden_trial.moc"

// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench.h"
#include "exchange/trial_file.h"
#include "signal/levels.h"
#include "widgets/fair_line.h"

#include <QAbstractButton>
#include <QCryptographicHash>
#include <QDirIterator>
#include <QLabel>
#include <QSpinBox>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QSqlRecord>

using namespace hr;
using namespace hr::app;
using test::Workbench;
using Stage = AbxTrial::Stage;

/// A dull candidate against the source: which of them is heard can be seen in the samples.
class tst_blind_trial : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }
    AbxTrial& trial() const { return desk().trials.abx; }
    ContenderId dull() const { return m_bench->idAt(1); }

    void begin(int rounds)
    {
        QTRY_VERIFY_WITH_TIMEOUT(trial().disabledReason(dull(), LineUp::untreated).isEmpty(), 20000);
        trial().begin(dull(), LineUp::untreated, rounds);
        QTRY_COMPARE_WITH_TIMEOUT(trial().stage(), Stage::Asking, 20000);
    }

    /// How far the left channel of what plays now is from the source at the common level, RMS against its RMS.
    double distanceFromSource() const
    {
        const auto reader = desk().transport.listen(audition::TapPoint::Sum, audition::no_contender);
        const auto& source = desk().transport.source();
        const double gain = signal::dbToLinear(m_bench->at(0).gain_db);
        audition::TapBlock block;
        double off = 0;
        double all = 0;
        const auto heard_enough = [&] {
            while (reader->take(block)) {
                std::vector<float> left(block.frames);
                std::vector<float> right(block.frames);
                source->read(source->whole(), block.source_frame, left.data(), right.data(), block.frames);
                for (std::size_t i = 0; i < block.frames; ++i) {
                    const double wanted = gain * static_cast<double>(left[i]);
                    off += std::pow(static_cast<double>(block.left[i]) - wanted, 2);
                    all += wanted * wanted;
                }
            }
            return all > 1;
        };
        (void)QTest::qWaitFor(heard_enough, 5000);
        return std::sqrt(off / all);
    }

    nlohmann::ordered_json kept() const
    {
        const auto trials = trial().earlier();
        return trials.empty() ? nlohmann::ordered_json() : trials.front().document;
    }

    /// Those that this one has started: what each was called with, and how many threads it has.
    static QStringList processes()
    {
        QStringList all;
        for (const QString& id : QDir(QStringLiteral("/proc")).entryList({QStringLiteral("[1-9]*")})) {
            const auto read = [&id](const char* what) {
                QFile file(QStringLiteral("/proc/%1/%2").arg(id, QLatin1String(what)));
                return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
            };
            // proc(5), after the name, which may hold anything: state, parent … threads
            const QStringList stat = read("stat").section(QLatin1Char(')'), -1).simplified().split(u' ');
            if (stat.value(1).toLongLong() == QCoreApplication::applicationPid())
                all << read("cmdline") + QLatin1Char(' ') + stat.value(17);
        }
        all.sort();
        return all;
    }

    /// All that is kept on disk, as it is now: the rows of the catalogue, and what other files hold.
    QStringList files() const
    {
        QStringList all;
        QDirIterator each(m_data.path(), QDir::Files, QDirIterator::Subdirectories);
        while (each.hasNext()) {
            QFile file(each.next());
            if (!file.fileName().contains(QStringLiteral("catalogue.sqlite")) && file.open(QIODevice::ReadOnly))
                all << file.fileName() + QLatin1Char(' ') +
                           QString::fromLatin1(
                               QCryptographicHash::hash(file.readAll(), QCryptographicHash::Sha1).toHex());
        }
        auto database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("looker-on"));
        database.setDatabaseName(m_data.filePath(QStringLiteral("catalogue.sqlite")));
        if (database.open())
            for (const QString& table : database.tables()) {
                QSqlQuery rows(QStringLiteral("SELECT * FROM \"%1\"").arg(table), database);
                while (rows.next()) {
                    all << table;
                    for (int column = 0; column < rows.record().count(); ++column)
                        all.last() += QLatin1Char('|') + rows.value(column).toString();
                }
            }
        database = {};
        QSqlDatabase::removeDatabase(QStringLiteral("looker-on"));
        all.sort();
        return all;
    }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        desk().line_up.add(QStringLiteral("reference:low-pass"), {{"frequency_hz", 300}});
        m_bench->window->showPage(PageName::Listen);
    }
    void cleanupTestCase() { m_bench.reset(); }
    void init()
    {
        trial().stop();
        trial().putAway();
    }

    void byKeysFromBeginningToEnd()
    {
        QTRY_VERIFY_WITH_TIMEOUT(desk().line_up.fairWithinLu().has_value(), 20000);
        m_bench->press(Qt::Key_B);
        auto* rounds = m_bench->find<QSpinBox>(QStringLiteral("rounds"));
        QVERIFY(rounds);
        rounds->setValue(5);
        QTest::mouseClick(m_bench->button(QStringLiteral("Begin the trial")), Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(trial().stage(), Stage::Asking, 20000);
        for (int round = 0; round < 5; ++round) {
            m_bench->press(Qt::Key_X);
            QCOMPARE(trial().heard(), AbxTrial::Which::X);
            m_bench->press(trial().sheet().xIsSecond() ? Qt::Key_Right : Qt::Key_Left);
            if (round < 4)
                QCOMPARE(trial().heard(), AbxTrial::Which::First); // whatever X is next
        }
        QCOMPARE(trial().stage(), Stage::Over);
        QVERIFY(m_bench->find<QWidget>(QStringLiteral("the score among those that chance has")));
        const auto document = kept();
        QCOMPARE(document["result"]["correct"].get<int>(), 5);
        QCOMPARE(document["first"]["processor"].get<std::string>(), std::string("reference:low-pass"));
        HR_NEAR(document["first"]["settings"]["frequency_hz"].get<double>(), 300, 0);
        QVERIFY(document["second"]["untreated"].get<bool>());
        const std::filesystem::path csv = m_data.filePath(QStringLiteral("answers.csv")).toStdString();
        HR_VERIFY(exchange::writeTrial(csv, trial().document()));
        QFile answers(csv);
        QVERIFY(answers.open(QIODevice::ReadOnly));
        const auto lines = answers.readAll().split('\n');
        QCOMPARE(lines.size(), 7); // a head, five rounds, and the end of the last
        QVERIFY(lines[1].startsWith("1,\"") && lines[1].endsWith(",1\r"));
        QVERIFY(!exchange::writeTrial("/nowhere/at/all.json", trial().document()));
        QTest::mouseClick(m_bench->button(QStringLiteral("Back to the line-up")), Qt::LeftButton);
        QCOMPARE(trial().stage(), Stage::None);
        QVERIFY(m_bench->button(QStringLiteral("Add a candidate")));
    }

    void xSoundsLikeWhatItIs()
    {
        begin(40);
        desk().transport.play(true);
        int seen[2] = {};
        while (!trial().sheet().isOver() && (seen[0] < 2 || seen[1] < 2)) {
            const bool is_source = trial().sheet().xIsSecond();
            if (seen[is_source]++ < 2) {
                trial().hear(AbxTrial::Which::X);
                QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.audible(), desk().line_up.wanted(), 10000);
                QVERIFY(!desk().line_up.find(desk().line_up.audible())); // nobody can name it
                // On a busy machine what is heard breaks off now and then, and is nobody's sound: not judged.
                double distance = 0;
                std::size_t ran_dry = 1;
                for (int tries = 0; tries < 10 && ran_dry > 0; ++tries) {
                    const std::size_t before = desk().transport.underruns().of_lanes;
                    QTest::qWait(60); // the changeover's fade
                    distance = distanceFromSource();
                    ran_dry = desk().transport.underruns().of_lanes - before;
                }
                QVERIFY2(is_source ? distance < 1e-4 : distance > 0.05,
                         qPrintable(QStringLiteral("%1, ran dry %2 times").arg(distance).arg(ran_dry)));
            }
            trial().answer(true);
        }
        QVERIFY(seen[0] >= 2 && seen[1] >= 2);
        desk().transport.play(false);
    }

    void nothingOnTheScreenKnows()
    {
        begin(16);
        desk().transport.play(false); // where it is would tell them apart here
        desk().transport.seek(0);
        const auto seen = [this] {
            QStringList all;
            for (const QWidget* widget : m_bench->window->findChildren<QWidget*>())
                if (widget->isVisible())
                    all << widget->accessibleName() + QLatin1Char('|') + widget->accessibleDescription() +
                               QLatin1Char('|') + widget->toolTip() + QLatin1Char('|') +
                               (qobject_cast<const QLabel*>(widget)
                                    ? qobject_cast<const QLabel*>(widget)->text()
                                    : QString());
            return all;
        };
        QHash<bool, QStringList> by_truth;
        while (by_truth.size() < 2 && !trial().sheet().isOver()) {
            trial().hear(AbxTrial::Which::X);
            QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.audible(), desk().line_up.wanted(), 10000);
            QTest::qWait(50);
            by_truth[trial().sheet().xIsSecond()] = seen();
            trial().answer(false);
        }
        QCOMPARE(by_truth.size(), 2);
        for (QStringList& texts : by_truth) // but for the round, which is no secret
            texts.removeIf([](const QString& text) { return text.contains(QStringLiteral("ound ")); });
        QCOMPARE(by_truth[true], by_truth[false]);
        QVERIFY(m_bench->find<FairLine>(QStringLiteral("fair line: loudness before and after matching"))
                    ->accessibleDescription()
                    .contains(QStringLiteral("covered")));
    }

    void nothingOutsideTheWindowKnows()
    {
        // In a process of its own, so that there is something to be seen.
        const ContenderId other =
            desk().line_up.add(QStringLiteral("lv2:urn:honest-rack:specimens:spreader"), {{"balance_db", 3}});
        QTRY_VERIFY_WITH_TIMEOUT(trial().disabledReason(other, LineUp::untreated).isEmpty(), 20000);
        trial().begin(other, LineUp::untreated, 16);
        QTRY_COMPARE_WITH_TIMEOUT(trial().stage(), Stage::Asking, 20000);
        desk().transport.play(true);
        QTest::qWait(4000); // until session and journal have been written
        static QStringList printed;
        const auto former = qInstallMessageHandler(
            [](QtMsgType, const QMessageLogContext&, const QString& text) { printed << text; });
        QHash<bool, QStringList> by_truth;
        while (by_truth.size() < 2 && !trial().sheet().isOver()) {
            printed.clear();
            trial().hear(AbxTrial::Which::X);
            QTest::qWait(1500);
            by_truth[trial().sheet().xIsSecond()] = processes() + files() + printed;
            trial().answer(false);
        }
        qInstallMessageHandler(former);
        trial().stop();
        trial().putAway();
        desk().transport.play(false);
        desk().line_up.remove(other);
        QCOMPARE(by_truth.size(), 2);
        QVERIFY(by_truth[true].filter(QStringLiteral("hrack-worker")).size() >= 2);
        QVERIFY(by_truth[true].filter(QStringLiteral("\"line_up\"")).size() == 1);
        QCOMPARE(by_truth[true], by_truth[false]);
    }

    void stoppingIsRecorded()
    {
        begin(16);
        trial().answer(true);
        trial().answer(false);
        QTest::mouseClick(m_bench->button(QStringLiteral("Stop, and record that it was stopped")),
                          Qt::LeftButton);
        QCOMPARE(trial().stage(), Stage::Over);
        QCOMPARE(kept()["result"]["stopped_early"].get<bool>(), true);
        QCOMPARE(kept()["result"]["answered"].get<int>(), 2);
        const auto before = desk().store->trials.all()->size();
        trial().putAway();
        begin(16);
        trial().stop(); // before the first answer: nothing to keep
        QCOMPARE(desk().store->trials.all()->size(), before);
    }

    void whatIsTriedStaysAsItIs()
    {
        begin(16);
        desk().line_up.setValue(dull(), 0, 5000);
        QCOMPARE(m_bench->at(1).values[0], 300.0);
        QVERIFY(!desk().line_up.remove(dull()));
        // Nor what it is compared with, and matched by; nor is another line-up opened in its place.
        const auto gain_db = desk().line_up.find(dull())->gain_db;
        desk().edits.makeReference(dull());
        desk().edits.setRule({audition::Basis::None, {}});
        desk().edits.setByHand(dull(), -20);
        desk().saved.saveAs(QStringLiteral("In a trial"));
        desk().saved.open(desk().saved.current());
        desk().settings.takeDefaults(dull());
        QCOMPARE(desk().line_up.reference(), LineUp::untreated);
        QCOMPARE(desk().line_up.find(dull())->gain_db, gain_db);
        QVERIFY(!desk().line_up.find(dull())->pending);
        m_bench->press(Qt::Key_D);
        QVERIFY(!desk().transport.hearsDifference());
        desk().actions.run(QStringLiteral("source.next"));
        QCOMPARE(trial().stage(), Stage::Asking);
        QVERIFY(!trial().disabledReason(dull(), LineUp::untreated).isEmpty());
        trial().answer(true);
        desk().transport.setLoop({4800, 48000}); // another way round the covers
        QCOMPARE(trial().stage(), Stage::Over);
        QVERIFY(trial().sheet().wasStopped());
        QTRY_VERIFY_WITH_TIMEOUT(desk().line_up.fairWithinLu().has_value(), 20000);
        desk().line_up.setValue(dull(), 0, 400); // free again
        QCOMPARE(m_bench->at(1).values[0], 400.0);
    }

    void thereIsRoomForXBesideEight()
    {
        while (m_bench->candidates() < LineUp::most_candidates)
            desk().line_up.add(QStringLiteral("reference:gain"));
        begin(5);
        QCOMPARE(desk().transport.lanes().size(), std::size_t{11});
        trial().stop();
        while (m_bench->candidates() > 1)
            desk().line_up.remove(m_bench->idAt(2));
    }

    void closingRecordsIt()
    {
        begin(16);
        trial().answer(true);
        const auto before = desk().store->trials.all()->size();
        m_bench->window->close();
        QCOMPARE(desk().store->trials.all()->size(), before + 1);
    }
};

HR_TEST(tst_blind_trial)
#include "tst_blind_trial.moc"

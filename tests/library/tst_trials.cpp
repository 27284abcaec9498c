// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

using namespace hr;
using test::TemporaryStore;

class tst_trials : public QObject {
    Q_OBJECT

    static library::Trial trialOf(const char* first, const char* second, int correct)
    {
        return {0, QString::fromUtf8(first), QString::fromUtf8(second), {{"result", {{"correct", correct}}}}};
    }
    static std::vector<int> correctOf(const Result<std::vector<library::Trial>>& trials)
    {
        std::vector<int> correct;
        for (const library::Trial& trial : *trials)
            correct.push_back(trial.document["result"]["correct"].get<int>());
        return correct;
    }

private slots:
    void thoseOfTwoWhicheverWasFirst()
    {
        TemporaryStore one;
        library::Trials& trials = one.store->trials;
        for (const auto& trial :
             {trialOf("a", "source", 9), trialOf("b", "source", 10), trialOf("source", "a", 12)})
            HR_VERIFY(trials.store(trial));
        QCOMPARE(correctOf(trials.between(QStringLiteral("a"), QStringLiteral("source"))),
                 (std::vector{12, 9}));
        QCOMPARE(correctOf(trials.between(QStringLiteral("source"), QStringLiteral("b"))), (std::vector{10}));
        QVERIFY(trials.between(QStringLiteral("a"), QStringLiteral("b"))->empty());
        QCOMPARE(trials.all()->size(), std::size_t{3});
    }

    void theyOutliveTheProgram()
    {
        QTemporaryDir folder;
        const std::filesystem::path directory = folder.path().toStdString();
        {
            auto store = library::Store::open(directory);
            HR_VERIFY(store);
            HR_VERIFY((*store)->trials.store(trialOf("Größe", "source", 5)));
        }
        auto again = library::Store::open(directory);
        HR_VERIFY(again);
        QCOMPARE((*again)->trials.all()->front().first, QStringLiteral("Größe"));
    }

    void aDamagedOneIsLeftOutAndKept()
    {
        TemporaryStore one;
        HR_VERIFY(one.store->trials.store(trialOf("a", "source", 5)));
        HR_VERIFY(one.store->database().run(
            QStringLiteral("INSERT INTO trials (first, second, document) VALUES ('a', 'source', '{\"res')")));
        QCOMPARE(correctOf(one.store->trials.all()), (std::vector{5}));
        auto rows = one.store->database().run(QStringLiteral("SELECT count(*) FROM trials"));
        HR_VERIFY(rows);
        QVERIFY(rows->next());
        QCOMPARE(rows->value(0).toInt(), 2);
    }

    void textThatIsNotUtf8IsMended()
    {
        TemporaryStore one;
        auto trial = trialOf("a", "source", 5);
        trial.document["source"]["file"] = "/music/\xff\xfe.wav";
        HR_VERIFY(one.store->trials.store(trial));
        QCOMPARE(one.store->trials.all()->size(), std::size_t{1});
    }
};

HR_TEST(tst_trials)
#include "tst_trials.moc"

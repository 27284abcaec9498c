// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

using namespace hr;
using nlohmann::ordered_json;
using test::TemporaryStore;

class tst_pages : public QObject {
    Q_OBJECT

    static ordered_json page(const char* title, const char* words)
    {
        return {{"format", "honest-rack-page"},
                {"version", 1},
                {"title", title},
                {"subjects", {{{"title", "Cordage Leveller"}, {"maker", "Kelp"}}}},
                {"blocks", {{{"kind", "text"}, {"markdown", words}}, {{"kind", "plot"}, {"series", "zebra"}}}}};
    }

private slots:
    void pagesAreKeptFoundAndPutBack()
    {
        TemporaryStore kept;
        auto& pages = kept.store->pages;
        const auto first = pages.add(page("Brass", "It holds without sounding held."));
        const auto second = pages.add(page("Brass", "Quick verdict"));
        HR_VERIFY(first);
        QVERIFY(*first != *second); // one title, two pages
        QCOMPARE(pages.all()->size(), std::size_t{2});
        QCOMPARE(pages.all(QStringLiteral("HELD brass"))->size(), std::size_t{1});
        QCOMPARE(pages.all(QStringLiteral("kelp"))->size(), std::size_t{2});
        QVERIFY(pages.all(QStringLiteral("zebra"))->empty()); // a key is not what somebody wrote
        QTest::qWait(5);
        HR_VERIFY(pages.replace(*first, page("Brass, again", "x")));
        QCOMPARE(pages.all()->front().row_id, *first); // changed last
        QCOMPARE(pages.one(*first)->name, QStringLiteral("Brass, again"));
        HR_VERIFY(pages.remove(*first));
        QVERIFY(!pages.one(*first));
        HR_VERIFY(pages.add(page("Brass", "back"), *first));
        QCOMPARE(pages.one(*first)->row_id, *first);
        (void)kept.store->database().change(QStringLiteral("UPDATE pages SET document = '{' WHERE row_id = ?"),
                                            {*second});
        QCOMPARE(pages.all()->size(), std::size_t{1}); // the damaged one is left out
    }

    void theJournalGoesOn()
    {
        TemporaryStore kept;
        auto& journal = kept.store->journal;
        for (int i = 0; i < 5; ++i)
            HR_VERIFY(journal.note(QStringLiteral("heard"), QString::number(i)));
        const auto newest = journal.newest(3);
        QCOMPARE(newest->size(), std::size_t{3});
        QCOMPARE(newest->front().text, QStringLiteral("4"));
        QCOMPARE(journal.between(QStringLiteral("2000"), QStringLiteral("3000"))->size(), std::size_t{5});
        QVERIFY(journal.between(QStringLiteral("2000"), QStringLiteral("2001"))->empty());
    }
};

HR_TEST(tst_pages)
#include "tst_pages.moc"

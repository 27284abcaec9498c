// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

using namespace hr;
using library::LineUps;
using test::TemporaryStore;

class tst_line_ups : public QObject {
    Q_OBJECT

    static nlohmann::ordered_json documentOf(int candidates)
    {
        nlohmann::ordered_json document;
        document["candidates"] = std::vector<int>(static_cast<std::size_t>(candidates));
        return document;
    }
    static QStringList namesOf(const LineUps& line_ups)
    {
        QStringList names;
        const auto all = line_ups.all();
        for (const auto& one : *all)
            names << one.name;
        return names;
    }

private slots:
    void aNameStandsForOneDocument()
    {
        TemporaryStore one;
        LineUps& line_ups = one.store->line_ups;
        const auto brass = line_ups.save(QStringLiteral(" Brass "), documentOf(2));
        HR_VERIFY(brass);
        QCOMPARE(line_ups.one(*brass)->name, QStringLiteral("Brass"));
        HR_VERIFY(line_ups.replace(*brass, documentOf(3)));
        QCOMPARE(line_ups.one(*brass)->document["candidates"].size(), std::size_t{3});

        for (const char* refused : {"", "  ", "Brass", "Brass "})
            QVERIFY2(!line_ups.save(QString::fromUtf8(refused), documentOf(1)), refused);
        const auto choir = line_ups.save(QStringLiteral("Choir"), documentOf(1));
        HR_VERIFY(choir);
        QVERIFY(!line_ups.rename(*choir, QStringLiteral("Brass")));
        HR_VERIFY(line_ups.rename(*choir, QStringLiteral("Choir"))); // as it is called already
        HR_VERIFY(line_ups.rename(*choir, QStringLiteral("Voices")));
        QCOMPARE(namesOf(line_ups).size(), 2);
        QVERIFY(namesOf(line_ups).contains(QStringLiteral("Voices")));
    }

    void whatWasRemovedComesBackAsItself()
    {
        TemporaryStore one;
        LineUps& line_ups = one.store->line_ups;
        const qint64 row_id = *line_ups.save(QStringLiteral("Brass"), documentOf(2));
        const auto before = *line_ups.one(row_id);
        HR_VERIFY(line_ups.remove(row_id));
        const auto gone = line_ups.one(row_id);
        QVERIFY(!gone && gone.error().blame == Blame::Request);
        HR_VERIFY(line_ups.restore(before));
        QVERIFY(line_ups.one(row_id)->document == before.document);
        // Its name has been given to another meanwhile.
        HR_VERIFY(line_ups.remove(row_id));
        HR_VERIFY(line_ups.save(QStringLiteral("Brass"), documentOf(1)));
        QVERIFY(!line_ups.restore(before));
    }

    void aDamagedOneIsLeftOutAndStays()
    {
        TemporaryStore one;
        LineUps& line_ups = one.store->line_ups;
        const qint64 row_id = *line_ups.save(QStringLiteral("Brass"), documentOf(2));
        HR_VERIFY(line_ups.save(QStringLiteral("Choir"), documentOf(1)));
        HR_VERIFY(one.store->database().change(
            QStringLiteral("UPDATE line_ups SET document = '{\"cand' WHERE row_id = ?"), {row_id}));
        QCOMPARE(namesOf(line_ups), QStringList(QStringLiteral("Choir")));
        QVERIFY(!line_ups.one(row_id));
        HR_VERIFY(line_ups.replace(row_id, documentOf(4)));
        QCOMPARE(namesOf(line_ups).size(), 2);
    }
};

HR_TEST(tst_line_ups)
#include "tst_line_ups.moc"

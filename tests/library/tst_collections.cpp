// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

using namespace hr;
using library::CollectionItem;
using test::TemporaryStore;

class tst_collections : public QObject {
    Q_OBJECT

    static CollectionItem item(const char* id)
    {
        return {0, QStringLiteral("processor"), QString::fromLatin1(id), {}};
    }
    static QStringList order(const library::Store& store, qint64 collection)
    {
        QStringList ids;
        const auto items = store.collections.items(collection);
        for (const CollectionItem& one : *items)
            ids << one.reference;
        return ids;
    }

private slots:
    void namesAreUniqueAndNotEmpty()
    {
        TemporaryStore kept;
        auto& collections = kept.store->collections;
        HR_VERIFY(collections.create(QStringLiteral(" Brass ")));
        QVERIFY(!collections.create(QStringLiteral("Brass")));
        QVERIFY(!collections.create(QStringLiteral("  ")));
        const auto other = collections.create(QStringLiteral("Voice"));
        HR_VERIFY(other);
        QVERIFY(!collections.rename(*other, QStringLiteral("Brass")));
        HR_VERIFY(collections.rename(*other, QStringLiteral("Voice"))); // its own name
        QCOMPARE(collections.all()->size(), std::size_t{2});
    }

    void itemsKeepTheirOrderAndSettings()
    {
        TemporaryStore kept;
        auto& collections = kept.store->collections;
        const auto made = collections.create(QStringLiteral("Brass"));
        HR_VERIFY(made);
        HR_VERIFY(collections.add(*made, item("a")));
        HR_VERIFY(collections.add(*made, item("c")));
        CollectionItem with = item("b");
        with.settings = {{"threshold_db", -24.5}};
        const auto middle = collections.add(*made, with, 1);
        HR_VERIFY(middle);
        QCOMPARE(order(*kept.store, *made),
                 (QStringList{QStringLiteral("a"), QStringLiteral("b"), QStringLiteral("c")}));
        QCOMPARE(collections.items(*made)->at(1).settings.front().value, -24.5);
        HR_VERIFY(collections.removeItem(*middle));
        QCOMPARE(order(*kept.store, *made), (QStringList{QStringLiteral("a"), QStringLiteral("c")}));
    }

    void removingACollectionTakesItsItems()
    {
        TemporaryStore kept;
        const auto made = kept.store->collections.insert(QStringLiteral("Brass"), {item("a"), item("b")});
        HR_VERIFY(made);
        HR_VERIFY(kept.store->collections.remove(*made));
        auto left = kept.store->database().run(QStringLiteral("SELECT count(*) FROM collection_items"));
        QVERIFY(left && left->next());
        QCOMPARE(left->value(0).toInt(), 0);
    }

    void anInsertedNameThatIsTakenGetsANumber()
    {
        TemporaryStore kept;
        for (const char* expected : {"Brass", "Brass 2", "Brass 3"}) {
            HR_VERIFY(kept.store->collections.insert(QStringLiteral("Brass"), {}));
            const auto all = kept.store->collections.all();
            QCOMPARE(all->back().name, QString::fromLatin1(expected));
        }
    }
};

HR_TEST(tst_collections)
#include "tst_collections.moc"

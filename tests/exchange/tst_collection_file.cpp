// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/chain_json.h"
#include "chain/company.h"
#include "exchange/collection_file.h"
#include "support/fixtures.h"

#include <QFile>
#include <fstream>

using namespace hr;
using test::TemporaryStore;

class tst_collection_file : public QObject {
    Q_OBJECT

    /// JSON written with single quotes.
    static QByteArray quoted(const char* text) { return QByteArray(text).replace('\'', '"'); }

private slots:
    void exportThenImportIsTheSame()
    {
        TemporaryStore one;
        library::CollectionItem kept{
            0, QStringLiteral("processor"), QStringLiteral("reference:gain"), {{"gain_db", -3.5}}};
        library::CollectionItem missing{0, QStringLiteral("processor"), QStringLiteral("lv2:urn:not:here"), {}};
        const auto made = one.store->collections.insert(QStringLiteral("Brass „bus“"), {kept, missing});
        HR_VERIFY(made);
        const auto file = one.path("c.json");
        HR_VERIFY(exchange::exportCollection(*one.store, *made, file));
        std::ifstream in(file);
        const auto json = nlohmann::json::parse(in);
        QCOMPARE(json["items"][0]["name"].get<std::string>(), std::string("Gain"));

        TemporaryStore other;
        const auto read = exchange::importCollection(*other.store, file);
        HR_VERIFY(read);
        QCOMPARE(other.store->collections.all()->front().name, QStringLiteral("Brass „bus“"));
        const auto items = other.store->collections.items(*read);
        QCOMPARE(items->size(), std::size_t{2});
        QCOMPARE(items->at(0).settings.front().value, -3.5);
        QCOMPARE(items->at(1).reference, QStringLiteral("lv2:urn:not:here")); // kept though not installed
    }

    void whatIsNotInstalledIsExportedAsItCame()
    {
        TemporaryStore kept;
        const auto file = kept.path("from.json");
        const QByteArray text = quoted("{'format': 'honest-rack-collection', 'version': 1, 'name': 'x', "
                                       "'items': [{'kind': 'processor', 'id': "
                                       "'lv2:urn:nowhere', 'name': 'Old Friend', 'maker': 'Somebody', "
                                       "'settings': {'mode': 'Warm', 'amount': 3}, "
                                       "'state': 'QUJD'}]}");
        std::ofstream(file).write(text.data(), text.size());
        const auto read = exchange::importCollection(*kept.store, file);
        HR_VERIFY(read);
        HR_VERIFY(exchange::exportCollection(*kept.store, *read, kept.path("to.json")));
        const auto written = exchange::readDocument(kept.path("to.json"));
        HR_VERIFY(written);
        QVERIFY((*written)["items"] == nlohmann::ordered_json::parse(text.toStdString())["items"]);
    }

    void eightThousandThingsAreImportedAtOnce()
    {
        TemporaryStore kept;
        std::vector<library::CollectionItem> items(8000);
        for (std::size_t i = 0; i < items.size(); ++i)
            items[i].reference = QStringLiteral("lv2:urn:%1").arg(i);
        HR_VERIFY(kept.store->collections.insert(QStringLiteral("Many"), items));
        QCOMPARE(kept.store->collections.items(1)->at(7999).reference, QStringLiteral("lv2:urn:7999"));
    }

    void badFilesChangeNothing_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("says");
        QTest::newRow("no JSON") << QByteArray("hello") << "not a JSON";
        QTest::newRow("empty") << QByteArray() << "not a JSON";
        QTest::newRow("other JSON") << QByteArray("[1, 2]") << "not a collection";
        QTest::newRow("cut off") << quoted("{'format': 'honest-rack-collection', 'version': 1, 'name")
                                 << "not a JSON";
        QTest::newRow("newer")
            << quoted("{'format': 'honest-rack-collection', 'version': 2, 'name': 'x', 'items': []}")
            << "newer";
        QTest::newRow("no version") << quoted("{'format': 'honest-rack-collection', 'name': 'x', 'items': []}")
                                    << "newer";
        QTest::newRow("no items") << quoted("{'format': 'honest-rack-collection', 'version': 1, 'name': 'x'}")
                                  << "damaged";
        QTest::newRow("no name") << quoted("{'format': 'honest-rack-collection', 'version': 1, 'items': []}")
                                 << "damaged";
        QTest::newRow("empty name")
            << quoted("{'format': 'honest-rack-collection', 'version': 1, 'name': '', 'items': []}") << "name";
        QTest::newRow("item without id")
            << quoted(
                   "{'format': 'honest-rack-collection', 'version': 1, 'name': 'x', 'items': [{'id': 'a'}, 7]}")
            << "item 2";
        QTest::newRow("chain without stages")
            << quoted("{'format': 'honest-rack-collection', 'version': 1, 'name': 'x', 'items': [{'id': 'a', "
                      "'kind': "
                      "'chain', 'chain': {'format': 'honest-rack-chain', 'version': 1, 'stages': []}}]}")
            << "item 1";
        QTest::newRow("a kind that is none") << quoted("{'format': 'honest-rack-collection', 'version': 1, "
                                                       "'name': 'x', 'items': [{'id': 'a', 'kind': 7}]}")
                                             << "item 1: its \"kind\"";
        QTest::newRow("settings that are a list")
            << quoted("{'format': 'honest-rack-collection', 'version': 1, 'name': 'x', 'items': [{'id': 'a', "
                      "'settings': [1]}]}")
            << "item 1: its \"settings\"";
        QTest::newRow("a setting that is a list")
            << quoted("{'format': 'honest-rack-collection', 'version': 1, 'name': 'x', 'items': [{'id': 'a', "
                      "'settings': {'gain_db': [1]}}]}")
            << "item 1: its setting \"gain_db\"";
        QTest::newRow("a word that is no choice")
            << quoted("{'format': 'honest-rack-collection', 'version': 1, 'name': 'x', 'items': [{'id': "
                      "'reference:gain', 'settings': {'gain_db': 'loud'}}]}")
            << "has no choice \"loud\"";
        QTest::newRow("deeply nested") << QByteArray(200000, '[') << "deeper than 64 levels";
    }
    void badFilesChangeNothing()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, says);
        TemporaryStore kept;
        const auto file = kept.path("bad.json");
        std::ofstream(file).write(text.data(), text.size());
        const auto read = exchange::importCollection(*kept.store, file);
        QVERIFY(!read);
        QCOMPARE(read.error().blame, Blame::Request);
        QVERIFY2(test::why(read).contains(says), qPrintable(test::why(read)));
        QVERIFY(kept.store->collections.all()->empty());
    }

    void failuresOfPlacesAreSaid()
    {
        TemporaryStore kept;
        const auto made = kept.store->collections.create(QStringLiteral("x"));
        QCOMPARE(exchange::exportCollection(*kept.store, *made, "/nonexistent/c.json").error().blame,
                 Blame::Machine);
        QVERIFY(!exchange::exportCollection(*kept.store, 999, kept.path("c.json")));
        QVERIFY(!exchange::importCollection(*kept.store, kept.path("nowhere.json")));
    }

    void aChainTravelsWhole()
    {
        TemporaryStore kept;
        chain::Chain chain{"Quay", {}};
        chain::addStage(chain, "reference:gain");
        chain.nodes[0].settings = {{"gain_db", -4}};
        chain::addStage(chain, "lv2:urn:nobody:has-it");
        const QString text = QString::fromStdString(chain::toText(chain));
        const auto made = kept.store->collections.insert(
            QStringLiteral("Chains"), {{0, QStringLiteral("chain"), QStringLiteral("Quay"), {}, text}});
        HR_VERIFY(exchange::exportCollection(*kept.store, *made, kept.path("chains.json")));
        const auto again = exchange::importCollection(*kept.store, kept.path("chains.json"));
        HR_VERIFY(again);
        const auto items = kept.store->collections.items(*again);
        QVERIFY(items->front().isChain());
        QCOMPARE(items->front().chain, text);
        QVERIFY(kept.store->collections.members()->isEmpty()); // they are no processors
    }

    void partsTravelWhole()
    {
        TemporaryStore kept;
        const auto written = kept.path("parts.json");
        const std::string parts =
            R"({"format": "honest-rack-company", "version": 1, "name": "Deck", "parts": [{"id": "p1", "name": "choir",)"
            R"( "file": "choir.wav", "sends": [{"to": "r1", "level_db": -9}]}], "returns": [{"id": "r1"}]})";
        const QString text = QString::fromStdString(
            chain::toText(*chain::companyFromJson(nlohmann::ordered_json::parse(parts))));
        const auto made = kept.store->collections.insert(
            QStringLiteral("Parts"), {{0, QStringLiteral("parts"), QStringLiteral("Deck"), {}, text}});
        HR_VERIFY(exchange::exportCollection(*kept.store, *made, written));
        const auto again = exchange::importCollection(*kept.store, written);
        HR_VERIFY(again);
        const auto items = kept.store->collections.items(*again);
        QVERIFY(items->front().isParts());
        QCOMPARE(items->front().chain, text);
        std::ofstream(written) << R"({"format": "honest-rack-collection", "version": 1, "name": "x", "items":)"
                                  R"( [{"kind": "parts", "id": "Deck", "parts": {"parts": 7}}]})";
        QVERIFY(!exchange::importCollection(*kept.store, written));
    }

    void aRuleTravelsWithItsCollection()
    {
        test::TemporaryStore kept;
        const QString rule = QStringLiteral(R"({"choices":[],"order":"noise.idle_dbfs","text":"warm"})");
        const auto made = kept.store->collections.create(QStringLiteral("Warm"), rule);
        HR_VERIFY(made);
        HR_VERIFY(exchange::exportCollection(*kept.store, *made, kept.path("warm.json")));
        const auto again = exchange::importCollection(*kept.store, kept.path("warm.json"));
        HR_VERIFY(again);
        const auto all = kept.store->collections.all();
        const auto imported = std::ranges::find(*all, *again, &library::Collection::row_id);
        QVERIFY(imported->byRule());
        QCOMPARE(imported->rule, rule);
        QCOMPARE(imported->name, QStringLiteral("Warm 2"));
    }
};

HR_TEST(tst_collection_file)
#include "tst_collection_file.moc"

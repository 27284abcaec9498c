// SPDX-License-Identifier: GPL-3.0-or-later
//
// Chains as they are written down.
#include "chains.h"
#include "support/fixtures.h"

using namespace hr;
using nlohmann::ordered_json;

class tst_chain_file : public QObject {
    Q_OBJECT

private slots:
    void whatIsWrittenComesBack()
    {
        chain::Chain chain = test::series("Corrective first", {"reference:gain", "lv2:urn:x"});
        chain.nodes[0].settings = {{"gain_db", 2}};
        chain.nodes[0].purpose = "tame low-mid";
        chain.nodes[1].on = false;
        chain.nodes[1].blend_percent = 30;
        chain.nodes[1].key = processors::KeySource::Chain;
        const auto again = chain::fromJson(chain::toJson(chain));
        HR_VERIFY(again);
        QCOMPARE(chain::toText(*again), chain::toText(chain));
        QVERIFY(again->isSeries());
        QCOMPARE(chain::addStage(chain, "reference:gain").id, std::string("s3"));
    }

    void theFirstVersionIsStillRead()
    {
        const auto chain = chain::fromText(
            R"({"format":"honest-rack-chain","version":1,"name":"old","stages":[{"id":"reference:gain","trim_db":2,)"
            R"("settings":{"gain_db":-4}},{"id":"lv2:urn:x","on":false,"key":"chain","purpose":"p"}]})");
        HR_VERIFY(chain);
        QCOMPARE(chain->nodes[0].id + chain->nodes[1].id, std::string("s1s2"));
        QCOMPARE(chain->nodes[0].processor, std::string("reference:gain"));
        QCOMPARE(chain->nodes[0].trim_db, 2.0);
        QVERIFY(!chain->nodes[1].on && chain->nodes[1].key == processors::KeySource::Chain);
    }

    void nonsenseIsRefusedByName_data()
    {
        QTest::addColumn<QString>("document");
        QTest::addColumn<QString>("says");
        const auto old = [](const char* name, const char* stages, const char* says) {
            QTest::newRow(name) << QStringLiteral(R"({"format":"honest-rack-chain","version":1,"stages":%1})")
                                       .arg(QLatin1String(stages))
                                << QString::fromLatin1(says);
        };
        const auto row = [](const char* name, const char* nodes, const char* edges, const char* says) {
            QTest::newRow(name) << QStringLiteral(R"({"format":"honest-rack-chain","version":2,"nodes":%1%2})")
                                       .arg(QLatin1String(nodes),
                                            *edges ? QStringLiteral(R"(,"edges":)") + QLatin1String(edges)
                                                   : QString())
                                << QString::fromLatin1(says);
        };
        QTest::newRow("not a chain") << R"({"a":1})"
                                     << "not a chain";
        QTest::newRow("newer") << R"({"format":"honest-rack-chain","version":3,"nodes":[]})"
                               << "another version";
        old("no stages", "[]", "no list of stages");
        old("no id", R"([{"id":"a"},{"on":true}])", "Stage 2 has no \"id\"");
        old("blend", R"([{"id":"a","blend_percent":101}])", "from 0 to 100");
        old("trim", R"([{"id":"a","trim_db":"loud"}])", "trim_db");
        old("key", R"([{"id":"a","key":"door"}])", "none, own, chain");
        old("setting", R"([{"id":"a","settings":{"x":"y"}}])", "\"x\" that is not a number");
        row("no nodes", "7", "", "no list of nodes");
        row("no processor", R"([{"id":"a"}])", "", "Node 1 has no \"processor\"");
        row("kind", R"([{"id":"a","kind":"spaghetti"}])", "", "\"kind\"");
        row("bands", R"([{"id":"a","kind":"bands","crossovers_hz":[5]}])", "", "crossovers_hz");
        row("bands that go down", R"([{"id":"a","kind":"bands","crossovers_hz":[900,100]}])", "", "ascend");
        row("twice", R"([{"id":"a","processor":"x"},{"id":"a","processor":"y"}])", "", "Two nodes");
        row("strange id", R"([{"id":"a.b","processor":"x"}])", "", "cannot be the id");
        row("circle", R"([{"id":"a","kind":"sum"},{"id":"b","kind":"branch"}])",
            R"([{"from":"in","to":"a"},{"from":"a","to":"b"},{"from":"b","to":"a"},{"from":"b","to":"out"}])",
            "circle");
        row("from nowhere", R"([{"id":"a","kind":"sum"}])",
            R"([{"from":"z","to":"a"},{"from":"a","to":"out"}])", "\"z\", which is not there");
        row("nothing comes out", R"([{"id":"a","kind":"sum"}])", R"([{"from":"in","to":"a"}])",
            "Nothing reaches");
        row("fed twice", R"([{"id":"a","processor":"x"}])",
            R"([{"from":"in","to":"a"},{"from":"in","to":"a"},{"from":"a","to":"out"}])",
            "put a sum before it");
        row("not fed", R"([{"id":"a","processor":"x"}])", R"([{"from":"in","to":"out"}])",
            "Nothing feeds \"a\"");
        row("key that is not wired", R"([{"id":"a","processor":"x","key":"wired"}])", "", "no edge goes there");
    }
    void nonsenseIsRefusedByName()
    {
        QFETCH(QString, document);
        QFETCH(QString, says);
        const auto chain = chain::fromJson(ordered_json::parse(document.toStdString()));
        QVERIFY(!chain);
        QVERIFY2(test::why(chain).contains(says), qPrintable(test::why(chain)));
    }

    void aMillionStagesAreTooMany()
    {
        ordered_json document{
            {"format", chain::format_name}, {"version", 1}, {"stages", ordered_json::array()}};
        for (int i = 0; i < 1000000; ++i)
            document["stages"].push_back({{"id", "a"}});
        const auto chain = chain::fromJson(document);
        QVERIFY(!chain);
        QVERIFY(test::why(chain).contains(QStringLiteral("1000000 stages; a chain has at most 64")));
    }
};

HR_TEST(tst_chain_file)
#include "tst_chain_file.moc"

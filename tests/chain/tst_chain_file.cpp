// SPDX-License-Identifier: GPL-3.0-or-later
//
// Chains as they are written down.
#include "chain/company.h"
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

    static ordered_json company()
    {
        chain::Company made;
        made.name = "Evening deck";
        for (const char* file : {"a.wav", "b.wav"}) {
            chain::Part part;
            part.id = chain::newId(made, "p");
            part.file = file;
            made.parts.push_back(part);
        }
        chain::Return hall;
        hall.id = chain::newId(made, "r");
        made.returns.push_back(hall);
        made.parts[0].chain = test::series("first", {"reference:gain"});
        made.parts[0].sends = {{"r3", -9}};
        made.parts[1].standing = {-6, 40, false};
        made.parts[1].repeats = false;
        made.sum = test::series("sum", {"reference:hard-clip"});
        return chain::toJson(made);
    }

    void partsComeBackAsTheyWereWritten()
    {
        const auto again = chain::companyFromJson(company());
        HR_VERIFY(again);
        QVERIFY(chain::toJson(*again) == company());
        QVERIFY(again->part("p2") && !again->part("p9") && !again->part("p2")->repeats);
        QVERIFY(chain::isCompany(company()) && !chain::isCompany(chain::toJson(chain::Chain{})));
        const auto gains = chain::gainsOf({-6.0206, 100, true});
        HR_NEAR(gains.left, 0, 1e-9);
        HR_NEAR(gains.right, 0.5, 1e-5);
        QCOMPARE(chain::gainsOf({0, -50, true}).left, 1.0);
        HR_NEAR(chain::gainsOf({0, -50, true}).right, std::sqrt(0.5), 1e-9);
        QCOMPARE(chain::gainsOf({12, 0, false}).left, 0.0);
    }

    void damagedPartsAreRefusedByName()
    {
        const std::vector<std::pair<const char*, std::function<void(ordered_json&)>>> damages{
            {"format", [](auto& j) { j["format"] = "honest-rack-chain"; }},
            {"another version", [](auto& j) { j["version"] = 2; }},
            {"no parts", [](auto& j) { j["parts"].clear(); }},
            {"at most 12", [](auto& j) { j["parts"] = std::vector<ordered_json>(13, j["parts"][0]); }},
            {"not a list", [](auto& j) { j["parts"] = 7; }},
            {"two \"p1\"", [](auto& j) { j["parts"][1]["id"] = "p1"; }},
            {"no \"id\"", [](auto& j) { j["parts"][0]["id"] = "a b"; }},
            {"no \"file\"", [](auto& j) { j["parts"][1].erase("file"); }},
            {"\"level_db\"", [](auto& j) { j["parts"][0]["level_db"] = 25; }},
            {"\"place_percent\"", [](auto& j) { j["parts"][0]["place_percent"] = "left"; }},
            {"\"heard\"", [](auto& j) { j["parts"][0]["heard"] = 1; }},
            {"no return", [](auto& j) { j["parts"][0]["sends"][0]["to"] = "p2"; }},
            {"short list", [](auto& j) { j["parts"][0]["sends"] = "all"; }},
            {"Number 1 of its \"parts\"",
             [](auto& j) { j["parts"][0]["chain"]["nodes"][0].erase("processor"); }},
            {"\"sum\"", [](auto& j) { j["sum"]["edges"] = 3; }},
        };
        for (const auto& [says, damage] : damages) {
            ordered_json document = company();
            damage(document);
            const QString told = test::why(chain::companyFromJson(document));
            QVERIFY2(told.contains(QLatin1String(says)), qPrintable(told));
        }
    }
};

HR_TEST(tst_chain_file)
#include "tst_chain_file.moc"

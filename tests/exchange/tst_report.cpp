// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/figure_text.h"
#include "exchange/document.h"
#include "exchange/figures_csv.h"
#include "exchange/report/delivery_text.h"
#include "exchange/report/filled_page.h"
#include "exchange/report/html.h"
#include "exchange/report/page.h"
#include "exchange/report/svg.h"
#include "exchange/report/write_report.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <QXmlStreamReader>
#include <array>
#include <csignal>
#include <fcntl.h>
#include <fstream>
#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>

using namespace hr;
namespace fs = std::filesystem;
using nlohmann::ordered_json;

class tst_report : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<library::Store> m_store;
    std::vector<exchange::PageSubject> m_subjects;

    static std::size_t count(const std::string& text, const std::string& of)
    {
        std::size_t found = 0;
        for (auto at = text.find(of); at != std::string::npos; at = text.find(of, at + 1))
            ++found;
        return found;
    }
    /// Whether all tags close: SVG is XML, and our own HTML parts are written so, too.
    static bool isWellFormed(const std::string& xml)
    {
        QXmlStreamReader reader(QByteArray::fromStdString(xml));
        while (!reader.atEnd())
            reader.readNext();
        if (reader.hasError())
            qWarning() << reader.errorString();
        return !reader.hasError();
    }

private slots:
    void initTestCase()
    {
        m_store = std::move(*library::Store::open(m_folder.filePath(QStringLiteral("store")).toStdString()));
        HR_VERIFY(m_store->catalogue.recordReferences());
        for (const double frequency_hz : {500.0, 5000.0}) {
            const auto info = *m_store->catalogue.info(QStringLiteral("reference:low-pass"));
            const hosting::Location location{"reference:low-pass", {}};
            const auto values = processors::nearestValues(info, {{"frequency_hz", frequency_hz}});
            const auto set_up = library::setUpOf(m_store->catalogue, location, info, values);
            HR_VERIFY(m_store->runs.store(
                set_up, bench::measure(location, info, values, *bench::testsNamed({"response", "noise"}), {})));
            m_subjects.push_back(
                {static_cast<int>(m_subjects.size()) + 1, "Low <pass> & \"friends\"", "the bench", set_up});
        }
    }
    void cleanupTestCase() { m_store.reset(); }

    void tablesAndPlotsAreFilledFromTheReadings()
    {
        const auto page = exchange::newPage("Two low passes", m_subjects);
        HR_VERIFY(exchange::checkPage(page));
        const auto report = exchange::resolve(*m_store, page);
        const auto& table = report["parts"][1];
        bool found = false;
        for (const auto& row : table["rows"]) {
            if (row["key"] == "corner_high_hz") {
                HR_NEAR(row["values"][0].get<double>(), 500, 5);
                HR_NEAR(row["values"][1].get<double>(), 5000, 50);
                found = true;
            }
            QVERIFY2(row["key"] != "threshold_db", "nobody has measured any");
        }
        QVERIFY(found);
        QCOMPARE(report["parts"][2]["curves"].size(), std::size_t{2});
        QVERIFY(report["parts"][3].contains("missing")); // transfer has not been measured
    }

    /// A part of the sound is ridden, the rest goes straight through: no curve of one knee.
    void whatIsUnsureSaysSo()
    {
        const hosting::Location location{"lv2:urn:honest-rack:tests:one-band", test::designs_bundle};
        const auto info = (*hosting::openInstance(location))->info();
        const auto values = processors::nearestValues(info, {});
        const auto set_up = library::setUpOf(m_store->catalogue, location, info, values);
        HR_VERIFY(m_store->runs.store(
            set_up, bench::measure(location, info, values, *bench::testsNamed({"transfer"}), {})));
        const auto page = exchange::newPage("One", {{1, "One band", "the tests", set_up}});
        const auto table = exchange::resolve(*m_store, page)["parts"][1];
        const auto note = QString::fromStdString(table["note"].get<std::string>());
        QVERIFY2(note.contains(QStringLiteral("≈ A: the curve is ")), qPrintable(note));
        QVERIFY(std::ranges::any_of(table["rows"], [](const auto& row) {
            return row["key"] == "threshold_db" &&
                   row["texts"][0].template get<std::string>().starts_with("≈ ");
        }));
    }

    void aPageHasThePlotsThatTellOfItsKinds()
    {
        const auto testsOf = [](const std::string& kind) {
            exchange::PageSubject subject;
            subject.kind = kind;
            const auto page = exchange::newPage("One", {subject});
            std::set<std::string> tests;
            for (const auto& block : page["blocks"])
                tests.insert(block.value("test", std::string()));
            return tests;
        };
        QVERIFY(testsOf("flanger").contains("movement") && testsOf("compressor").contains("timing"));
        QVERIFY(testsOf("reverb").contains("decay") && testsOf("delay").contains("echoes"));
        QVERIFY(!testsOf("equaliser").contains("movement"));
    }

    void whatIsFrozenStaysAsItWas()
    {
        auto page = exchange::newPage("Frozen", m_subjects);
        auto& block = page["blocks"][1];
        block["frozen"] = exchange::resolveBlock(*m_store, page, block);
        block["frozen"]["rows"][0]["texts"][0] = "then";
        QCOMPARE(exchange::resolve(*m_store, page)["parts"][1]["rows"][0]["texts"][0].get<std::string>(),
                 std::string("then"));
    }

    void htmlHoldsEverythingAndRunsNothing()
    {
        auto page = exchange::newPage("A <script>alert(1)</script> & more", m_subjects);
        page["blocks"][0] = exchange::textBlock("**Loud** <script>alert(2)</script> [x](javascript:alert(3))");
        page["blocks"].push_back(exchange::trialBlock(
            {{"kind", "abx"},
             {"first", {{"title", "A"}}},
             {"second", {{"title", "B"}}},
             {"source", {{"title", "Choir"}}},
             {"match", {{"apart_lu", 0.02}}},
             {"result", {{"sentence", "9 of 16: chance alone does this well 40 times in 100."}}}}));
        const std::string html = exchange::reportAsHtml(exchange::resolve(*m_store, page));
        QVERIFY(html.find("<script") == std::string::npos);
        QVERIFY(html.find("javascript:") == std::string::npos);
        QVERIFY(html.find("<strong>Loud</strong>") != std::string::npos);
        QVERIFY(html.find("Low &lt;pass&gt; &amp; &quot;friends&quot;") != std::string::npos);
        QVERIFY(html.find("9 of 16") != std::string::npos);
        QVERIFY(html.find("src=") == std::string::npos && html.find("http-equiv") == std::string::npos);
        QCOMPARE(count(html, "<svg"), std::size_t{1});
        QVERIFY(isWellFormed("<div>" +
                             html.substr(html.find("<main>"), html.find("</main>") + 7 - html.find("<main>")) +
                             "</div>"));
    }

    void picturesAreDrawnToScale()
    {
        // A line from corner to corner of its axes, and one that is flat: it looks flat.
        const ordered_json flat{
            {"heading", "a < b"},
            {"x", {{"name", "frequency"}, {"unit", "Hz"}, {"logarithmic", true}}},
            {"y", {{"name", "magnitude"}, {"unit", "dB"}, {"least_span", 12}}},
            {"curves", {{{"letter", "A"}, {"mark", 1}, {"points", {{20, 0}, {200, 0.01}, {20000, 0}}}}}}};
        const std::string svg = exchange::svgOf(flat);
        QVERIFY(isWellFormed(svg));
        const auto path = QString::fromStdString(svg.substr(svg.find("d=\"M") + 4, 60));
        const auto points = path.section(QLatin1Char('"'), 0, 0).split(QLatin1Char('L'));
        QCOMPARE(points.size(), 3);
        const auto x = [&](int i) { return points[i].section(QLatin1Char(' '), 0, 0).toDouble(); };
        const auto y = [&](int i) { return points[i].section(QLatin1Char(' '), 1, 1).toDouble(); };
        HR_NEAR((x(1) - x(0)) / (x(2) - x(0)), 1.0 / 3, 0.002); // a decade of three
        QVERIFY(std::abs(y(1) - y(0)) < 1);
        for (const ordered_json& odd :
             {ordered_json::object(), ordered_json{{"curves", ordered_json::array()}},
              ordered_json{{"x", {{"logarithmic", true}}},
                           {"curves", {{{"points", {{0, 1}, {-5, 2}, {1, 1e300}}}}}}}})
            QVERIFY(isWellFormed(exchange::svgOf(odd)));
    }

    void whereFiguresWereTakenIsMarked()
    {
        const auto report = exchange::resolve(*m_store, exchange::newPage("Two low passes", m_subjects));
        const auto& curves = report["parts"][2]["curves"];
        QCOMPARE(curves[0]["marks"].size(), std::size_t{1});
        HR_NEAR(curves[0]["marks"][0]["x"].get<double>(), 500, 5);
        const std::string svg = exchange::svgOf(report["parts"][2]);
        QVERIFY(isWellFormed(svg));
        QCOMPARE(count(svg, "<circle"), std::size_t{2});
        QCOMPARE(count(svg, ">corner "), std::size_t{2});
        // A thin line stands beside another and has no letter of its own; an axis may have ends it always
        // shows.
        ordered_json plot{{"x", {{"name", "phase"}, {"unit", "°"}}},
                          {"y", {{"name", "correlation"}, {"always", {-1, 1}}}},
                          {"curves",
                           {{{"letter", "A"}, {"mark", 1}, {"thin", true}, {"points", {{0, 0.9}, {360, 0.9}}}},
                            {{"letter", "A"}, {"mark", 1}, {"points", {{0, 1}, {360, 1}}}}}}};
        const std::string drawn = exchange::svgOf(plot);
        QVERIFY(isWellFormed(drawn));
        QCOMPARE(count(drawn, ">A</text>"), std::size_t{1});
        QVERIFY(drawn.find("stroke-width=\"0.8\"") != std::string::npos);
        QVERIFY(drawn.find(">−1.0</text>") != std::string::npos ||
                drawn.find(">−1</text>") != std::string::npos);
        for (const ordered_json& odd : {ordered_json("wide"), ordered_json::array({1}), ordered_json(3)}) {
            plot["y"]["always"] = odd;
            QVERIFY(isWellFormed(exchange::svgOf(plot)));
        }
    }

    void figuresAreSavedSideBySide()
    {
        bench::Reading reading;
        reading.put("thd_db", -60.5, {});
        reading.put("thdn_db", std::nullopt, "nothing came through");
        reading.figures["at_100_hz"] = {{"thd_db", -70.25}};
        reading.figures["harmonics_db"] = {-60, -80};
        const std::string csv = exchange::figuresCsv(
            {{"harmonics", "thd_db"},
             {"harmonics", "thdn_db"},
             {"harmonics", "at_100_hz.thd_db"},
             {"harmonics", "harmonics_db"},
             {"response", "gain_1k_db"}},
            {{"A \"Quay\", left",
              [&](const std::string& test) { return test == "harmonics" ? &reading : nullptr; }},
             {"B", [](const std::string&) { return nullptr; }}});
        QCOMPARE(QString::fromStdString(csv),
                 QStringLiteral("test,figure,unit,\"A \"\"Quay\"\", left\",\"B\"\r\n"
                                "harmonics,thd_db,\"dB\",-60.5,\r\n"
                                "harmonics,thdn_db,\"dB\",,\r\n"
                                "harmonics,at_100_hz.thd_db,\"dB\",-70.25,\r\n"
                                "harmonics,harmonics_db,\"dB\",\"[-60,-80]\",\r\n"
                                "response,gain_1k_db,\"dB\",,\r\n"));
    }

    void markdownAndCsvAreTables()
    {
        const auto report = exchange::resolve(*m_store, exchange::newPage("Two", m_subjects));
        const fs::path file = m_folder.filePath(QStringLiteral("two.md")).toStdString();
        HR_VERIFY(exchange::writeReport(report, exchange::ReportFormat::Markdown, file));
        QVERIFY(fs::exists(file.parent_path() / "two-1.svg"));
        QVERIFY(exchange::reportAsMarkdown(report, "two").find("](two-1.svg)") != std::string::npos);
        const std::string csv = exchange::reportAsCsv(report);
        const auto lines = count(csv, "\r\n");
        QCOMPARE(lines, 1 + report["parts"][1]["rows"].size());
        QVERIFY(csv.find("\"A Low <pass> & \"\"friends\"\"\"") != std::string::npos);
        QVERIFY(!exchange::writeReport(report, exchange::ReportFormat::Html, "/nowhere/at/all.html"));
        QVERIFY(!exchange::reportFormat("docx"));
    }

    /// As full as a disk: this process may write no longer files. Shorter and longer than what is buffered.
    void aFullDiskLeavesWhatWasThere()
    {
        const fs::path file = m_folder.filePath(QStringLiteral("kept.html")).toStdString();
        HR_VERIFY(exchange::writeText(file, "before"));
        rlimit usual{};
        getrlimit(RLIMIT_FSIZE, &usual);
        const auto handler = std::signal(SIGXFSZ, SIG_IGN);
        const rlimit little{4096, usual.rlim_max};
        setrlimit(RLIMIT_FSIZE, &little);
        const auto some = exchange::writeText(file, std::string(10'000, 'x'));
        const auto much = exchange::writeText(file, std::string(200'000, 'x'));
        setrlimit(RLIMIT_FSIZE, &usual);
        std::signal(SIGXFSZ, handler);
        for (const auto& written : {some, much}) {
            QVERIFY(!written);
            QVERIFY2(written.error().text.find("kept.html") != std::string::npos, written.error().text.c_str());
        }
        QCOMPARE(fs::file_size(file), std::uintmax_t{6});
    }

    void whatIsNoFileIsWrittenInto()
    {
        const std::string pipe = m_folder.filePath(QStringLiteral("pipe")).toStdString();
        QCOMPARE(mkfifo(pipe.c_str(), 0600), 0);
        const int reader = ::open(pipe.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC);
        HR_VERIFY(exchange::writeText(pipe, "through"));
        QVERIFY(fs::is_fifo(pipe));
        std::array<char, 16> read{};
        QCOMPARE(::read(reader, read.data(), read.size()), ssize_t{7});
        ::close(reader);
    }

    void whatIsNoPageIsRefused()
    {
        const auto good = exchange::newPage("x", m_subjects);
        for (const char* key : {"format", "version", "title", "subjects", "blocks"}) {
            auto page = good;
            page[key] = ordered_json{{"a", 1}};
            QVERIFY2(!exchange::checkPage(page), key);
            page.erase(key);
            QVERIFY2(!exchange::checkPage(page), key);
        }
        auto page = good;
        page["blocks"].push_back({{"kind", 7}});
        QCOMPARE(exchange::resolve(*m_store, page)["parts"].back()["kind"].get<std::string>(),
                 std::string("text"));
    }

    void aDeliveryIsToldInWords()
    {
        audition::DeliveryCheck loud;
        loud.limit.figure = "integrated_lufs";
        loud.value = -20.04;
        loud.change_db = -2.5;
        audition::DeliveryCheck good = loud;
        good.pass = true;
        const auto text = exchange::deliveryAsMarkdown(
            "EBU R 128", {{"a *b*.wav", {loud, good}}, {"c.wav", {}, "It is damaged."}});
        const auto html = QString::fromStdString(exchange::markdownAsHtml(text));
        for (const char* words : {"EBU R 128", "a *b*.wav", "-2.5 dB would mend it", "It is damaged."})
            QVERIFY2(html.contains(QLatin1String(words)), qPrintable(html));
        QCOMPARE(html.count(QStringLiteral("<li>")), 2);
        QCOMPARE(html.count(QStringLiteral("does not pass")), 1);
    }

    void numbersReadAsPeopleWriteThem()
    {
        QCOMPARE(bench::numberText(-3.2, 2), std::string("\u22123.20"));
        QCOMPARE(bench::numberText(-0.001, 2), std::string("0.00"));
        QCOMPARE(bench::numberText(1e6, 0), std::string("1000000"));
    }
};

HR_TEST(tst_report)
#include "tst_report.moc"

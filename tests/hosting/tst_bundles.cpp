// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/path_text.h"
#include "hosting/scanner.h"
#include "support/fixtures.h"

#include <fstream>

using namespace hr;
using namespace hr::hosting;

class tst_bundles : public QObject {
    Q_OBJECT

private slots:
    void theSearchPathIsHonoured()
    {
        qputenv("LV2_PATH", "/one:/two:/one/");
        const auto folders = searchFolders({"/three", "/two"});
        QVERIFY(std::ranges::find(folders, "/one") != folders.end());
        QVERIFY(std::ranges::find(folders, "/three") != folders.end());
        QCOMPARE(std::ranges::count(folders, std::filesystem::path("/two")), 1);
        qputenv("LV2_PATH", "");
        const auto standard = searchFolders();
        for (const char* folder : {"/usr/lib/lv2", "/usr/lib/" HONEST_RACK_MULTIARCH "/lv2", "/usr/lib64/lv2"})
            QVERIFY2(std::ranges::find(standard, folder) != standard.end(), folder);
        qputenv("LV2_PATH", "/nonexistent");
    }

    void theSignatureChangesWithAnyFile()
    {
        QTemporaryDir folder;
        const std::filesystem::path root = folder.path().toStdString();
        std::filesystem::create_directories(root / "x.lv2" / "presets");
        std::filesystem::create_directories(root / "another-folder");
        const auto write = [](const std::filesystem::path& file, const char* text) {
            std::ofstream(file) << text;
        };
        write(root / "x.lv2" / "manifest.ttl", "one");
        const auto only = [&] {
            const auto found = findBundles({root, "/nonexistent"});
            return found.size() == 1 ? found.front().signature : std::string("not one");
        };
        const std::string before = only();
        QCOMPARE(only(), before);
        write(root / "x.lv2" / "presets" / "more.ttl", "two");
        const std::string after = only();
        QVERIFY(after != before);
        std::filesystem::remove(root / "x.lv2" / "presets" / "more.ttl");
        QVERIFY(only() != after);
    }

    void aNameThatIsNotUtf8IsAName()
    {
        QTemporaryDir folder;
        const std::filesystem::path odd =
            std::filesystem::path(folder.path().toStdString()) / "caf\xe9 50%.lv2";
        std::filesystem::copy(test::specimens_bundle, odd, std::filesystem::copy_options::recursive);
        const auto found = findBundles({odd.parent_path()});
        QCOMPARE(found.size(), std::size_t{1});
        QVERIFY(pathText(odd).ends_with("caf%E9 50%25.lv2"));
        QVERIFY(pathFrom(pathText(odd)) == odd);
        const auto tried = tryBundle(found.front(), {.limits = {std::chrono::milliseconds(2000)}});
        QVERIFY(std::ranges::any_of(tried.findings, [](const Finding& f) { return f.info && !f.fault; }));
        HR_VERIFY(locate(test::specimen + "tidepool-equaliser", {odd.parent_path()}));
    }

    void whatIsInstalledButNotHostedSaysSo()
    {
        const auto instrument =
            locate("lv2:urn:honest-rack:tests:instrument", {std::filesystem::path(HR_FAULTY_BUNDLES)});
        QVERIFY(!instrument);
        QVERIFY2(test::why(instrument)
                     .contains(QStringLiteral("is installed but cannot be hosted: it has no audio")),
                 qPrintable(test::why(instrument)));
    }

    void aLoopOfLinksEnds()
    {
        QTemporaryDir folder;
        const std::filesystem::path root = folder.path().toStdString();
        std::filesystem::create_directories(root / "x.lv2");
        std::ofstream(root / "x.lv2" / "manifest.ttl") << "x";
        std::filesystem::create_directory_symlink(root / "x.lv2", root / "x.lv2" / "again");
        QCOMPARE(findBundles({root}).size(), std::size_t{1});
    }

    void processorsAreLocatedByTheirId_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<bool>("found");
        QTest::newRow("specimen") << QString::fromStdString(test::specimen + "tidepool-equaliser") << true;
        QTest::newRow("broken description") << "lv2:urn:honest-rack:tests:bad-range" << true;
        QTest::newRow("reference") << "reference:gain" << true;
        QTest::newRow("unknown") << "lv2:urn:honest-rack:tests:nobody" << false;
        QTest::newRow("unknown reference") << "reference:nobody" << false;
        QTest::newRow("no id at all") << "gain" << false;
    }
    void processorsAreLocatedByTheirId()
    {
        QFETCH(QString, id);
        const auto location = locate(
            id.toStdString(), {std::filesystem::path(HR_FAULTY_BUNDLES), std::filesystem::path(HR_SPECIMENS)});
        QTEST(location.has_value(), "found");
        if (!location)
            QCOMPARE(location.error().blame, Blame::Request);
    }
};

HR_TEST(tst_bundles)
#include "tst_bundles.moc"

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Scans of folders full of what goes wrong: they end, and each failure is one sentence.
#include "library/scan.h"
#include "support/fixtures.h"

#include <QProcess>
#include <fstream>
#include <random>
#include <sys/stat.h>

using namespace hr;
using test::TemporaryStore;
namespace fs = std::filesystem;

class tst_scan_bad_input : public QObject {
    Q_OBJECT

    static constexpr auto prefixes = "@prefix doap: <http://usefulinc.com/ns/doap#> .\n"
                                     "@prefix lv2: <http://lv2plug.in/ns/lv2core#> .\n";

    std::unique_ptr<QTemporaryDir> m_folder;

    fs::path folder() const { return m_folder->path().toStdString(); }
    library::ScanOptions options() const { return {{folder()}, {}, {}}; }
    fs::path bundle(const std::string& name, const std::string& manifest) const
    {
        const fs::path made = folder() / (name + ".lv2");
        fs::create_directory(made);
        std::ofstream(made / "manifest.ttl") << manifest;
        return made;
    }
    /// One that describes the working plug-in of the faulty bundle under another name.
    fs::path passing(const std::string& name, const std::string& title,
                     const std::string& id = "urn:honest-rack:tests:pass") const
    {
        const fs::path made = bundle(
            name, std::string(prefixes) + "<" + id + "> a lv2:Plugin ; lv2:binary <faulty.so> ; doap:name \"" +
                      title +
                      "\" ; lv2:port [ a lv2:InputPort , lv2:AudioPort ; lv2:index 0 ; lv2:symbol \"a\" ; "
                      "lv2:name \"A\" ] , [ a lv2:InputPort , lv2:AudioPort ; lv2:index 1 ; lv2:symbol \"b\" "
                      "; lv2:name \"B\" ] , [ a lv2:OutputPort , lv2:AudioPort ; lv2:index 2 ; lv2:symbol "
                      "\"c\" ; lv2:name \"C\" ] , [ a lv2:OutputPort , lv2:AudioPort ; lv2:index 3 ; "
                      "lv2:symbol \"d\" ; lv2:name \"D\" ] , [ a lv2:InputPort , lv2:ControlPort ; lv2:index 4 "
                      "; lv2:symbol \"e\" ; lv2:name \"E\" ; lv2:default 0.0 ; lv2:minimum 0.0 ; lv2:maximum "
                      "1.0 ] .\n");
        fs::copy_file(test::faulty_bundle / "faulty.so", made / "faulty.so");
        return made;
    }
    static const library::QuarantineEntry* about(const library::ScanReport& report, const char* text)
    {
        for (const auto& entry : report.quarantined)
            if (entry.id.contains(QLatin1String(text)) || entry.bundle.contains(QLatin1String(text)))
                return &entry;
        return nullptr;
    }

private slots:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void brokenBundlesAreOneSentenceEach()
    {
        TemporaryStore kept;
        bundle("garbage", "\x01\x02 this is no turtle {{{");
        bundle("cut", std::string(prefixes) + "<urn:x:cut> a lv2:Plugin ; lv2:binary <");
        fs::remove(passing("missing", "Missing", "urn:x:missing") / "faulty.so");
        std::string elf(64, '\0');
        elf.replace(0, 8,
                    std::string("\x7f"
                                "ELF\x02\x01\x01\0",
                                8));
        elf[16] = 3;                       // a shared object
        elf[18] = static_cast<char>(0xb7); // for another processor
        elf[20] = 1;
        std::ofstream(passing("foreign", "Foreign", "urn:x:foreign") / "faulty.so", std::ios::trunc) << elf;
        std::ofstream(folder() / "words.so") << "no library at all";
        const auto report = library::scan(kept.store->catalogue, options());
        HR_VERIFY(report);
        for (const char* name : {"garbage", "cut", "missing", "foreign", "words"}) {
            const auto* entry = about(*report, name);
            QVERIFY2(entry, name);
            const std::string sentence = hosting::sentence(entry->fault);
            QVERIFY2(!sentence.empty() && sentence.find('\n') == std::string::npos, sentence.c_str());
        }
        QCOMPARE(about(*report, "garbage")->fault.cause, hosting::Cause::InvalidDescription);
        QCOMPARE(about(*report, "missing")->fault.cause, hosting::Cause::MissingFile);
    }

    void loopsVanishingFoldersAndOtherFilesDoNotStopIt()
    {
        TemporaryStore kept;
        for (int i = 0; i < 6; ++i)
            passing("p" + std::to_string(i), "Pass");
        fs::create_directory_symlink(folder(), folder() / "loop.lv2");
        fs::create_directory_symlink(folder() / "p0.lv2", folder() / "p0.lv2" / "again");
        fs::create_directory(folder() / "closed.lv2");
        chmod((folder() / "closed.lv2").c_str(), 0);
        for (int i = 0; i < 10000; ++i)
            std::ofstream(folder() / ("take" + std::to_string(i) + ".wav"));
        auto vanishing = options();
        vanishing.folders.push_back("/nowhere/at/all");
        vanishing.progress = [this](int, int, const QString&) {
            for (int i = 1; i < 6; ++i)
                fs::remove_all(folder() / ("p" + std::to_string(i) + ".lv2"));
        };
        HR_VERIFY(library::scan(kept.store->catalogue, vanishing));
        HR_VERIFY(library::scan(kept.store->catalogue, options()));
        QCOMPARE(kept.store->catalogue.entry(QStringLiteral("lv2:urn:honest-rack:tests:pass"))->state,
                 library::State::Ready);
    }

    void namesOfEveryScriptStayWhole()
    {
        TemporaryStore kept;
        const std::string name =
            "\u202e\u05e9\u05dc\u05d5\u05dd e\u0301\u0323 \U0001F3BA \\\"quoted\\\" <b>bold</b>";
        passing("names", name);
        HR_VERIFY(library::scan(kept.store->catalogue, options()));
        const auto entry = kept.store->catalogue.entry(QStringLiteral("lv2:urn:honest-rack:tests:pass"));
        HR_VERIFY(entry);
        QVERIFY(entry->name.contains(QString::fromUtf8("\u05e9\u05dc\u05d5\u05dd")) &&
                entry->name.contains(QStringLiteral("<b>bold</b>")));
    }

    void anIdOfTwoBundlesIsSaidAndOneIsTaken()
    {
        TemporaryStore kept;
        const fs::path first = passing("a", "First");
        passing("b", "Second");
        const QString id = QStringLiteral("lv2:urn:honest-rack:tests:pass");
        auto report = library::scan(kept.store->catalogue, options());
        HR_VERIFY(report);
        QCOMPARE(report->claimed_twice, QStringList{id});
        QCOMPARE(kept.store->catalogue.entry(id)->name, QStringLiteral("First"));
        fs::remove_all(first);
        HR_VERIFY(library::scan(kept.store->catalogue, options()));
        QCOMPARE(kept.store->catalogue.entry(id)->name, QStringLiteral("Second"));
    }

    void illManneredOnesAreTriedLikeOthers()
    {
        TemporaryStore kept;
        for (const char* name : {"forker", "torrent", "ill-mannered"}) {
            const auto finding = hosting::tryProcessor(test::faultyAt(name));
            QVERIFY2(finding.info, name);
            QVERIFY2(!finding.fault, finding.fault ? hosting::sentence(*finding.fault).c_str() : "");
        }
        QCOMPARE(test::runningWorkers(), 0); // nor anything they started
    }

    void aKilledScanLosesNothing()
    {
        const fs::path hints = fs::path(HR_FAULTY_BUNDLES) / "ladspa" / "hints.so";
        for (int i = 0; i < 12; ++i)
            fs::copy_file(hints, folder() / ("many" + std::to_string(i) + ".so"));
        TemporaryStore kept;
        HR_VERIFY(kept.store->folders.add(m_folder->path()));
        std::mt19937 random(17);
        QString id;
        unsigned patience_ms = 75; // longer until a scan has come as far as to write something
        for (int turn = 0; turn < 20; ++turn) {
            QProcess scan;
            scan.start(QString::fromUtf8(HR_BIN "/hrack"),
                       {QStringLiteral("--data"), kept.directory.path(), QStringLiteral("scan")});
            QVERIFY(scan.waitForStarted());
            QTest::qSleep(static_cast<int>(random() % (2 * patience_ms)));
            scan.kill();
            scan.waitForFinished();
            // What was written last time is there, and can be written again.
            auto store = library::Store::open(kept.path());
            HR_VERIFY(store);
            QVERIFY((*store)->database().notice().isEmpty());
            if (!id.isEmpty())
                QCOMPARE((*store)->catalogue.entry(id)->note, QStringLiteral("turn %1").arg(turn - 1));
            const auto entries = (*store)->catalogue.entries();
            for (const library::Entry& entry : *entries)
                if (id.isEmpty() && entry.bundle.contains(QStringLiteral("many")))
                    id = entry.id;
            library::Written words;
            words.note = QStringLiteral("turn %1").arg(turn);
            if (!id.isEmpty())
                HR_VERIFY((*store)->catalogue.write({{id, words}}));
            else
                patience_ms += 75;
            fs::last_write_time(folder() / "many3.so", fs::file_time_type::clock::now()); // something to do
        }
        QVERIFY(!id.isEmpty());
        HR_VERIFY(library::scan(kept.store->catalogue, options()));
        QCOMPARE(kept.store->catalogue.entry(id)->note, QStringLiteral("turn 19"));
    }
};

HR_TEST(tst_scan_bad_input)
#include "tst_scan_bad_input.moc"

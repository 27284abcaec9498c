// SPDX-License-Identifier: GPL-3.0-or-later
//
// A format that is neither LV2 nor LADSPA is found, described, heard, kept and stored by what there is: the
// joint is one.
#include "hosting/bundles.h"
#include "hosting/formats/format.h"
#include "hosting/scanner.h"
#include "hosting/sketch/sketch.h"
#include "library/scan.h"
#include "library/store.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::hosting;
namespace fs = std::filesystem;

namespace {

class SketchFormat : public Format {
public:
    std::string key() const override { return test::sketch_key; }
    std::string name() const override { return "Sketch"; }
    std::string idForm() const override { return "sketch:NAME"; }
    std::string pathVariable() const override { return "SKETCH_PATH"; }
    std::string folderName() const override { return "sketch"; }
    bool searchesSubfolders() const override { return true; }
    bool isBundle(const fs::path& path) const override { return path.extension() == test::sketch_extension; }
    bool mayDescribe(const fs::path& bundle, const std::string& id) const override
    {
        return id == unreadId(bundle);
    }
    std::string unreadId(const fs::path& bundle) const override { return "sketch:" + bundle.stem().string(); }
    std::string unreadName(const fs::path& bundle, const std::string&) const override
    {
        return bundle.stem().string();
    }
};

} // namespace

class tst_third_format : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QByteArray m_worker_before;

    fs::path folder() const { return m_folder.path().toStdString(); }
    static FaultOr<float> heard(Instance& instance, float in)
    {
        if (auto started = instance.start({48000, 256}, std::vector<double>{1}); !started)
            return tl::make_unexpected(started.error());
        signal::AudioBuffer mono(1, 256, 48000);
        std::ranges::fill(mono.samples(), in);
        auto out = instance.process(mono);
        return out ? FaultOr<float>(out->channel(0)[100]) : tl::make_unexpected(out.error());
    }

private slots:
    void initTestCase()
    {
        addFormat(std::make_unique<SketchFormat>());
        m_worker_before = qgetenv("HONEST_RACK_WORKER");
        qputenv("HONEST_RACK_WORKER", HR_BIN "/hrack-sketch-worker");
        qputenv("SKETCH_PATH", m_folder.path().toUtf8());
        QVERIFY(QDir(m_folder.path()).mkpath(QStringLiteral("maker/series")));
        QFile file(m_folder.filePath(QStringLiteral("maker/series/quarter.sketch")));
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write("0.25\n") > 0);
    }
    void cleanupTestCase()
    {
        m_worker_before.isEmpty() ? void(qunsetenv("HONEST_RACK_WORKER"))
                                  : void(qputenv("HONEST_RACK_WORKER", m_worker_before));
        qunsetenv("SKETCH_PATH");
    }

    void itIsFoundAndHeard()
    {
        const auto location = locate("sketch:quarter", searchFolders());
        HR_VERIFY(location);
        auto instance = openInstance(*location);
        HR_VERIFY(instance);
        QCOMPARE((*instance)->info().format, std::string("Sketch"));
        QCOMPARE(*heard(**instance, 1), 0.25F);
        QVERIFY((*instance)->takeEvents().empty());
    }

    void whatLiesInItsStateIsHeard()
    {
        auto location = *locate("sketch:quarter", searchFolders());
        location.preset = "Half";
        QCOMPARE(*heard(**openInstance(location), 1), 0.5F);
        location.state = "0.125";
        auto instance = openInstance(location);
        QCOMPARE(*heard(**instance, 1), 0.125F);
        QCOMPARE(*(*instance)->state(), std::string("0.125"));
    }

    void whatItDoesByItselfIsTold()
    {
        auto instance = openInstance(*locate("sketch:quarter", searchFolders()));
        HR_VERIFY(instance);
        QVERIFY(heard(**instance, 2));
        std::vector<Event> told;
        QTRY_VERIFY((std::ranges::copy((*instance)->takeEvents(), std::back_inserter(told)), told.size() == 4));
        QCOMPARE(told[0].what, Event::What::GestureBegan);
        QCOMPARE(told[1].what, Event::What::ParameterMoved);
        QCOMPARE(told[1].value, 2.0);
        QCOMPARE(told[3].what, Event::What::StateChanged);
        // Of more than are kept some are lost, and nothing else happens.
        for (int i = 0; i < 200; ++i)
            QVERIFY(heard(**instance, 2));
        QVERIFY((*instance)->takeEvents().size() <= most_events);
    }

    void itIsInTheCatalogue()
    {
        const QTemporaryDir data;
        auto store = library::Store::open(data.path().toStdString());
        HR_VERIFY(store);
        library::ScanOptions options;
        options.folders = {folder()};
        const auto report = library::scan((*store)->catalogue, options);
        HR_VERIFY(report);
        QCOMPARE(report->added, 1);
        const auto entry = (*store)->catalogue.entry(QStringLiteral("sketch:quarter"));
        HR_VERIFY(entry);
        QCOMPARE(entry->format, QStringLiteral("Sketch"));
        QCOMPARE((*store)->catalogue.info(entry->id)->presets.front().state, std::string("0.5"));
    }
};

HR_TEST(tst_third_format)
#include "tst_third_format.moc"

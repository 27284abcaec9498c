// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/preset_file.h"
#include "library/scan.h"
#include "library/store.h"
#include "support/fixtures.h"

#include <algorithm>
#include <fstream>

using namespace hr;
using library::Preset;

class tst_preset_file : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    processors::ProcessorInfo m_info;

    std::filesystem::path at(const char* name) const
    {
        return std::filesystem::path(m_folder.path().toStdString()) / name;
    }
    static QString q(const char* text) { return QString::fromUtf8(text); }
    std::vector<Preset> two() const
    {
        Preset first;
        first.name = q("Quay \"at\" dusk\\ — 1");
        first.bank = q("Hafen");
        for (const auto& p : m_info.parameters)
            first.settings.push_back({p.key, p.minimum + 0.25 * (p.maximum - p.minimum)});
        Preset second;
        second.name = q("empty");
        return {first, second};
    }
    void compare(const std::vector<Preset>& read) const
    {
        const auto written = two();
        QCOMPARE(read.size(), written.size());
        for (const Preset& one : written) {
            const auto same = std::ranges::find(read, one.name, &Preset::name);
            QVERIFY2(same != read.end(), qPrintable(one.name));
            QCOMPARE(same->bank, one.bank);
            QCOMPARE(same->settings.size(), one.settings.size());
            for (const auto& s : one.settings) {
                const auto value = std::ranges::find(same->settings, s.key, &processors::Setting::key);
                QVERIFY(value != same->settings.end());
                HR_NEAR(value->value, s.value, 1e-5 * (1 + std::abs(s.value)));
            }
        }
    }

private slots:
    void initTestCase()
    {
        m_info = (*hosting::openInstance(test::specimenAt("cordage-leveller")))->info();
        QVERIFY(!m_info.presets.empty());
    }

    void ourOwnFileAndAnLv2BundleBringThemBack()
    {
        HR_VERIFY(exchange::writePresets(at("p.json"), m_info, two()));
        auto read = exchange::readPresets(at("p.json"), m_info);
        HR_VERIFY(read);
        compare(*read);
        HR_VERIFY(exchange::writeLv2Presets(at("p.lv2"), m_info, two()));
        read = exchange::readPresets(at("p.lv2"), m_info);
        HR_VERIFY(read);
        compare(*read);
        HR_VERIFY(exchange::writeLv2Presets(at("p.lv2"), m_info, two())); // over its own
    }

    void presetsInstalledApartStandUnderTheirProcessor()
    {
        test::TemporaryStore kept;
        const auto apart = at("installed");
        std::filesystem::create_directory(apart);
        HR_VERIFY(exchange::writeLv2Presets(apart / "quay.lv2", m_info, two()));
        library::ScanOptions options;
        options.folders = {test::specimens_bundle.parent_path(), apart};
        const auto names = [&] {
            QStringList all;
            if (!library::scan(kept.store->catalogue, options))
                return all;
            const auto info = kept.store->catalogue.info(QString::fromStdString(m_info.id));
            for (const auto& preset : info->presets)
                all << QString::fromStdString(preset.name);
            return all;
        };
        const auto own = static_cast<qsizetype>(m_info.presets.size());
        QCOMPARE(names().size(), own + 2);
        QVERIFY(names().contains(two().front().name)); // after a scan that found nothing new, too
        const auto presets =
            kept.store->presets.of(*kept.store->catalogue.info(QString::fromStdString(m_info.id)));
        const auto found = std::ranges::find(*presets, two().front().name, &Preset::name);
        QVERIFY(found != presets->end() && found->from == Preset::From::Maker);
        QCOMPARE(found->bank, two().front().bank);
        std::filesystem::remove_all(apart / "quay.lv2");
        QCOMPARE(names().size(), own);
    }

    void aThirdPartyBundleIsRead()
    {
        const auto read = exchange::readPresets(test::specimens_bundle, m_info);
        HR_VERIFY(read);
        QCOMPARE(read->size(), m_info.presets.size());
    }

    void whatHoldsNoneIsRefused()
    {
        std::filesystem::create_directory(at("other.lv2"));
        std::ofstream(at("other.lv2") / "mine.txt") << "precious";
        QVERIFY(!exchange::writeLv2Presets(at("other.lv2"), m_info, two()));
        QVERIFY(!exchange::readPresets(at("other.lv2"), m_info));
        std::ofstream(at("bad.json")) << R"({"format": "honest-rack-presets", "version": 9, "presets": []})";
        QVERIFY(!exchange::readPresets(at("bad.json"), m_info));
        QVERIFY(!exchange::readPresets(at("nowhere.json"), m_info));
        HR_VERIFY(exchange::writePresets(at("p.json"), m_info, two()));
        processors::ProcessorInfo other = m_info;
        other.id = "ladspa:x:y";
        QVERIFY(!exchange::readPresets(at("p.json"), other));
        QVERIFY(!exchange::writeLv2Presets(at("x.lv2"), other, two()));
    }

    void theUsersOwnAreKeptBesideTheMakers()
    {
        test::TemporaryStore kept;
        library::Presets& presets = kept.store->presets;
        const QString id = QString::fromStdString(m_info.id);
        const auto number = presets.save(id, q("Mine"), q("Brass"), {{"threshold_db", -20}});
        HR_VERIFY(number);
        QVERIFY(!presets.save(id, q(" Mine "), {}, {}) && !presets.save(id, q(" "), {}, {}));
        HR_VERIFY(presets.setFavourite(id, QString::fromStdString(m_info.presets[0].id), true));
        const auto all = *presets.of(m_info);
        QCOMPARE(all.size(), m_info.presets.size() + 2);
        QVERIFY(all[0].from == Preset::From::Defaults && all[0].settings.empty());
        QVERIFY(all[1].from == Preset::From::Maker && all[1].favourite);
        QCOMPARE(all.back().bank, q("Brass"));
        QCOMPARE(all.back().settings.front().value, -20.0);
        HR_VERIFY(presets.insert(id, {all.back()})); // a name that is taken gets a number
        HR_VERIFY(presets.rename(*number, q("Ours"), {}));
        QVERIFY(!presets.rename(*number, q("Mine 2"), {}));
        HR_VERIFY(presets.remove(*number));
        QCOMPARE(presets.of(m_info)->back().name, q("Mine 2"));
    }
};

HR_TEST(tst_preset_file)
#include "tst_preset_file.moc"

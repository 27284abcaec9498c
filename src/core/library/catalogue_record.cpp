// SPDX-License-Identifier: GPL-3.0-or-later
//
// The catalogue's side of a scan: what was found is put down, what is gone is not listed any more.
#include "hosting/formats/format.h"
#include "hosting/path_text.h"
#include "library/catalogue.h"
#include "library/refusals_text.h"
#include "processors/description_json.h"
#include "processors/reference/registry.h"

#include <QDateTime>

namespace hr::library {

namespace {

using processors::ProcessorInfo;

QString asQt(const std::string& text)
{
    return QString::fromStdString(text);
}

} // namespace

Result<Catalogue::Recorded> Catalogue::record(const hosting::Bundle& bundle, const hosting::TriedBundle& tried)
{
    Recorded total;
    const QString path = asQt(hosting::pathText(bundle.path));
    const QString build = asQt(hosting::buildOf(bundle.path));
    auto done = m_database.transaction([&]() -> Result<void> {
        // What the bundle no longer describes is no longer listed.
        if (auto gone =
                m_database.run(QStringLiteral("UPDATE processors SET present = 0 WHERE bundle = ?"), {path});
            !gone)
            return tl::make_unexpected(gone.error());
        for (const hosting::Finding& finding : tried.findings) {
            auto one = recordOne(bundle, path, finding);
            if (!one)
                return tl::make_unexpected(one.error());
            total.added += one->added;
            total.changed += one->changed;
            total.unchanged += one->unchanged;
            total.claimed_twice += one->claimed_twice;
        }
        if (auto put = putPresets(path, tried.presets); !put)
            return put;
        if (auto put = putLeftOut(path, tried.left_out); !put)
            return put;
        // Should the other bundle go, this one has to be tried again.
        return putBuild(path, total.claimed_twice.isEmpty() ? asQt(bundle.signature) : QString(), build);
    });
    if (!done)
        return tl::make_unexpected(done.error());
    return total;
}

Result<void> Catalogue::putPresets(const QString& path,
                                   const std::vector<hosting::BundleContents::Preset>& presets)
{
    if (auto gone = m_database.change(QStringLiteral("DELETE FROM presets_apart WHERE bundle = ?"), {path});
        !gone)
        return gone;
    for (const auto& [processor, preset] : presets)
        if (auto put = m_database.change(
                QStringLiteral("INSERT INTO presets_apart (bundle, processor, preset) VALUES (?, ?, ?)"),
                {path, asQt(processor), asQt(processors::toJson(preset).dump())});
            !put)
            return put;
    return {};
}

Result<void> Catalogue::putLeftOut(const QString& path,
                                   const std::vector<hosting::BundleContents::LeftOut>& left_out)
{
    auto done = m_database.change(QStringLiteral("DELETE FROM left_out WHERE bundle = ?"), {path});
    for (const auto& one : left_out)
        if (done)
            done = m_database.change(QStringLiteral("INSERT OR REPLACE INTO left_out VALUES (?, ?, ?, ?)"),
                                     {path, asQt(one.id), asQt(one.name), asQt(one.reason)});
    return done;
}

/// What lists show of the build before does not stand for this one; its runs stay.
Result<void> Catalogue::putBuild(const QString& path, const QString& signature, const QString& build)
{
    auto same =
        m_database.run(QStringLiteral("SELECT 1 FROM bundles WHERE path = ? AND build = ?"), {path, build});
    if (!same)
        return tl::make_unexpected(same.error());
    const bool changed = !same->next();
    same->finish();
    for (const char* list : {"standing", "pictures", "behaviours"})
        if (auto gone =
                changed ? m_database.change(QStringLiteral("DELETE FROM %1 WHERE processor IN (SELECT id FROM "
                                                           "processors WHERE bundle = ?)")
                                                .arg(QLatin1String(list)),
                                            {path})
                        : Result<void>();
            !gone)
            return gone;
    return m_database.change(
        QStringLiteral("INSERT OR REPLACE INTO bundles (path, signature, build) VALUES (?, ?, ?)"),
        {path, signature, build});
}

Result<void> Catalogue::recordAgain(const hosting::Finding& finding)
{
    return m_database.transaction([&]() -> Result<void> {
        const auto& path = finding.location.bundle;
        auto one = recordOne({path, {}}, asQt(hosting::pathText(path)), finding);
        return one ? Result<void>() : tl::make_unexpected(one.error());
    });
}

Result<Catalogue::Recorded> Catalogue::recordOne(const hosting::Bundle& bundle, const QString& path,
                                                 const hosting::Finding& finding)
{
    ProcessorInfo info;
    if (finding.info) {
        info = *finding.info;
    } else { // known only by its failure
        const hosting::Format* format = hosting::formatOfId(finding.location.id);
        info.id = finding.location.id;
        info.format = format ? format->name() : std::string();
        info.name =
            format ? format->unreadName(bundle.path, info.id) : hosting::pathText(bundle.path.filename());
    }
    return put(info, path, finding.fault, finding.refusals);
}

Result<Catalogue::Recorded> Catalogue::put(const ProcessorInfo& info, const QString& path,
                                           const std::optional<hosting::Fault>& fault,
                                           const hosting::Refusals& refusals)
{
    const QString id = asQt(info.id);
    const QString description = asQt(processors::toJson(info).dump());
    auto before = m_database.run(
        QStringLiteral("SELECT description, quarantined, present AND bundle = ?, bundle, "
                       "present AND bundle <> ? AND bundle IN (SELECT path FROM bundles), refusals "
                       "FROM processors JOIN descriptions USING (id) WHERE id = ?"),
        {path, path, id});
    if (!before)
        return tl::make_unexpected(before.error());
    Recorded recorded;
    const bool known = before->next();
    if (known && before->value(4).toBool()) {
        recorded.claimed_twice << id;
        const QString other = before->value(3).toString();
        before->finish();
        if (other < path) {
            recorded.unchanged = 1;
            return recorded;
        }
        // It gives way, and has to be tried again should this one go.
        if (auto marked =
                m_database.change(QStringLiteral("UPDATE bundles SET signature = '' WHERE path = ?"), {other});
            !marked)
            return tl::make_unexpected(marked.error());
        recorded.changed = 1;
    } else if (!known)
        recorded.added = 1;
    else if (before->value(0).toString() == description && before->value(1).toBool() == fault.has_value() &&
             before->value(5).toString() == refusalsText(refusals))
        recorded.unchanged = 1;
    else
        recorded.changed = 1;
    if (recorded.unchanged && before->value(2).toBool())
        return recorded; // nothing to write: other connections need not wait
    before->finish();

    auto written = m_database.run(
        QStringLiteral(
            "INSERT INTO processors (id, name, maker, kind, format, version, bundle, audio_in, audio_out, "
            "key_in, "
            "documentation, present, quarantined, kind_proposed, refusals) "
            "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1, ?, ?, ?) "
            "ON CONFLICT (id) DO UPDATE SET name = excluded.name, maker = excluded.maker, kind = "
            "excluded.kind, "
            "version = excluded.version, bundle = excluded.bundle, audio_in = excluded.audio_in, "
            "audio_out = excluded.audio_out, key_in = excluded.key_in, documentation = excluded.documentation, "
            "format = excluded.format, kind_proposed = excluded.kind_proposed, refusals = excluded.refusals, "
            "present = 1, quarantined = excluded.quarantined"),
        {id, asQt(info.name), asQt(info.maker), asQt(info.kind), asQt(info.format), asQt(info.version), path,
         static_cast<int>(info.audio_in), static_cast<int>(info.audio_out), static_cast<int>(info.key_in),
         asQt(info.documentation), fault.has_value(), info.kind_proposed, refusalsText(refusals)});
    if (!written)
        return tl::make_unexpected(written.error());
    if (auto kept = m_database.change(QStringLiteral("INSERT OR REPLACE INTO descriptions VALUES (?, ?)"),
                                      {id, description});
        !kept)
        return tl::make_unexpected(kept.error());
    if (fault) {
        auto noted = m_database.run(
            QStringLiteral(
                "INSERT INTO faults (processor, bundle, stage, cause, detail, at) VALUES (?, ?, ?, ?, ?, ?)"),
            {id, path, asQt(hosting::word(fault->phase)), asQt(hosting::word(fault->cause)),
             asQt(fault->detail), QDateTime::currentDateTimeUtc().toString(Qt::ISODate)});
        if (!noted)
            return tl::make_unexpected(noted.error());
    }
    return recorded;
}

Result<void> Catalogue::recordReferences()
{
    return m_database.transaction([&]() -> Result<void> {
        for (const ProcessorInfo& info : processors::referenceInfos())
            if (auto done = put(info, {}, std::nullopt); !done)
                return tl::make_unexpected(done.error());
        return {};
    });
}

Result<void> Catalogue::keepOnly(const QStringList& paths)
{
    return m_database.transaction([&]() -> Result<void> {
        auto known = signatures();
        if (!known)
            return tl::make_unexpected(known.error());
        for (const QString& path : known->keys()) {
            if (paths.contains(path))
                continue;
            for (const char* statement :
                 {"UPDATE processors SET present = 0 WHERE bundle = ?", "DELETE FROM bundles WHERE path = ?",
                  "DELETE FROM presets_apart WHERE bundle = ?", "DELETE FROM left_out WHERE bundle = ?"})
                if (auto done = m_database.run(QLatin1String(statement), {path}); !done)
                    return tl::make_unexpected(done.error());
        }
        return {};
    });
}

} // namespace hr::library

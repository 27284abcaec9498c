// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/catalogue.h"

#include "bench/suite.h"
#include "hosting/path_text.h"
#include "processors/description_json.h"
#include "processors/reference/registry.h"

#include <QDateTime>
#include <QJsonArray>
#include <QJsonDocument>
#include <algorithm>

namespace hr::library {

namespace {

using nlohmann::json;
using processors::ProcessorInfo;

constexpr auto entry_columns =
    "id, name, alias, maker, kind, format, version, bundle, note, tags, audio_in, "
    "audio_out, key_in, rating, favourite, hidden, quarantined, own_kind, kind_proposed, "
    "refusals, may_use_network, may_write_to";

QString qt(const std::string& text)
{
    return QString::fromStdString(text);
}

/// {"wanted": ["network"], "path": "…"}; an empty text where nothing was refused.
QString refusalsText(const hosting::Refusals& refusals)
{
    return refusals.any() ? qt(json{{"wanted", hosting::words(refusals)}, {"path", refusals.path}}.dump(
                                -1, ' ', false, json::error_handler_t::replace))
                          : QString();
}

hosting::Refusals refusalsFrom(const QString& text)
{
    const json stored = text.isEmpty() ? json() : json::parse(text.toStdString(), nullptr, false);
    if (!stored.is_object())
        return {};
    std::vector<std::string> words;
    for (const json& word : stored.value("wanted", json::array()))
        if (word.is_string())
            words.push_back(word.get<std::string>());
    const json path = stored.value("path", json());
    return hosting::refusalsFrom(words, path.is_string() ? path.get<std::string>() : std::string());
}

Entry entryAt(const QSqlQuery& row)
{
    Entry e;
    int column = 0;
    for (QString* text :
         {&e.id, &e.name, &e.alias, &e.maker, &e.kind, &e.format, &e.version, &e.bundle, &e.note})
        *text = row.value(column++).toString();
    if (const QByteArray tags = row.value(column++).toByteArray(); tags != "[]")
        for (const QJsonValue tag : QJsonDocument::fromJson(tags).array())
            e.tags << tag.toString();
    for (int* number : {&e.audio_in, &e.audio_out, &e.key_in, &e.rating})
        *number = row.value(column++).toInt();
    e.favourite = row.value(column++).toBool();
    e.hidden = row.value(column++).toBool();
    const bool quarantined = row.value(column++).toBool();
    if (e.own_kind = row.value(column++).toString(); !e.own_kind.isEmpty())
        e.kind = e.own_kind;
    e.kind_proposed = row.value(column++).toBool() && e.own_kind.isEmpty();
    e.refusals = refusalsFrom(row.value(column++).toString());
    e.permissions.network = row.value(column++).toBool();
    e.permissions.folder = hosting::pathFrom(row.value(column).toString().toStdString());
    e.state = quarantined ? State::Quarantined : e.hidden ? State::Hidden : State::Ready;
    return e;
}

QuarantineEntry quarantineAt(const QSqlQuery& row)
{
    QuarantineEntry entry{row.value(0).toString(), row.value(1).toString(), {}, row.value(5).toString()};
    hosting::parseWord(row.value(2).toString().toStdString(), entry.fault.phase);
    hosting::parseWord(row.value(3).toString().toStdString(), entry.fault.cause);
    entry.fault.detail = row.value(4).toString().toStdString();
    return entry;
}

Result<std::vector<QuarantineEntry>> allRows(Result<QSqlQuery> query)
{
    if (!query)
        return tl::make_unexpected(query.error());
    std::vector<QuarantineEntry> rows;
    while (query->next())
        rows.push_back(quarantineAt(*query));
    return rows;
}

} // namespace

QString word(State state)
{
    return state == State::Ready    ? QStringLiteral("ready")
           : state == State::Hidden ? QStringLiteral("hidden")
                                    : QStringLiteral("quarantined");
}

Result<std::vector<Entry>> Catalogue::entries() const
{
    auto rows = m_database.run(
        QStringLiteral("SELECT %1 FROM processors WHERE present").arg(QLatin1String(entry_columns)));
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<Entry> all;
    while (rows->next())
        all.push_back(entryAt(*rows));
    std::vector<std::pair<QString, std::size_t>> order; // folded once, not at every comparison
    for (std::size_t i = 0; i < all.size(); ++i)
        order.emplace_back(all[i].title().toCaseFolded() + QChar(u'\0') + all[i].id, i);
    std::ranges::sort(order);
    std::vector<Entry> sorted;
    sorted.reserve(all.size());
    for (const auto& [key, i] : order)
        sorted.push_back(std::move(all[i]));
    return sorted;
}

Result<Entry> Catalogue::entry(const QString& id) const
{
    auto rows = m_database.run(
        QStringLiteral("SELECT %1 FROM processors WHERE id = ?").arg(QLatin1String(entry_columns)), {id});
    if (!rows)
        return tl::make_unexpected(rows.error());
    if (rows->next())
        return entryAt(*rows);
    return wrongRequest("The catalogue has no processor \"" + id.toStdString() + "\".");
}

Result<QHash<QString, QString>> Catalogue::help() const
{
    auto rows = m_database.run(
        QStringLiteral("SELECT id, documentation FROM processors WHERE present AND documentation <> ''"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, QString> texts;
    while (rows->next())
        texts.insert(rows->value(0).toString(), rows->value(1).toString());
    return texts;
}

Result<ProcessorInfo> Catalogue::info(const QString& id) const
{
    auto row = m_database.run(QStringLiteral("SELECT description FROM descriptions WHERE id = ?"), {id});
    if (!row)
        return tl::make_unexpected(row.error());
    if (!row->next())
        return wrongRequest("The catalogue has no processor \"" + id.toStdString() + "\": scan first.");
    auto info =
        processors::processorInfoFromJson(json::parse(row->value(0).toString().toStdString(), nullptr, false));
    auto apart = m_database.strings(
        QStringLiteral("SELECT preset FROM presets_apart WHERE processor = ? ORDER BY bundle, row_id"), {id});
    if (!info || !apart)
        return info ? tl::make_unexpected(apart.error()) : info;
    for (const QString& text : *apart) {
        auto preset = processors::presetFromJson(json::parse(text.toStdString(), nullptr, false));
        if (preset &&
            std::ranges::find(info->presets, preset->id, &processors::PresetInfo::id) == info->presets.end())
            info->presets.push_back(std::move(*preset));
    }
    return info;
}

Result<hosting::Location> Catalogue::location(const QString& id) const
{
    auto found = entry(id);
    if (!found)
        return tl::make_unexpected(found.error());
    return hosting::Location{
        id.toStdString(), hosting::pathFrom(found->bundle.toStdString()), {}, found->permissions};
}

QString Catalogue::buildOf(const std::string& id, const std::filesystem::path& bundle) const
{
    if (processors::isReferenceId(id))
        return qt("bench " + bench::benchVersion());
    auto row = m_database.run(QStringLiteral("SELECT build FROM bundles WHERE path = ? AND build <> ''"),
                              {qt(hosting::pathText(bundle))});
    return row && row->next() ? row->value(0).toString() : qt(hosting::buildOf(bundle));
}

Result<std::vector<Catalogue::LeftOut>> Catalogue::leftOut() const
{
    auto rows =
        m_database.run(QStringLiteral("SELECT id, name, bundle, reason FROM left_out ORDER BY id, bundle"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<LeftOut> all;
    while (rows->next())
        all.push_back({rows->value(0).toString(), rows->value(1).toString(), rows->value(2).toString(),
                       rows->value(3).toString()});
    return all;
}

Result<std::vector<QuarantineEntry>> Catalogue::quarantine() const
{
    return allRows(m_database.run(
        QStringLiteral("SELECT processor, faults.bundle, stage, cause, detail, at FROM faults "
                       "JOIN processors ON processors.id = processor "
                       "WHERE quarantined AND present AND faults.row_id IN (SELECT max(row_id) FROM "
                       "faults GROUP BY processor) ORDER BY processor")));
}

Result<std::vector<QuarantineEntry>> Catalogue::faultsOf(const QString& id) const
{
    return allRows(
        m_database.run(QStringLiteral("SELECT processor, bundle, stage, cause, detail, at FROM faults "
                                      "WHERE processor = ? ORDER BY row_id DESC"),
                       {id}));
}

Result<QHash<QString, QString>> Catalogue::signatures() const
{
    auto rows = m_database.run(QStringLiteral("SELECT path, signature FROM bundles"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, QString> all;
    while (rows->next())
        all.insert(rows->value(0).toString(), rows->value(1).toString());
    return all;
}

Result<Catalogue::Recorded> Catalogue::record(const hosting::Bundle& bundle, const hosting::TriedBundle& tried)
{
    Recorded total;
    const QString path = qt(hosting::pathText(bundle.path));
    const QString build = qt(hosting::buildOf(bundle.path));
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
        return putBuild(path, total.claimed_twice.isEmpty() ? qt(bundle.signature) : QString(), build);
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
                {path, qt(processor), qt(processors::toJson(preset).dump())});
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
                                     {path, qt(one.id), qt(one.name), qt(one.reason)});
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
        auto one = recordOne({path, {}}, qt(hosting::pathText(path)), finding);
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
        const bool ladspa = hosting::isLadspaLibrary(bundle.path);
        info.id = finding.location.id;
        info.name = hosting::pathText(ladspa ? bundle.path.stem() : bundle.path.filename());
        info.format = ladspa ? "LADSPA" : "LV2";
    }
    return put(info, path, finding.fault, finding.refusals);
}

Result<Catalogue::Recorded> Catalogue::put(const ProcessorInfo& info, const QString& path,
                                           const std::optional<hosting::Fault>& fault,
                                           const hosting::Refusals& refusals)
{
    const QString id = qt(info.id);
    const QString description = qt(processors::toJson(info).dump());
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
        {id, qt(info.name), qt(info.maker), qt(info.kind), qt(info.format), qt(info.version), path,
         static_cast<int>(info.audio_in), static_cast<int>(info.audio_out), static_cast<int>(info.key_in),
         qt(info.documentation), fault.has_value(), info.kind_proposed, refusalsText(refusals)});
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
            {id, path, qt(hosting::word(fault->phase)), qt(hosting::word(fault->cause)), qt(fault->detail),
             QDateTime::currentDateTimeUtc().toString(Qt::ISODate)});
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

Result<QHash<QString, hosting::Permissions>> Catalogue::allowed() const
{
    auto rows = m_database.run(QStringLiteral("SELECT id, may_use_network, may_write_to FROM processors WHERE "
                                              "may_use_network OR may_write_to <> ''"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, hosting::Permissions> all;
    while (rows->next())
        all.insert(rows->value(0).toString(),
                   {rows->value(1).toBool(), hosting::pathFrom(rows->value(2).toString().toStdString())});
    return all;
}

Result<void> Catalogue::allow(const QString& id, const hosting::Permissions& permissions)
{
    auto put = m_database.change(
        QStringLiteral("UPDATE processors SET may_use_network = ?, may_write_to = ? WHERE id = ?"),
        {permissions.network, qt(hosting::pathText(permissions.folder)), id});
    if (put)
        emit m_changes.written({id});
    return put;
}

Result<void> Catalogue::noteRefusals(const QString& id, const hosting::Refusals& refusals)
{
    auto known = entry(id);
    if (!known || !refusals.any())
        return {}; // of what is not in the catalogue nothing is kept
    const hosting::Refusals both = hosting::merged(known->refusals, refusals);
    if (both == known->refusals)
        return {};
    auto put = m_database.change(QStringLiteral("UPDATE processors SET refusals = ? WHERE id = ?"),
                                 {refusalsText(both), id});
    if (put)
        emit m_changes.written({id});
    return put;
}

Result<void> Catalogue::write(const std::vector<std::pair<QString, Written>>& written)
{
    auto done = m_database.transaction([&]() -> Result<void> {
        for (const auto& [id, words] : written) {
            QJsonArray tags;
            for (const QString& tag : words.tags)
                if (const QString text = tag.trimmed(); !text.isEmpty() && !tags.contains(text))
                    tags.append(text);
            auto put = m_database.run(
                QStringLiteral(
                    "UPDATE processors SET alias = ?, note = ?, tags = ?, rating = ?, favourite = ?, "
                    "hidden = ?, own_kind = ? WHERE id = ?"),
                {words.alias.trimmed(), words.note,
                 QString::fromUtf8(QJsonDocument(tags).toJson(QJsonDocument::Compact)),
                 std::clamp(words.rating, 0, 5), words.favourite, words.hidden, words.own_kind, id});
            if (!put)
                return tl::make_unexpected(put.error());
        }
        return {};
    });
    QStringList ids;
    for (const auto& [id, words] : written)
        ids << id;
    if (done)
        emit m_changes.written(ids);
    return done;
}

} // namespace hr::library

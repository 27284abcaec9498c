// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/catalogue.h"

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

constexpr auto entry_columns = "id, name, alias, maker, kind, format, version, bundle, note, tags, audio_in, "
                               "audio_out, key_in, rating, favourite, hidden, quarantined, own_kind";

QString qt(const std::string& text)
{
    return QString::fromStdString(text);
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
    if (e.own_kind = row.value(column).toString(); !e.own_kind.isEmpty())
        e.kind = e.own_kind;
    e.state = quarantined ? State::Quarantined : e.hidden ? State::Hidden : State::Ready;
    return e;
}

QuarantineEntry quarantineAt(const QSqlQuery& row)
{
    QuarantineEntry entry{row.value(0).toString(), row.value(1).toString(), {}, row.value(5).toString()};
    hosting::parseWord(row.value(2).toString().toStdString(), entry.fault.stage);
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
        QStringLiteral("SELECT preset FROM presets_apart WHERE processor = ? ORDER BY bundle, number"), {id});
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
    return hosting::Location{id.toStdString(), found->bundle.toStdString()};
}

Result<std::vector<QuarantineEntry>> Catalogue::quarantine() const
{
    return allRows(m_database.run(
        QStringLiteral("SELECT processor, faults.bundle, stage, cause, detail, at FROM faults "
                       "JOIN processors ON processors.id = processor "
                       "WHERE quarantined AND present AND faults.number IN (SELECT max(number) FROM "
                       "faults GROUP BY processor) ORDER BY processor")));
}

Result<std::vector<QuarantineEntry>> Catalogue::faultsOf(const QString& id) const
{
    return allRows(
        m_database.run(QStringLiteral("SELECT processor, bundle, stage, cause, detail, at FROM faults "
                                      "WHERE processor = ? ORDER BY number DESC"),
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
    const QString path = qt(bundle.path.string());
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
        // Should the other bundle go, this one has to be tried again.
        return m_database.change(QStringLiteral("INSERT OR REPLACE INTO bundles VALUES (?, ?)"),
                                 {path, total.claimed_twice.isEmpty() ? qt(bundle.signature) : QString()});
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

Result<void> Catalogue::recordAgain(const hosting::Finding& finding)
{
    return m_database.transaction([&]() -> Result<void> {
        const auto& path = finding.location.bundle;
        auto one = recordOne({path, {}}, qt(path.string()), finding);
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
        info.id = finding.location.id;
        info.name = bundle.path.filename().string();
        info.format = "LV2";
    }
    return put(info, path, finding.fault);
}

Result<Catalogue::Recorded> Catalogue::put(const ProcessorInfo& info, const QString& path,
                                           const std::optional<hosting::Fault>& fault)
{
    const QString id = qt(info.id);
    const QString description = qt(processors::toJson(info).dump());
    auto before =
        m_database.run(QStringLiteral("SELECT description, quarantined, present AND bundle = ?, bundle, "
                                      "present AND bundle <> ? AND bundle IN (SELECT path FROM bundles) "
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
    else if (before->value(0).toString() == description && before->value(1).toBool() == fault.has_value())
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
            "documentation, present, quarantined) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1, ?) "
            "ON CONFLICT (id) DO UPDATE SET name = excluded.name, maker = excluded.maker, kind = "
            "excluded.kind, "
            "version = excluded.version, bundle = excluded.bundle, audio_in = excluded.audio_in, "
            "audio_out = excluded.audio_out, key_in = excluded.key_in, documentation = excluded.documentation, "
            "present = 1, quarantined = excluded.quarantined"),
        {id, qt(info.name), qt(info.maker), qt(info.kind), qt(info.format), qt(info.version), path,
         static_cast<int>(info.audio_in), static_cast<int>(info.audio_out), static_cast<int>(info.key_in),
         qt(info.documentation), fault.has_value()});
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
            {id, path, qt(hosting::word(fault->stage)), qt(hosting::word(fault->cause)), qt(fault->detail),
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
                  "DELETE FROM presets_apart WHERE bundle = ?"})
                if (auto done = m_database.run(QLatin1String(statement), {path}); !done)
                    return tl::make_unexpected(done.error());
        }
        return {};
    });
}

Result<void> Catalogue::write(const std::vector<std::pair<QString, Written>>& written)
{
    return m_database.transaction([&]() -> Result<void> {
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
}

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/catalogue.h"

#include "bench/suite.h"
#include "hosting/path_text.h"
#include "library/refusals_text.h"
#include "processors/description_json.h"
#include "processors/json_text.h"
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
    "refusals, may_use_network, may_write_to, may_read_from";

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
    if (e.own_kind = row.value(column++).toString(); !e.own_kind.isEmpty())
        e.kind = e.own_kind;
    e.kind_proposed = row.value(column++).toBool() && e.own_kind.isEmpty();
    e.refusals = refusalsFrom(row.value(column++).toString());
    e.permissions.network = row.value(column++).toBool();
    e.permissions.folder = hosting::pathFrom(row.value(column++).toString().toStdString());
    e.permissions.readable = hosting::pathFrom(row.value(column).toString().toStdString());
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
    auto info = processors::processorInfoFromJson(processors::jsonFrom(row->value(0).toString().toStdString()));
    auto apart = m_database.strings(
        QStringLiteral("SELECT preset FROM presets_apart WHERE processor = ? ORDER BY bundle, row_id"), {id});
    if (!info || !apart)
        return info ? tl::make_unexpected(apart.error()) : info;
    for (const QString& text : *apart) {
        auto preset = processors::presetFromJson(processors::jsonFrom(text.toStdString()));
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

Result<QHash<QString, hosting::Permissions>> Catalogue::allowed() const
{
    auto rows = m_database.run(
        QStringLiteral("SELECT id, may_use_network, may_write_to, may_read_from FROM processors WHERE "
                       "may_use_network OR may_write_to <> '' OR may_read_from <> ''"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, hosting::Permissions> all;
    while (rows->next())
        all.insert(rows->value(0).toString(),
                   {rows->value(1).toBool(), hosting::pathFrom(rows->value(2).toString().toStdString()),
                    hosting::pathFrom(rows->value(3).toString().toStdString())});
    return all;
}

Result<void> Catalogue::allow(const QString& id, const hosting::Permissions& permissions)
{
    auto put = m_database.change(
        QStringLiteral(
            "UPDATE processors SET may_use_network = ?, may_write_to = ?, may_read_from = ? WHERE id = ?"),
        {permissions.network, qt(hosting::pathText(permissions.folder)),
         qt(hosting::pathText(permissions.readable)), id});
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

// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/presets.h"

#include "library/settings_json.h"
#include "processors/json_text.h"

namespace hr::library {

using nlohmann::ordered_json;

namespace {

std::vector<processors::Setting> settingsOf(const processors::PresetInfo& preset)
{
    std::vector<processors::Setting> settings;
    for (const auto& [key, value] : preset.values)
        settings.push_back({key, value});
    return settings;
}

/// Never NULL, which Qt makes of an array that was never filled.
QByteArray bytesOf(const std::string& bytes)
{
    return bytes.empty() ? QByteArray("") : QByteArray::fromStdString(bytes);
}

} // namespace

Result<std::vector<Preset>> Presets::of(const processors::ProcessorInfo& info) const
{
    const QString processor = QString::fromStdString(info.id);
    auto favourites = m_database.strings(
        QStringLiteral("SELECT preset FROM preset_favourites WHERE processor = ?"), {processor});
    auto own = m_database.run(
        QStringLiteral("SELECT row_id, name, bank, settings, state FROM presets WHERE processor = ? "
                       "ORDER BY bank COLLATE NOCASE, name COLLATE NOCASE"),
        {processor});
    if (const Error* error = firstError(favourites, own))
        return tl::make_unexpected(*error);

    std::vector<Preset> all;
    all.push_back({Preset::From::Defaults, 0, {}, QStringLiteral("defaults"), {}, false, {}});
    for (const processors::PresetInfo& preset : info.presets) {
        const QString id = QString::fromStdString(preset.id);
        all.push_back({Preset::From::Maker, 0, id, QString::fromStdString(preset.name),
                       QString::fromStdString(preset.bank), favourites->contains(id), settingsOf(preset),
                       preset.state});
    }
    while (own->next()) {
        const qint64 row_id = own->value(0).toLongLong();
        const QString id = QStringLiteral("own:%1").arg(row_id);
        all.push_back({Preset::From::User, row_id, id, own->value(1).toString(), own->value(2).toString(),
                       favourites->contains(id),
                       settingsFromJson(processors::orderedJsonFrom(own->value(3).toString().toStdString())),
                       own->value(4).toByteArray().toStdString()});
    }
    return all;
}

Result<void> Presets::checkName(const QString& processor, const QString& name, qint64 except) const
{
    if (name.trimmed().isEmpty())
        return wrongRequest("A preset needs a name: type one.");
    auto taken =
        m_database.run(QStringLiteral("SELECT 1 FROM presets WHERE processor = ? AND name = ? AND row_id <> ?"),
                       {processor, name.trimmed(), except});
    if (!taken)
        return tl::make_unexpected(taken.error());
    if (taken->next())
        return wrongRequest("There is a preset \"" + name.trimmed().toStdString() +
                            "\" already: choose another name.");
    return {};
}

Result<qint64> Presets::save(const QString& processor, const QString& name, const QString& bank,
                             const std::vector<processors::Setting>& settings, const std::string& state)
{
    if (auto good = checkName(processor, name, 0); !good)
        return tl::make_unexpected(good.error());
    auto put = m_database.run(
        QStringLiteral("INSERT INTO presets (processor, name, bank, settings, state) VALUES (?, ?, ?, ?, ?)"),
        {processor, name.trimmed(), bank.trimmed(), QString::fromStdString(settingsToJson(settings).dump()),
         bytesOf(state)});
    return put ? Result<qint64>(put->lastInsertId().toLongLong()) : tl::make_unexpected(put.error());
}

Result<void> Presets::restore(const QString& processor, const Preset& preset)
{
    auto put = m_database.change(
        QStringLiteral(
            "INSERT INTO presets (row_id, processor, name, bank, settings, state) VALUES (?, ?, ?, ?, ?, ?)"),
        {preset.row_id, processor, preset.name, preset.bank,
         QString::fromStdString(settingsToJson(preset.settings).dump()), bytesOf(preset.state)});
    if (put)
        emit m_changes.presetsChanged(processor);
    return put;
}

Result<void> Presets::rename(qint64 row_id, const QString& name, const QString& bank)
{
    auto row = m_database.run(QStringLiteral("SELECT processor FROM presets WHERE row_id = ?"), {row_id});
    if (!row)
        return tl::make_unexpected(row.error());
    const QString processor = row->next() ? row->value(0).toString() : QString();
    row->finish();
    if (auto good = checkName(processor, name, row_id); !good)
        return good;
    return m_database.change(QStringLiteral("UPDATE presets SET name = ?, bank = ? WHERE row_id = ?"),
                             {name.trimmed(), bank.trimmed(), row_id});
}

Result<void> Presets::remove(qint64 row_id)
{
    return m_database.change(QStringLiteral("DELETE FROM presets WHERE row_id = ?"), {row_id});
}

Result<void> Presets::setFavourite(const QString& processor, const QString& preset, bool favourite)
{
    return m_database.change(
        favourite ? QStringLiteral("INSERT OR REPLACE INTO preset_favourites VALUES (?, ?)")
                  : QStringLiteral("DELETE FROM preset_favourites WHERE processor = ? AND preset = ?"),
        {processor, preset});
}

Result<void> Presets::insert(const QString& processor, const std::vector<Preset>& presets)
{
    return m_database.transaction([&]() -> Result<void> {
        for (const Preset& preset : presets) {
            QString name = preset.name.trimmed();
            for (int n = 2; !name.isEmpty() && !checkName(processor, name, 0); ++n)
                name = QStringLiteral("%1 %2").arg(preset.name.trimmed()).arg(n);
            if (auto saved = save(processor, name, preset.bank, preset.settings, preset.state); !saved)
                return tl::make_unexpected(saved.error());
        }
        return {};
    });
}

} // namespace hr::library

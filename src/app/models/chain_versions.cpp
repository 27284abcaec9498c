// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_versions.h"

#include "chain/chain_json.h"
#include "processors/json_text.h"

#include <QDateTime>

namespace hr::app {

namespace {

constexpr auto versions_setting = "chain_versions";

} // namespace

ChainVersions::ChainVersions(library::Store& store, ChainDraft& draft, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_draft(draft), m_notices(notices)
{
    const auto kept = processors::orderedJsonFrom(store.setting(QLatin1String(versions_setting)).toStdString());
    for (const auto& one : kept.is_array() ? kept : nlohmann::ordered_json::array()) {
        if (!one.is_object() || !one.contains("chain") || !one.contains("kept_at") ||
            !one["kept_at"].is_string())
            continue;
        if (auto chain = chain::fromJson(one["chain"]))
            m_all.push_back({QString::fromStdString(one["kept_at"].get<std::string>()), std::move(*chain)});
    }
    connect(&m_draft, &ChainDraft::changed, this, &ChainVersions::changed);
}

std::vector<ChainVersions::Version> ChainVersions::list() const
{
    std::vector<Version> own;
    for (const Version& version : m_all)
        if (version.chain.name == m_draft.chain().name)
            own.push_back(version);
    return own;
}

void ChainVersions::keep()
{
    const auto own = list();
    if (!own.empty() && chain::toText(own.front().chain) == chain::toText(m_draft.chain()))
        return m_notices.say(tr("Nothing has changed since the version that was kept last."));
    m_all.insert(m_all.begin(), {QDateTime::currentDateTimeUtc().toString(Qt::ISODate), m_draft.chain()});
    if (m_all.size() > most_kept)
        m_all.resize(most_kept);
    auto kept = nlohmann::ordered_json::array();
    for (const Version& version : m_all)
        kept.push_back({{"kept_at", version.kept_at.toStdString()}, {"chain", chain::toJson(version.chain)}});
    (void)m_notices.succeeded(m_store.setSetting(
        QLatin1String(versions_setting),
        QString::fromStdString(kept.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace))));
    emit changed();
}

} // namespace hr::app

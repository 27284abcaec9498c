// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_draft.h"

namespace hr::app {

namespace {

constexpr auto draft_setting = "chain_draft";

} // namespace

ChainDraft::ChainDraft(library::Store& store, QObject* parent) : QObject(parent), m_store(store)
{
    m_chain.name = tr("New chain").toStdString();
    const auto kept = nlohmann::ordered_json::parse(store.setting(QLatin1String(draft_setting)).toStdString(),
                                                    nullptr, false);
    if (auto chain = chain::fromJson(kept))
        m_chain = std::move(*chain);
}

void ChainDraft::set(const chain::Chain& chain)
{
    m_chain = chain;
    if (auto kept =
            m_store.setSetting(QLatin1String(draft_setting), QString::fromStdString(chain::toText(m_chain)));
        !kept)
        emit notice(QString::fromStdString(kept.error().text));
    emit changed();
}

void ChainDraft::append(const QStringList& ids)
{
    chain::Chain longer = m_chain;
    for (const QString& id : ids) {
        auto entry = m_store.catalogue.entry(id);
        if (!entry)
            continue;
        if (longer.stages.size() == processors::Series::most_stages) {
            emit notice(tr("A chain has at most %1 stages: the rest was left out.")
                            .arg(processors::Series::most_stages));
            break;
        }
        chain::Stage stage;
        stage.id = id.toStdString();
        stage.name = entry->title().toStdString();
        longer.stages.push_back(std::move(stage));
    }
    set(longer);
}

} // namespace hr::app

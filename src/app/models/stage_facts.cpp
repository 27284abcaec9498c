// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/stage_facts.h"

#include "processors/settings.h"
#include "processors/wetness.h"
#include "theme/theme.h"

namespace hr::app {

StageFacts::StageFacts(library::Store& store, ProcessorModel& processors, QObject* parent)
    : QObject(parent), m_store(store)
{
    const auto forget = [this] {
        m_known.clear();
        emit changed();
    };
    connect(&processors, &QAbstractItemModel::modelReset, this, forget);
    connect(&m_store.changes(), &library::Changes::written, this, forget);
}

const StageFacts::Facts* StageFacts::of(const std::string& processor) const
{
    auto known = m_known.find(processor);
    if (known == m_known.end()) {
        const QString id = QString::fromStdString(processor);
        auto entry = m_store.catalogue.entry(id);
        auto info = m_store.catalogue.info(id);
        auto location = m_store.catalogue.location(id);
        std::optional<Facts> facts;
        if (entry && info && location)
            facts = Facts{std::move(*entry), std::move(*info), std::move(*location)};
        known = m_known.emplace(processor, std::move(facts)).first;
    }
    return known->second ? &*known->second : nullptr;
}

QString StageFacts::nameOf(const chain::Node& node) const
{
    switch (node.kind) {
    case chain::NodeKind::Stage:
        break;
    case chain::NodeKind::Bands:
        return tr("Bands");
    case chain::NodeKind::MidSide:
        return tr("Mid and side");
    case chain::NodeKind::Branch:
        return tr("Branch");
    case chain::NodeKind::Send:
        return tr("Send");
    case chain::NodeKind::Return:
        return tr("Return");
    case chain::NodeKind::Sum:
        return tr("Sum");
    case chain::NodeKind::Rejoin:
        return tr("Left and right");
    case chain::NodeKind::Key:
        return tr("Key");
    }
    const Facts* facts = of(node.processor);
    return facts ? facts->entry.title()
                 : QString::fromStdString(node.name.empty() ? node.processor : node.name);
}

QString StageFacts::kindOf(const chain::Node& node) const
{
    switch (node.kind) {
    case chain::NodeKind::Stage: {
        const Facts* facts = of(node.processor);
        return facts ? facts->entry.kind : QString();
    }
    case chain::NodeKind::Bands: {
        QStringList crossovers;
        for (const double hz : node.crossovers_hz)
            crossovers << tr("%1 Hz").arg(number(hz, 0));
        return tr("parts the sound at %1").arg(crossovers.join(tr(", ")));
    }
    case chain::NodeKind::MidSide:
        return tr("parts the sound into mid and side");
    case chain::NodeKind::Branch:
        return tr("a path beside the one before it");
    case chain::NodeKind::Send:
        return tr("on the way to an effect that is added");
    case chain::NodeKind::Return:
        return tr("on the way back from it");
    case chain::NodeKind::Sum:
        return tr("adds up all paths that meet here");
    case chain::NodeKind::Rejoin:
        return tr("mid and side together again");
    case chain::NodeKind::Key:
        break;
    }
    return tr("what a key input listens to");
}

std::vector<double> StageFacts::valuesOf(const chain::Node& stage) const
{
    const Facts* facts = of(stage.processor);
    if (!facts)
        return {};
    auto values = processors::resolveSettings(facts->info, stage.preset, stage.settings);
    return values ? std::move(*values) : std::vector<double>();
}

std::optional<StageFacts::Standing> StageFacts::parameterOf(const chain::Node& stage,
                                                            const std::string& key) const
{
    const Facts* facts = of(stage.processor);
    const auto index = facts ? facts->info.parameterIndex(key) : std::nullopt;
    const auto values = valuesOf(stage);
    return index && *index < values.size()
               ? std::optional(Standing{facts->info.parameters[*index], values[*index]})
               : std::nullopt;
}

void StageFacts::set(chain::Node& stage, const std::string& key, double value) const
{
    const Facts* facts = of(stage.processor);
    const auto index = facts ? facts->info.parameterIndex(key) : std::nullopt;
    std::erase_if(stage.settings, [&](const processors::Setting& one) { return one.key == key; });
    if (!stage.preset.empty() || !index || facts->info.parameters[*index].default_value != value)
        stage.settings.push_back({key, value});
}

void StageFacts::makeFullyWet(chain::Node& stage) const
{
    const Facts* facts = of(stage.processor);
    const auto values = valuesOf(stage);
    if (!facts || values.empty())
        return;
    const auto wet = processors::fullyWet(facts->info, values);
    for (std::size_t i = 0; i < values.size(); ++i)
        if (wet[i] != values[i])
            set(stage, facts->info.parameters[i].key, wet[i]);
}

} // namespace hr::app

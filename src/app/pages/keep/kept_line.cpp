// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/keep/kept_line.h"

#include "chain/chain_json.h"
#include "processors/json_text.h"
#include "processors/value_text.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QVBoxLayout>

namespace hr::app {

namespace {

/// "Threshold −28.0 dB", for each value it was kept with.
QStringList settingsText(const library::Store& store, const library::CollectionItem& item)
{
    QStringList words;
    const auto info = store.catalogue.info(item.reference);
    for (const processors::Setting& s : item.settings) {
        const auto index = info ? info->parameterIndex(s.key) : std::nullopt;
        if (!index) {
            words << QStringLiteral("%1 %2").arg(QString::fromStdString(s.key), number(s.value, 1));
            continue;
        }
        const auto& p = info->parameters[*index];
        words << QString::fromStdString(p.name + ' ' + processors::valueWithUnit(p, s.value));
    }
    return words;
}

} // namespace

KeptLine::KeptLine(library::Store& store, PageRoutes& ways, const library::CollectionItem& item,
                   QWidget* parent)
    : QWidget(parent), m_store(store), m_ways(ways), m_item(item)
{
    m_item.isChain() ? describeChain() : m_item.isParts() ? describeParts() : describeProcessor();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 12, 6);
    auto* words = new QVBoxLayout;
    words->setSpacing(0);
    auto* title = new ElidedLabel(m_title);
    setRole(title, "strong");
    words->addWidget(title);
    m_about.removeAll(QString());
    auto* about = new ElidedLabel(m_about.join(QStringLiteral(" · ")));
    setRole(about, m_whole ? "faint" : "caution");
    words->addWidget(about);
    row->addLayout(words, 1);
    addWays();
}

void KeptLine::describeProcessor()
{
    auto entry = m_store.catalogue.entry(m_item.reference);
    m_here = m_whole = entry.has_value();
    m_title = entry ? entry->title() : m_item.reference;
    m_about = entry ? QStringList{entry->maker, entry->kind} : QStringList{tr("not installed here")};
    m_about << settingsText(m_store, m_item);
}

void KeptLine::describeChain()
{
    m_title = m_item.reference;
    auto chain = chain::fromText(m_item.chain.toStdString());
    m_here = m_whole = chain.has_value();
    if (!chain) {
        m_about << QString::fromStdString(chain.error().text);
        return;
    }
    m_chain = *chain;
    QStringList names;
    for (const chain::Node& stage : chain->nodes)
        if (stage.kind == chain::NodeKind::Stage)
            names << nameHere(stage);
    m_about << tr("chain of %1").arg(names.size()) << names.join(QStringLiteral(" → "));
}

/// Or that it is not installed.
QString KeptLine::nameHere(const chain::Node& stage)
{
    const auto entry = m_store.catalogue.entry(QString::fromStdString(stage.processor));
    m_whole = m_whole && entry;
    return entry ? entry->title() : tr("%1 (not installed)").arg(QString::fromStdString(stage.name));
}

void KeptLine::describeParts()
{
    m_title = m_item.reference;
    m_here = false; // they are heard on Build
    const auto company = chain::companyFromJson(processors::orderedJsonFrom(m_item.chain.toStdString()));
    m_whole = company.has_value();
    if (!company) {
        m_about << QString::fromStdString(company.error().text);
        return;
    }
    m_parts = *company;
    QStringList names;
    const auto add = [&](const std::string& name, const chain::Chain& chain) {
        QStringList stages;
        for (const chain::Node& stage : chain.nodes)
            if (stage.kind == chain::NodeKind::Stage)
                stages << nameHere(stage);
        const QString word = QString::fromStdString(name);
        names << (stages.isEmpty() ? word : tr("%1: %2").arg(word, stages.join(QStringLiteral(" → "))));
    };
    for (const chain::Part& part : company->parts)
        add(part.name, part.chain);
    for (const chain::Return& back : company->returns)
        add(back.name, back.chain);
    m_about << (company->parts.size() == 1 ? tr("one part") : tr("%1 parts").arg(company->parts.size()))
            << names.join(tr("; "));
}

void KeptLine::addWays()
{
    const auto add = [this](const QString& text, const std::function<void()>& work) {
        auto* button = new Button(text);
        connect(button, &QPushButton::clicked, this, work);
        layout()->addWidget(button);
        return button;
    };
    if (m_here)
        add(tr("Listen"), [this] { m_ways.listenTo(m_item); });
    if (m_chain)
        add(tr("Build"), [this] { m_ways.build(*m_chain); });
    if (m_parts)
        add(tr("Build"), [this] { m_ways.build(*m_parts); });
    if (m_item.row_id != 0) // else a rule put it there, and takes it away
        add(tr("✕"), [this] {
            emit takenAway();
        })->setAccessibleName(tr("remove %1 from the collection").arg(m_title));
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/halves_view.h"

#include "widgets/basics.h"

#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

HalvesView::HalvesView(const BuildServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(m_told = paragraph({}, "faint"));
    auto* row = new QHBoxLayout;
    const auto add = [&](const QString& words, const std::function<void()>& work) {
        return addButton(*row, new Button(words), this, work);
    };
    m_begin = add(tr("Find the faulty stage"), [this] { begin(); });
    m_begin->setToolTip(tr("Something hums, clicks, comes late or clips? Half of the stages are bypassed at a "
                           "time; you say whether it is still there."));
    m_still = add(tr("Still there"), [this] { answer(true); });
    m_gone = add(tr("Gone"), [this] { answer(false); });
    m_back = add(tr("Back"), [this] {
        m_search->takeBack();
        goOn();
    });
    m_back->setToolTip(tr("as if the last answer had not been given"));
    row->addStretch(1);
    column->addLayout(row);
    connect(&m_services.draft, &ChainDraft::changed, this, [this] {
        if (m_search && stagesOn() != m_of)
            m_search.reset(); // it was about another chain
        reload();
    });
    reload();
}

std::vector<std::string> HalvesView::stagesOn() const
{
    std::vector<std::string> stages;
    for (const chain::Node& node : m_services.draft.chain().nodes)
        if (node.kind == chain::NodeKind::Stage && node.on)
            stages.push_back(node.id);
    return stages;
}

QString HalvesView::namesOf(const std::vector<std::string>& stages) const
{
    QStringList numbers;
    for (const std::string& id : stages)
        numbers << QString::number(chain::stageNumber(m_services.draft.chain(), id));
    return numbers.join(tr(", "));
}

void HalvesView::begin()
{
    m_of = stagesOn();
    if (m_of.empty())
        return m_services.notices.say(tr("No stage is on: there is nothing to search."));
    m_search.emplace(m_of);
    goOn();
}

void HalvesView::answer(bool still_heard)
{
    m_search->answer(still_heard);
    goOn();
}

void HalvesView::goOn()
{
    const auto bypassed = m_search->toBypass();
    if (!bypassed.empty()) {
        chain::Chain part = m_services.draft.chain();
        for (chain::Node& node : part.nodes)
            if (std::ranges::find(bypassed, node.id) != bypassed.end())
                node.on = false;
        m_services.hearing.hearPart(part, tr("without %1").arg(namesOf(bypassed)));
    } else if (m_search->found()) {
        m_services.hearing.hear();
        emit found(QString::fromStdString(*m_search->found()));
    }
    reload();
}

void HalvesView::reload()
{
    const bool asks = m_search && !m_search->toBypass().empty();
    m_begin->setText(m_search ? tr("Search again") : tr("Find the faulty stage"));
    for (Button* one : {m_still, m_gone})
        one->setVisible(asks);
    m_back->setVisible(m_search && m_search->answers() > 0);
    m_told->setVisible(m_search.has_value());
    if (!m_search)
        return;
    if (m_search->isElsewhere())
        return m_told->setText(
            tr("It is there with every stage bypassed: it comes from the source, or from behind "
               "the chain."));
    if (const auto one = m_search->found()) {
        const chain::Node* node = m_services.draft.node(*one);
        return m_told->setText(tr("It comes from stage %1, %2.")
                                   .arg(namesOf({*one}), node ? m_services.facts.nameOf(*node) : QString()));
    }
    m_told->setText(m_search->answers() == 0
                        ? tr("Every stage is bypassed now. Is it still there?")
                        : tr("Bypassed now: %1. It may still be any of %2. Is it still there?")
                              .arg(namesOf(m_search->toBypass()), namesOf(m_search->suspects())));
}

} // namespace hr::app

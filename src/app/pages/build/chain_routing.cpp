// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/chain_routing.h"

#include "pages/build/chain_actions.h"

#include <algorithm>

namespace hr::app {

namespace {

const std::vector<double> usual_crossovers_hz{250, 2500};
constexpr std::size_t usual_band = 1; // the one in the middle

} // namespace

ChainRouting::ChainRouting(const BuildServices& services, ChainPicture& picture, ChainEdits& edits,
                           ChainActions& actions)
    : m_services(services), m_picture(picture), m_edits(edits)
{
    declare(actions);
    connect(&m_picture, &ChainPicture::leadRequested, this, &ChainRouting::lead);
}

void ChainRouting::declare(ChainActions& actions)
{
    actions.add("beside", tr("put a stage on a path beside this one"), {}, [this] {
        m_edits.editWithFound(tr("what runs beside it"),
                              [id = m_edits.currentId()](const chain::Chain& chain, chain::Node stage) {
                                  return chain::putBeside(chain, id, std::move(stage));
                              });
    });
    actions.add("send", tr("send from here to an effect that is added"), {}, [this] {
        m_edits.editWithFound(tr("the effect that is sent to"),
                              [this, id = m_edits.currentId()](const chain::Chain& chain, chain::Node stage) {
                                  m_services.facts.makeFullyWet(stage);
                                  return chain::sendFrom(chain, id, std::move(stage));
                              });
    });
    actions.add("bands", tr("let it have a band of the sound only"), {}, [this] {
        m_edits.edit([id = m_edits.currentId()](const chain::Chain& chain) {
            return chain::splitIntoBands(chain, id, usual_crossovers_hz, usual_band);
        });
    });
    actions.add("mid", tr("let it have the mid only"), {}, [this] {
        m_edits.edit([id = m_edits.currentId()](const chain::Chain& chain) {
            return chain::splitIntoMidAndSide(chain, id);
        });
    });
}

void ChainRouting::addTo(QMenu& menu)
{
    const chain::Node* node = m_services.draft.node(m_edits.currentId());
    if (!node)
        return;
    if (const StageFacts::Facts* facts = m_services.facts.of(node->processor); facts && facts->info.key_in > 0)
        addKeys(*menu.addMenu(tr("Key input")), *node);
    addLeads(*menu.addMenu(tr("Lead its path")), *node);
}

void ChainRouting::addKeys(QMenu& menu, const chain::Node& stage)
{
    using processors::KeySource;
    const auto put = [&](const QString& words, bool now, const auto& how) {
        QAction* action = menu.addAction(words, this, [this, how] { m_edits.edit(how); });
        action->setCheckable(true);
        action->setChecked(now);
    };
    for (const auto& [words, source] : {std::pair(tr("What it gets itself"), KeySource::Own),
                                        {tr("What goes into the chain"), KeySource::Chain},
                                        {tr("Nothing"), KeySource::None}})
        put(words, stage.key == source,
            [id = stage.id, source = source](const chain::Chain& chain) { return setKey(chain, id, source); });
    menu.addSeparator();
    // Through a level and a filter of its own.
    std::vector<std::string> places{processors::chain_input};
    for (const chain::Node& node : m_services.draft.chain().nodes)
        if (node.kind == chain::NodeKind::Stage && keyFrom(m_services.draft.chain(), stage.id, node.id))
            places.push_back(node.id);
    for (const std::string& from : places)
        put(tr("Filtered, from %1").arg(nameOf(from)), false,
            [id = stage.id, from](const chain::Chain& chain) { return keyFrom(chain, id, from); });
}

/// Only what can run is offered.
void ChainRouting::addLeads(QMenu& menu, const chain::Node& node)
{
    const chain::Chain& chain = m_services.draft.chain();
    const auto offer = [&](const chain::Edge& edge, bool arrives, const std::string& place) {
        chain::Edge as = edge;
        (arrives ? as.to : as.from) = place;
        if (as == edge || !chain::lead(chain, edge, as))
            return;
        menu.addAction(arrives ? tr("On to %1 instead of %2").arg(nameOf(place), nameOf(edge.to))
                               : tr("From %1 instead of %2").arg(nameOf(place), nameOf(edge.from)),
                       this, [this, edge, arrives, place] { leadTo(edge, arrives, place); });
    };
    std::vector<std::string> places{processors::chain_input};
    for (const chain::Node& one : chain.nodes)
        places.push_back(one.id);
    places.emplace_back(processors::chain_output);
    for (const chain::Edge& edge : chain.graph().edges)
        for (const std::string& place : places) {
            if (edge.from == node.id)
                offer(edge, true, place);
            if (edge.to == node.id)
                offer(edge, false, place);
        }
    menu.setEnabled(!menu.isEmpty());
}

void ChainRouting::lead(std::size_t path, bool arrives, const QString& node)
{
    if (const auto edge = m_edits.edgeOf(path))
        leadTo(*edge, arrives, node.toStdString());
}

void ChainRouting::leadTo(const chain::Edge& edge, bool arrives, const std::string& node)
{
    m_edits.edit([&](const chain::Chain& chain) {
        chain::Edge as = edge;
        (arrives ? as.to : as.from) = node;
        const chain::Node* place = chain.node(node);
        if (arrives && edge.input != "key")
            as.input = place && place->kind == chain::NodeKind::Rejoin ? "mid" : "";
        if (!arrives)
            as.output = !place                                    ? ""
                        : place->kind == chain::NodeKind::Bands   ? "band_1"
                        : place->kind == chain::NodeKind::MidSide ? "mid"
                                                                  : "";
        return chain::lead(chain, edge, as);
    });
}

QString ChainRouting::nameOf(const std::string& place) const
{
    const chain::Node* node = m_services.draft.node(place);
    if (!node)
        return place == processors::chain_input ? tr("the source") : tr("the end of the chain");
    const QString name =
        node->purpose.empty() ? m_services.facts.nameOf(*node) : QString::fromStdString(node->purpose);
    return node->kind == chain::NodeKind::Stage ? tr("%1 %2").arg(m_edits.numberOf(place), name) : name;
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The line-up's chains: opened in the background, and changed while they play.
#include "exchange/chain_file.h"
#include "models/line_up.h"
#include "models/line_up_document.h"
#include "processors/settings.h"

#include <QFile>
#include <algorithm>

namespace hr::app {

namespace {

/// "chain: Tidepool Four → Cordage Leveller".
QString stagesText(const chain::Chain& chain, const library::Catalogue& catalogue)
{
    QStringList names;
    for (const chain::Node& node : chain.nodes) {
        if (node.kind != chain::NodeKind::Stage)
            continue;
        const auto entry = catalogue.entry(QString::fromStdString(node.processor));
        names << (entry                ? entry->title()
                  : !node.name.empty() ? QString::fromStdString(node.name)
                                       : QString::fromStdString(node.processor));
    }
    return names.isEmpty() ? QObject::tr("chain without a stage")
                           : QObject::tr("chain: %1").arg(names.join(QObject::tr(" → ")));
}

/// The nodes, the wiring and the files alike: what is left are values.
bool opensAlike(const hosting::Location& one, const hosting::Location& other)
{
    return one.id == other.id && one.stages == other.stages;
}

/// The same for chains, without asking where their files lie.
bool hangsTogetherAlike(const chain::Chain& one, const chain::Chain& other)
{
    return one.edges == other.edges && one.name == other.name &&
           std::ranges::equal(one.nodes, other.nodes, [](const chain::Node& a, const chain::Node& b) {
               return a.id == b.id && a.kind == b.kind && a.processor == b.processor && a.preset == b.preset &&
                      a.state == b.state && a.crossovers_hz.size() == b.crossovers_hz.size();
           });
}

} // namespace

ContenderId LineUp::addChainFile(const QString& file)
{
    auto chain = exchange::readChain(QFile::encodeName(file).toStdString());
    if (chain)
        return addChain(*chain);
    emit notice(QString::fromStdString(chain.error().text));
    return audition::no_contender;
}

ContenderId LineUp::addChain(const chain::Chain& chain, int place, int mark)
{
    if (!hasRoom())
        return audition::no_contender;
    Contender contender;
    contender.id = m_next_id++;
    contender.mark = freeMark(mark);
    contender.title = QString::fromStdString(chain.name);
    contender.maker = stagesText(chain, m_store.catalogue);
    contender.chain = chain;
    contender.opening = true;
    const ContenderId id = insert(std::move(contender), place);
    open(*find(id));
    return id;
}

chain::Placed LineUp::placeOf(const chain::Chain& chain) const
{
    return chain::place(chain, [this](const std::string& id) {
        return m_store.catalogue.location(QString::fromStdString(id));
    });
}

void LineUp::openChain(const chain::Chain& chain, const ChainOpened& take)
{
    const chain::Placed placed = placeOf(chain);
    const auto info = std::make_shared<hosting::FaultOr<processors::ProcessorInfo>>();
    JobOrder job;
    job.title = tr("Open the chain %1").arg(QString::fromStdString(chain.name));
    job.urgent = true;
    job.owner = this;
    job.work = [info, location = placed.location](const JobControl& control) {
        auto opened = hosting::openInstance(location, {.cancel = control.cancel()});
        *info = opened ? hosting::FaultOr<processors::ProcessorInfo>((*opened)->info())
                       : tl::make_unexpected(opened.error());
    };
    job.finished = [info, placed, take](JobEnd end) {
        take(placed, end == JobEnd::Done
                         ? *info
                         : hosting::fault(hosting::Phase::Load, hosting::Cause::Cancelled, "it was cancelled"));
    };
    m_jobs.add(std::move(job));
}

void LineUp::open(const Contender& contender)
{
    openChain(*contender.chain,
              [this, id = contender.id, generation = contender.generation](
                  const auto& placed, const auto& info) { opened(id, generation, placed, info); });
}

void LineUp::opened(ContenderId id, std::uint32_t generation, const chain::Placed& placed,
                    const hosting::FaultOr<processors::ProcessorInfo>& info)
{
    Contender* contender = findMutable(id);
    if (!contender || contender->generation != generation)
        return; // it has left meanwhile, or is another chain
    contender->opening = false;
    const auto values = info ? chain::values(*contender->chain, *info) : Result<std::vector<double>>();
    if (!info || !values) {
        contender->match = MatchState::Failed;
        contender->fault = info ? tr("could not be opened. %1").arg(QString::fromStdString(values.error().text))
                                : QString::fromStdString(hosting::sentence(info.error()));
        emit notice(tr("The chain %1 %2").arg(contender->title, contender->fault));
    } else {
        contender->described = *info;
        contender->info = processors::atRate(*info, m_rate_hz);
        contender->location = placed.location;
        contender->values = *values;
        restoreExtras(std::exchange(contender->kept_extras, nullptr), *contender, *this);
        updateEngine();
        changed(*contender);
        sayMissing(*contender, placed);
    }
    emit contendersChanged();
}

void LineUp::sayMissing(const Contender& contender, const chain::Placed& placed)
{
    QStringList missing;
    for (const std::string& stage : placed.missing)
        missing << QString::fromStdString(stage);
    if (!missing.isEmpty())
        emit notice(tr("Bypassed in the chain %1 (not installed): %2.")
                        .arg(contender.title, missing.join(QStringLiteral(", "))));
}

// --- changed while it plays ----------------------------------------------------------------------------

void LineUp::changeChain(ContenderId id, const chain::Chain& chain)
{
    Contender* contender = findMutable(id);
    if (!contender || !contender->chain || isHeld(id))
        return;
    const std::uint32_t turn = ++contender->chain_turn;
    contender->chain_opens = false;
    if (contender->isOpen() &&
        hangsTogetherAlike(contender->changed_chain ? contender->changed_chain->chain : *contender->chain,
                           chain))
        return setChainValues(*contender, chain);
    contender->title = QString::fromStdString(chain.name);
    contender->maker = stagesText(chain, m_store.catalogue);
    if (!contender->isOpen()) { // it may be opened as it is now
        contender->chain = chain;
        contender->fault.clear();
        contender->opening = true;
        ++contender->generation;
        open(*contender);
    } else if (const auto placed = placeOf(chain);
               opensAlike(contender->changed_chain ? contender->changed_chain->location : contender->location,
                          placed.location)) {
        setChainValues(*contender, chain);
    } else if (contender->changed_chain && opensAlike(contender->location, placed.location)) {
        contender->changed_chain.reset(); // back to what plays
        setChainValues(*contender, chain);
        changed(*contender);
    } else {
        contender->chain_opens = true;
        openChain(chain, [this, id, turn, chain](const auto& found, const auto& info) {
            if (Contender* now = findMutable(id); now && now->chain_turn == turn)
                changedChainOpened(*now, chain, found, info);
        });
    }
    emit contendersChanged();
}

/// Of a chain that is open as it is, or about to be taken.
void LineUp::setChainValues(Contender& contender, const chain::Chain& chain)
{
    auto& changed_chain = contender.changed_chain;
    const auto values = chain::values(chain, changed_chain ? changed_chain->described : contender.described);
    if (!values)
        return emit notice(QString::fromStdString(values.error().text));
    (changed_chain ? changed_chain->chain : *contender.chain) = chain;
    if (changed_chain) {
        changed_chain->values = *values;
        return changed(contender);
    }
    std::vector<std::size_t> moved;
    for (std::size_t i = 0; i < values->size(); ++i)
        if ((*values)[i] != contender.values[i])
            moved.push_back(i);
    constexpr std::size_t most_turned = 2; // a hand turns one thing, or two that belong together
    if (moved.size() > most_turned)
        return changeTo(contender.id, *values);
    for (const std::size_t i : moved)
        setValue(contender.id, i, (*values)[i]);
}

void LineUp::changedChainOpened(Contender& contender, const chain::Chain& chain, const chain::Placed& placed,
                                const hosting::FaultOr<processors::ProcessorInfo>& info)
{
    contender.chain_opens = false;
    const auto values = info ? chain::values(chain, *info) : Result<std::vector<double>>();
    if (!info || !values)
        return emit notice(
            tr("The chain %1 %2 What was heard goes on.")
                .arg(contender.title,
                     info ? tr("could not be opened. %1").arg(QString::fromStdString(values.error().text))
                          : QString::fromStdString(hosting::sentence(info.error()))));
    contender.changed_chain =
        Contender::ChangedChain{chain, placed.location, *info, processors::atRate(*info, m_rate_hz), *values};
    sayMissing(contender, placed);
    if (m_transport.source())
        changed(contender);
    else
        takeChangedChain(contender); // nothing is heard, and there is nothing to match
}

/// Through a lane of its own: processors and gain change at one frame.
void LineUp::takeChangedChain(Contender& contender)
{
    Contender::ChangedChain taken = std::move(*contender.changed_chain);
    contender.changed_chain.reset();
    contender.pending.reset();
    contender.preset.reset();
    const processors::ProcessorInfo before = std::exchange(contender.info, std::move(taken.info));
    contender.described = std::move(taken.described);
    contender.location = std::move(taken.location);
    contender.chain = std::move(taken.chain);
    contender.values = std::move(taken.values);
    takeAlong(contender, before);
    ++contender.generation;
    updateEngine();
    emit contendersChanged();
    emit settingsChanged(contender.id);
}

} // namespace hr::app

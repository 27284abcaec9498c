// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/parts_draft.h"

#include "actions/undoable.h"
#include "chain/chain_json.h"
#include "exchange/chain_file.h"
#include "processors/json_text.h"

#include <QFileInfo>
#include <algorithm>

namespace hr::app {

namespace {

constexpr auto parts_setting = "parts_draft";
constexpr int kept_after_rest_ms = 300;
constexpr auto worked_setting = "parts_worked_on";

} // namespace

PartsDraft::PartsDraft(library::Store& store, ChainDraft& chain, Transport& transport, SourceList& sources,
                       QUndoStack& undo, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_chain(chain), m_transport(transport), m_sources(sources), m_undo(undo),
      m_notices(notices), m_soon(kept_after_rest_ms, [this] { keep(); })
{
    const auto kept = processors::orderedJsonFrom(store.setting(QLatin1String(parts_setting)).toStdString());
    if (auto company = chain::companyFromJson(kept))
        m_company = std::move(*company);
    m_worked = store.setting(QLatin1String(worked_setting)).toStdString();
    if (!chainOf(m_worked))
        m_worked.clear();
    connect(&m_chain, &ChainDraft::changed, this, &PartsDraft::takeChain);
}

PartsDraft::~PartsDraft()
{
    if (m_soon.isActive())
        keep();
}

QString PartsDraft::nameOf(const std::string& id) const
{
    if (id == the_sum)
        return tr("the sum");
    if (const chain::Part* part = m_company.part(id))
        return QString::fromStdString(part->name);
    const auto back = std::ranges::find(m_company.returns, id, &chain::Return::id);
    return back == m_company.returns.end() ? QString() : QString::fromStdString(back->name);
}

chain::Chain* PartsDraft::chainOf(const std::string& id)
{
    if (id == the_sum && !isEmpty())
        return &m_company.sum;
    for (chain::Part& part : m_company.parts)
        if (part.id == id)
            return &part.chain;
    for (chain::Return& back : m_company.returns)
        if (back.id == id)
            return &back.chain;
    return nullptr;
}

chain::Standing* PartsDraft::standingOf(chain::Company& company, const std::string& id) const
{
    for (chain::Part& part : company.parts)
        if (part.id == id)
            return &part.standing;
    for (chain::Return& back : company.returns)
        if (back.id == id)
            return &back.standing;
    return nullptr;
}

// --- kept --------------------------------------------------------------------------------------------

void PartsDraft::changedAndKept()
{
    keep();
    emit changed();
}

void PartsDraft::keep()
{
    m_soon.stop();
    (void)m_notices.succeeded(
        m_store.setSetting(QLatin1String(parts_setting),
                           isEmpty() ? QString()
                                     : QString::fromStdString(chain::toJson(m_company).dump(
                                           -1, ' ', false, nlohmann::json::error_handler_t::replace))));
    (void)m_notices.succeeded(
        m_store.setSetting(QLatin1String(worked_setting), QString::fromStdString(m_worked)));
}

void PartsDraft::set(const chain::Company& company)
{
    m_company = company;
    if (!chainOf(m_worked))
        m_worked.clear();
    changedAndKept();
}

void PartsDraft::edit(const QString& words, const chain::Company& after, const QString& moves)
{
    m_undo.push(new Undoable(
        words, [this, after] { set(after); }, [this, before = m_company] { set(before); }, moves));
}

/// What is done to the chain on Build is done to what it is the chain of.
void PartsDraft::takeChain()
{
    if (m_turning || m_worked.empty())
        return;
    if (chain::Chain* chain = chainOf(m_worked)) {
        *chain = m_chain.chain();
        if (m_chain.isMoved())
            m_soon.start();
        else
            keep();
        emit changed();
    }
}

// --- steps -------------------------------------------------------------------------------------------

void PartsDraft::turnTo(const std::string& id, const chain::Chain& chain)
{
    m_worked = id;
    m_turning = true;
    m_chain.turnTo(chain);
    m_turning = false;
    if (const chain::Part* part = m_company.part(id))
        if (const QString file = QString::fromStdString(part->file); file != m_transport.sourceFile())
            m_transport.load(file);
    changedAndKept();
}

void PartsDraft::workOn(const std::string& id)
{
    const chain::Chain* found = chainOf(id);
    if (!found || id == m_worked)
        return;
    chain::Chain chain = *found;
    if (chain.name.empty())
        chain.name = nameOf(id).toStdString();
    m_undo.push(new Undoable(
        tr("work on %1").arg(nameOf(id)), [this, id, chain] { turnTo(id, chain); },
        [this, before = m_worked, chain_before = m_chain.chain()] { turnTo(before, chain_before); }));
}

void PartsDraft::open(const chain::Company& company)
{
    m_undo.beginMacro(tr("open parts"));
    edit(tr("open parts"), company);
    if (!company.parts.empty())
        workOn(company.parts.front().id);
    m_undo.endMacro();
}

/// Files of parts become absolute: what is kept lies elsewhere than the file.
Result<chain::Company> PartsDraft::read(const std::filesystem::path& file)
{
    auto company = exchange::readCompany(file);
    if (!company)
        return company;
    for (chain::Part& part : company->parts) {
        std::error_code ignored; // what is not there is told once it is to be heard
        part.file = std::filesystem::weakly_canonical(file.parent_path() / part.file, ignored).string();
    }
    return company;
}

library::CollectionItem PartsDraft::item() const
{
    library::CollectionItem item;
    item.kind = QStringLiteral("parts");
    item.reference = m_company.name.empty() ? tr("Parts") : QString::fromStdString(m_company.name);
    item.chain = QString::fromStdString(chain::toText(m_company));
    return item;
}

void PartsDraft::openFile(const std::filesystem::path& file)
{
    if (const auto company = read(file); m_notices.succeeded(company))
        open(*company);
}

void PartsDraft::addSource(const QString& file)
{
    if (m_company.parts.size() >= chain::most_parts)
        return m_notices.say(tr("There are %1 parts, which is the most.").arg(chain::most_parts));
    if (!QFileInfo::exists(file))
        return m_notices.say(tr("Only a sound in a file can be a part: choose one below."));
    chain::Company after = m_company;
    chain::Part part;
    part.id = chain::newId(after, "p");
    part.name = m_sources.of(file).name.toStdString();
    part.file = file.toStdString();
    const bool first = after.parts.empty();
    if (first)
        part.chain = m_chain.chain();
    const std::string id = part.id;
    after.parts.push_back(std::move(part));
    m_undo.beginMacro(tr("add a part"));
    edit(tr("add a part"), after);
    if (first)
        workOn(id);
    m_undo.endMacro();
}

void PartsDraft::addReturn(const chain::Node& effect)
{
    if (m_company.returns.size() >= chain::most_returns)
        return m_notices.say(tr("There are %1 returns, which is the most.").arg(chain::most_returns));
    chain::Company after = m_company;
    chain::Return back;
    back.id = chain::newId(after, "r");
    back.name = effect.name;
    auto chain = chain::insertBefore({}, processors::chain_output, effect);
    if (!m_notices.succeeded(chain))
        return;
    back.chain = std::move(*chain);
    back.chain.name = effect.name;
    after.returns.push_back(std::move(back));
    edit(tr("add a return"), after);
}

void PartsDraft::remove(const std::string& id)
{
    chain::Company after = m_company;
    std::erase_if(after.parts, [&](const chain::Part& part) { return part.id == id; });
    std::erase_if(after.returns, [&](const chain::Return& back) { return back.id == id; });
    for (chain::Part& part : after.parts)
        std::erase_if(part.sends, [&](const chain::Part::SendTo& send) { return send.to == id; });
    if (id == the_sum)
        return m_notices.say(tr("The sum stays as long as there are parts."));
    m_undo.beginMacro(tr("remove %1").arg(nameOf(id)));
    if (id == m_worked) { // its chain stays on Build, of nothing
        const auto worked = [this](const std::string& one) {
            m_worked = one;
            changedAndKept();
        };
        m_undo.push(new Undoable(
            tr("remove %1").arg(nameOf(id)), [worked] { worked({}); }, [worked, id] { worked(id); }));
    }
    edit(tr("remove %1").arg(nameOf(id)), after);
    m_undo.endMacro();
}

void PartsDraft::changeStanding(const std::string& id, const std::function<void(chain::Standing&)>& how,
                                const QString& moves)
{
    chain::Company after = m_company;
    chain::Standing* standing = standingOf(after, id);
    if (!standing)
        return;
    how(*standing);
    edit(nameOf(id), after, moves.isEmpty() ? moves : QString::fromStdString(id) + QLatin1Char(' ') + moves);
}

void PartsDraft::setRepeats(const std::string& part, bool on)
{
    chain::Company after = m_company;
    const auto found = std::ranges::find(after.parts, part, &chain::Part::id);
    if (found == after.parts.end() || found->repeats == on)
        return;
    found->repeats = on;
    edit(nameOf(part), after);
}

void PartsDraft::setSend(const std::string& part, const std::string& to, std::optional<double> level_db)
{
    chain::Company after = m_company;
    const auto found = std::ranges::find(after.parts, part, &chain::Part::id);
    if (found == after.parts.end())
        return;
    std::erase_if(found->sends, [&](const chain::Part::SendTo& send) { return send.to == to; });
    if (level_db)
        found->sends.push_back({to, *level_db});
    edit(nameOf(part), after);
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/desk.h"

#include "frame/undoable.h"
#include "library/find/rule.h"
#include "processors/settings.h"

namespace hr::app {

namespace {

class KeepCommand : public QUndoCommand {
public:
    KeepCommand(Desk& desk, qint64 collection, library::CollectionItem item, const QString& title)
        : QUndoCommand(QObject::tr("keep %1").arg(title)), m_desk(desk), m_collection(collection),
          m_item(std::move(item))
    {
    }
    void redo() override
    {
        auto added = m_desk.store->collections.add(m_collection, m_item);
        if (added)
            m_item.number = *added;
        else
            emit m_desk.notice(QString::fromStdString(added.error().text));
        emit m_desk.collectionsChanged();
    }
    void undo() override
    {
        if (auto removed = m_desk.store->collections.removeItem(m_item.number); !removed)
            emit m_desk.notice(QString::fromStdString(removed.error().text));
        emit m_desk.collectionsChanged();
    }

private:
    Desk& m_desk;
    qint64 m_collection;
    library::CollectionItem m_item;
};

class WriteCommand : public QUndoCommand {
public:
    using All = std::vector<std::pair<QString, library::Written>>;

    WriteCommand(Desk& desk, All before, All after, const QString& what)
        : QUndoCommand(what), m_desk(desk), m_before(std::move(before)), m_after(std::move(after))
    {
    }
    void redo() override { write(m_after); }
    void undo() override { write(m_before); }

private:
    void write(const All& all)
    {
        constexpr std::size_t many = 50; // from there on reading everything anew is faster
        if (auto written = m_desk.store->catalogue.write(all); !written)
            return emit m_desk.notice(QString::fromStdString(written.error().text));
        if (all.size() > many)
            return m_desk.processors.reload();
        for (const auto& [id, words] : all)
            m_desk.processors.refresh(id);
    }

    Desk& m_desk;
    All m_before, m_after;
};

constexpr auto recent_setting = "recently_used";
constexpr auto queue_setting = "background_queue";
constexpr qsizetype most_recent = 40;

} // namespace

Desk::Desk(std::unique_ptr<library::Store> opened, const audition::DeviceChoice& device)
    : store(std::move(opened)), audio(device), jobs(std::make_unique<Jobs>()), line_up(audio, *store, *jobs),
      bench(*store, *jobs), scan(store->database().directory(), *jobs), processors(*store), hunt(*store, *jobs),
      kin(*store, *jobs), draft(*store)
{
    connect(&audio, &AudioSession::notice, this, &Desk::notice);
    connect(&line_up, &LineUp::notice, this, &Desk::notice);
    connect(&bench, &BenchQueue::notice, this, &Desk::notice);
    connect(&processors, &ProcessorModel::notice, this, &Desk::notice);
    connect(&scan, &ScanJob::failed, this, &Desk::notice);
    connect(&hunt, &HuntJob::notice, this, &Desk::notice);
    connect(&draft, &ChainDraft::notice, this, &Desk::notice);
    connect(&scan, &ScanJob::finished, this, [this](const QString& summary) {
        processors.reload();
        emit notice(summary);
    });
    connect(&bench, &BenchQueue::measured, this, [this](const QString& id) {
        processors.refresh(id);
        takeFromQueue(id);
    });
    connect(&bench, &BenchQueue::cancelled, this, &Desk::takeFromQueue);
    connect(this, &Desk::collectionsChanged, &processors, &ProcessorModel::refreshCollections);
    processors.setRecent(
        store->setting(QLatin1String(recent_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts));
    measureInBackground(
        store->setting(QLatin1String(queue_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts));
}

Desk::~Desk()
{
    jobs.reset();
}

void Desk::listenTo(const QString& id, const std::vector<processors::Setting>& settings)
{
    if (const int lane = line_up.add(id, settings)) {
        remember(id);
        line_up.hear(lane);
        emit goTo(PageName::Listen);
    }
}

void Desk::listenTo(const library::CollectionItem& item)
{
    if (!item.isChain())
        return listenTo(item.reference, item.settings);
    const auto chain = chain::fromJson(nlohmann::ordered_json::parse(item.chain.toStdString(), nullptr, false));
    if (!chain)
        return emit notice(QString::fromStdString(chain.error().text));
    line_up.addChain(*chain);
    emit goTo(PageName::Listen);
}

void Desk::setDraft(const chain::Chain& chain)
{
    undo.push(new Undoable(
        tr("the chain"), [this, chain] { draft.set(chain); },
        [this, before = draft.chain()] { draft.set(before); }));
}

void Desk::measure(const QString& id)
{
    for (int lane = 1; lane < line_up.count(); ++lane)
        if (const Contender& contender = line_up.at(lane); contender.id == id) {
            bench.measure({contender.location, contender.info, contender.values, {}});
            emit goTo(PageName::Measure);
            return;
        }
    auto info = store->catalogue.info(id);
    auto location = store->catalogue.location(id);
    if (!info || !location) {
        emit notice(QString::fromStdString(info ? location.error().text : info.error().text));
        return;
    }
    // What is measured is on the bench with its letter and colour, so it joins the line-up.
    if (line_up.add(id) > 0) {
        bench.measure({*location, *info, processors::defaultValues(*info), {}});
        emit goTo(PageName::Measure);
    }
}

bool Desk::said(const Result<void>& result)
{
    if (!result)
        emit notice(QString::fromStdString(result.error().text));
    return result.has_value();
}

void Desk::build(const QStringList& ids)
{
    draft.append(ids);
    for (const QString& id : ids)
        remember(id);
    emit goTo(PageName::Build);
}

std::optional<std::vector<processors::Setting>> Desk::heardSettings(const QString& id) const
{
    for (int lane = 1; lane < line_up.count(); ++lane)
        if (line_up.at(lane).id == id)
            return line_up.at(lane).settings();
    return std::nullopt;
}

void Desk::keepSearch(const library::Asked& asked, const QString& name)
{
    auto made = store->collections.create(name, library::ruleText(asked));
    if (!made)
        return emit notice(QString::fromStdString(made.error().text));
    emit collectionsChanged();
    emit notice(tr("“%1” keeps itself up to date; it is on Keep.").arg(name));
}

qint64 Desk::putSet(const library::WorkingSet& set)
{
    auto put = store->working_sets.put(set);
    if (!put)
        emit notice(QString::fromStdString(put.error().text));
    processors.refreshRules();
    return put.value_or(0);
}

void Desk::removeSet(const library::WorkingSet& set)
{
    const auto kept = std::make_shared<library::WorkingSet>(set);
    const bool in_use = processors.rules().in_use == set.number;
    const auto remove = [this, kept] {
        (void)said(store->working_sets.remove(kept->number));
        processors.refreshRules();
    };
    const auto back = [this, kept, in_use] {
        kept->number = 0; // it gets a new one
        kept->number = putSet(*kept);
        if (in_use)
            useSet(kept->number);
    };
    undo.push(new Undoable(tr("remove the working set “%1”").arg(set.name), remove, back));
}

void Desk::useSet(qint64 number)
{
    (void)said(store->working_sets.use(number));
    processors.refreshRules();
}

void Desk::decideBuilds(const QString& what, const std::function<Result<void>()>& decide)
{
    auto before = store->builds.decided();
    if (!before)
        return emit notice(QString::fromStdString(before.error().text));
    const auto take = [this](const Result<void>& decided) {
        if (said(decided))
            processors.reload();
    };
    undo.push(new Undoable(
        what, [take, decide] { take(decide()); },
        [this, take, before = *before] { take(store->builds.decide(before)); }));
}

void Desk::joinBuilds(const QStringList& ids)
{
    decideBuilds(tr("join builds"), [this, ids] { return store->builds.join(ids); });
}

void Desk::splitBuilds(const QStringList& ids)
{
    decideBuilds(tr("split builds"), [this, ids] { return store->builds.keepApart(ids); });
}

void Desk::remember(const QString& id)
{
    QStringList recent =
        store->setting(QLatin1String(recent_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    recent.removeAll(id);
    recent.prepend(id);
    recent = recent.mid(0, most_recent);
    if (auto put = store->setSetting(QLatin1String(recent_setting), recent.join(QLatin1Char('\n'))); !put)
        emit notice(QString::fromStdString(put.error().text));
    processors.setRecent(recent);
}

void Desk::write(const QStringList& ids, const QString& what,
                 const std::function<void(library::Written&)>& change)
{
    WriteCommand::All before;
    WriteCommand::All after;
    for (const QString& id : ids) {
        auto entry = store->catalogue.entry(id);
        if (!entry)
            continue;
        before.emplace_back(id, *entry);
        library::Written changed = *entry;
        change(changed);
        after.emplace_back(id, changed);
    }
    if (before != after)
        undo.push(new WriteCommand(*this, std::move(before), std::move(after), what));
}

void Desk::takeFromQueue(const QString& id)
{
    QStringList left =
        store->setting(QLatin1String(queue_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    if (left.removeAll(id) > 0)
        if (auto put = store->setSetting(QLatin1String(queue_setting), left.join(QLatin1Char('\n'))); !put)
            emit notice(QString::fromStdString(put.error().text));
}

void Desk::measureInBackground(const QStringList& ids)
{
    QStringList queue =
        store->setting(QLatin1String(queue_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    for (const QString& id : ids) {
        auto entry = store->catalogue.entry(id);
        auto info = store->catalogue.info(id);
        auto location = store->catalogue.location(id);
        if (!entry || !info || !location || entry->state == library::State::Quarantined ||
            !processors.isOffered(id))
            continue;
        if (!queue.contains(id))
            queue << id;
        bench.measure({*location, *info, processors::defaultValues(*info), {}});
    }
    if (auto put = store->setSetting(QLatin1String(queue_setting), queue.join(QLatin1Char('\n'))); !put)
        emit notice(QString::fromStdString(put.error().text));
}

void Desk::keep(const library::CollectionItem& item, qint64 collection)
{
    if (collection == 0) {
        auto all = store->collections.all();
        if (all)
            std::erase_if(*all, [](const library::Collection& c) { return c.byRule(); });
        auto chosen = all && !all->empty() ? Result<qint64>(all->front().number)
                                           : store->collections.create(tr("Favourites"));
        if (!chosen) {
            emit notice(QString::fromStdString(chosen.error().text));
            return;
        }
        collection = *chosen;
    }
    auto entry = store->catalogue.entry(item.reference);
    undo.push(new KeepCommand(*this, collection, item, entry ? entry->title() : item.reference));
}

} // namespace hr::app

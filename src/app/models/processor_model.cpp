// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/processor_model.h"

#include "library/find/marks.h"

#include <QMimeData>
#include <algorithm>

namespace hr::app {

namespace {

QStringList typedWords(const QString& text)
{
    return text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
}

QString figureText(const library::Order& order, const library::Figures& figures)
{
    const int at = library::listFigure(order.figure);
    const auto value = figures.at(at);
    if (!value)
        return {};
    const bench::FigureInfo& info = *library::listFigures()[static_cast<std::size_t>(at)].info;
    QString number = QString::number(*value, 'f', info.digits);
    return number.replace(QLatin1Char('-'), QChar(0x2212)) + QLatin1Char(' ') +
           QString::fromStdString(info.unit);
}

} // namespace

ProcessorModel::ProcessorModel(library::Store& store, QObject* parent)
    : QAbstractTableModel(parent), m_store(store)
{
    connect(&m_store.changes(), &library::Changes::measured, this,
            [this](const QString& processor) { refreshAll({processor}); });
    connect(&m_store.changes(), &library::Changes::written, this, &ProcessorModel::refreshAll);
    connect(&m_store.changes(), &library::Changes::collectionsChanged, this,
            &ProcessorModel::refreshCollections);
    reload();
}

/// Those of them that are listed.
void ProcessorModel::refreshAll(const QStringList& ids)
{
    constexpr qsizetype many = 50; // from there on reading everything again is faster than one after the other
    if (ids.size() > many)
        return reload();
    for (const QString& id : ids)
        if (m_finder.indexOf(id) >= 0)
            refresh(id);
}

void ProcessorModel::reload()
{
    auto entries = m_store.catalogue.entries();
    auto facts = library::readEntryFacts(m_store);
    auto pictures = m_store.runs.pictures();
    auto rules = library::readRules(m_store);
    if (const Error* error = firstError(entries, facts, pictures, rules))
        return emit notice(QString::fromStdString(error->text));
    beginResetModel();
    facts->recent = std::move(m_facts.recent);
    m_facts = std::move(*facts);
    m_pictures = std::move(*pictures);
    m_rules = std::move(*rules);
    m_proposed.reset();
    m_finder.fill(std::move(*entries), m_facts);
    library::applyRules(m_finder, m_facts, m_rules);
    m_found = m_finder.find(m_asked);
    endResetModel();
    emit rulesChanged();
}

library::BuildGroup ProcessorModel::proposedBuildsOf(const QString& id)
{
    if (!m_proposed) {
        auto decided = m_store.builds.decided();
        if (!decided) {
            emit notice(QString::fromStdString(decided.error().text));
            return {};
        }
        m_proposed = library::proposedBuilds(m_finder.entries(), *decided);
    }
    const auto found = std::ranges::find_if(*m_proposed, [&](const auto& group) { return group.contains(id); });
    return found == m_proposed->end() ? library::BuildGroup() : *found;
}

void ProcessorModel::refresh(const QString& id)
{
    if (m_finder.indexOf(id) < 0)
        return reload();
    auto entry = m_store.catalogue.entry(id);
    auto pictures = m_store.runs.picturesOf(id);
    auto figures = m_store.runs.figuresOf(id);
    if (const Error* error = firstError(entry, pictures, figures))
        return emit notice(QString::fromStdString(error->text));
    m_facts.figures.insert(id, *figures);
    if (*pictures != library::Pictures()) {
        m_facts.measured.insert(id);
        m_pictures.insert(id, *pictures);
    }
    m_finder.replace(*entry, m_facts);
    findAgain(QStringList{id} + library::applyRules(m_finder, m_facts, m_rules));
}

/// These have changed: the list only starts over where others are found, or in another order.
void ProcessorModel::findAgain(const QStringList& changed)
{
    auto found = m_finder.find(m_asked);
    if (found.rows != m_found.rows) {
        beginResetModel();
        m_found = std::move(found);
        return endResetModel();
    }
    m_found = std::move(found);
    for (const QString& id : changed)
        if (const QModelIndex at = indexOf(id); at.isValid())
            emit dataChanged(at, at.siblingAtColumn(columns - 1));
}

void ProcessorModel::refreshCollections()
{
    auto members = m_store.collections.members();
    if (!members)
        return emit notice(QString::fromStdString(members.error().text));
    const auto before = std::exchange(m_facts.collections, *members);
    QStringList changed;
    for (const library::Entry& entry : m_finder.entries())
        if (before.value(entry.id) != members->value(entry.id)) {
            m_finder.refacet(entry.id, m_facts);
            changed << entry.id;
        }
    refreshRules();
    findAgain(changed);
}

void ProcessorModel::refreshRules()
{
    auto rules = library::readRules(m_store);
    if (!rules)
        return emit notice(QString::fromStdString(rules.error().text));
    m_rules = std::move(*rules);
    findAgain(library::applyRules(m_finder, m_facts, m_rules));
    emit rulesChanged();
}

void ProcessorModel::setRecent(const QStringList& ids)
{
    const QStringList before = std::exchange(m_facts.recent, ids);
    for (const QString& id : before + ids)
        if (before.contains(id) != ids.contains(id) && m_finder.indexOf(id) >= 0)
            refresh(id);
}

void ProcessorModel::ask(const library::Query& asked)
{
    beginResetModel();
    m_asked = asked;
    m_found = m_finder.find(m_asked);
    endResetModel();
}

void ProcessorModel::search(const QString& text)
{
    library::Query asked = m_asked;
    asked.text = text;
    ask(asked);
}

const library::Entry* ProcessorModel::entry(const QModelIndex& index) const
{
    if (!index.isValid())
        return nullptr;
    const int at = m_found.rows[static_cast<std::size_t>(index.row())];
    return &m_finder.entries()[static_cast<std::size_t>(at)];
}

const library::Pictures* ProcessorModel::pictures(const QModelIndex& index) const
{
    const library::Entry* e = entry(index);
    const auto found = e ? m_pictures.constFind(e->id) : m_pictures.cend();
    return found == m_pictures.cend() ? nullptr : &*found;
}

QModelIndex ProcessorModel::indexOf(const QString& id) const
{
    const auto row = std::ranges::find(m_found.rows, m_finder.indexOf(id));
    return row == m_found.rows.end() ? QModelIndex() : index(static_cast<int>(row - m_found.rows.begin()), 0);
}

int ProcessorModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_found.rows.size());
}

int ProcessorModel::columnCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(columns);
}

QStringList ProcessorModel::searchedWords() const
{
    return typedWords(m_asked.text) + m_found.understood_as;
}

QString ProcessorModel::about(const library::Entry& entry) const
{
    QStringList parts{entry.maker, entry.kind,
                      tr("%1 → %2").arg(entry.audio_in).arg(entry.audio_out) +
                          (entry.key_in > 0 ? tr(" + key") : QString())};
    if (!entry.alias.isEmpty())
        parts.prepend(entry.name); // the maker's name stays in sight
    parts << foundIn(entry, entry.title() + QLatin1Char(' ') + parts.join(QLatin1Char(' ')));
    parts.removeAll(QString());
    return parts.join(QStringLiteral(" · "));
}

/// Where a searched word stands that is not in sight: in a tag, the note or the description.
QString ProcessorModel::foundIn(const library::Entry& entry, const QString& shown) const
{
    for (const QString& typed : typedWords(m_asked.text)) {
        const QStringList words = QStringList{typed} + m_found.understood_as;
        if (!library::marksIn(shown, words).empty())
            continue;
        for (const QString& tag : entry.tags)
            if (!library::marksIn(tag, words).empty())
                return tr("tagged %1").arg(tag);
        if (const auto marks = library::marksIn(entry.note, words); !marks.empty())
            return tr("note: %1").arg(library::around(entry.note, marks.front()));
        const QString help = m_facts.help.value(entry.id);
        if (const auto marks = library::marksIn(help, words); !marks.empty())
            return tr("description: %1").arg(library::around(help, marks.front()));
    }
    return {};
}

QVariant ProcessorModel::data(const QModelIndex& index, int role) const
{
    const library::Entry* e = entry(index);
    if (!e)
        return {};
    const bool quarantined = e->state == library::State::Quarantined;
    const bool hidden = e->state == library::State::Hidden || !isOffered(e->id);
    switch (role) {
    case EntryId:
        return e->id;
    case About:
        return about(*e);
    case Favourite:
        return e->favourite;
    case Rating:
        return e->rating;
    case Quarantined:
        return quarantined;
    case Qt::AccessibleTextRole:
        if (index.column() == Name)
            return tr("%1, %2").arg(e->title(), about(*e));
        [[fallthrough]];
    case Qt::DisplayRole:
        switch (index.column()) {
        case Name:
            return e->title();
        case Measured:
            return m_facts.measured.contains(e->id) ? tr("measured") : tr("not measured");
        case State:
            if (quarantined || hidden)
                return quarantined ? tr("quarantine") : tr("hidden");
            return m_asked.order.by == library::Order::Figure ? figureText(m_asked.order, figures(e->id))
                                                              : QString(e->rating, QChar(u'★'));
        default:
            return {};
        }
    default:
        return {};
    }
}

Qt::ItemFlags ProcessorModel::flags(const QModelIndex& index) const
{
    return QAbstractTableModel::flags(index) | (index.isValid() ? Qt::ItemIsDragEnabled : Qt::NoItemFlags);
}

QStringList ProcessorModel::mimeTypes() const
{
    return {QLatin1String(ids_format)};
}

QMimeData* ProcessorModel::mimeData(const QModelIndexList& indexes) const
{
    QStringList ids;
    for (const QModelIndex& index : indexes)
        if (const library::Entry* e = entry(index); e && !ids.contains(e->id))
            ids << e->id;
    auto* data = new QMimeData;
    data->setData(QLatin1String(ids_format), ids.join(QLatin1Char('\n')).toUtf8());
    return data;
}

QVariant ProcessorModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    const QString names[] = {tr("name"), tr("measured"),
                             m_asked.order.by == library::Order::Figure ? word(m_asked.order) : tr("rating")};
    return section < columns ? names[section] : QVariant();
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/map_sheet.h"

#include "pages/find/map_view.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QSet>
#include <QVBoxLayout>

namespace hr::app {

MapSheet::MapSheet(const FindServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 12, 8);
    column->setSpacing(6);
    auto* top = new QHBoxLayout;
    top->addWidget(label(tr("What behaves alike lies together"), "strong"));
    m_words = new ElidedLabel;
    setRole(m_words, "faint");
    top->addWidget(m_words, 1);
    auto* back = new Button(tr("Back to the list"));
    connect(back, &QPushButton::clicked, this, &MapSheet::done);
    top->addWidget(back);
    column->addLayout(top);
    m_words->setToolTip(
        tr("Rank correlation of distances here with those of what was measured: 1 where the nearer "
           "always is the more alike."));
    m_view = new MapView;
    m_view->setToolTip(tr("A click takes the nearest; draw a line around several to take them."));
    column->addWidget(m_view, 1);
    connect(m_view, &MapView::chosen, this, &MapSheet::chosen);
    connect(&m_services.prints, &MeasuredPrints::changed, this, [this] {
        if (isVisible())
            reload();
    });
}

void MapSheet::reload()
{
    const auto all = m_services.prints.latest();
    if (!all)
        return m_words->setWhole(tr("being drawn …")); // it goes on once they have been read
    // What no list shows would take up room: the bench's own, other builds, what is hidden.
    library::Runs::Prints shown;
    const QSet<QString> listable = listableIds();
    for (qsizetype i = 0; i < all->ids.size(); ++i)
        if (listable.contains(all->ids[i])) {
            shown.ids << all->ids[i];
            shown.prints.push_back(all->prints[static_cast<std::size_t>(i)]);
        }
    if (shown.ids == m_ids && !m_ids.isEmpty())
        put();
    else
        m_words->setWhole(tr("being drawn …"));
    const auto map = std::make_shared<bench::LikenessMap>();
    JobOrder job;
    job.title = tr("Draw the map");
    job.line = QStringLiteral("map");
    job.urgent = true;
    job.supersedes = true;
    job.owner = this;
    job.work = [map, prints = std::move(shown.prints)](const JobControl& control) {
        *map = bench::mapOf(prints, control.cancel());
    };
    job.finished = [this, map, ids = shown.ids](JobEnd end) {
        if (end != JobEnd::Done)
            return;
        m_ids = ids;
        m_map = std::move(*map);
        put();
    };
    m_services.jobs.add(std::move(job));
}

void MapSheet::follow()
{
    if (isVisible())
        put();
}

/// What is found, and what would be if nothing were asked for.
QSet<QString> MapSheet::listableIds() const
{
    const library::Finder& finder = m_services.processors.finder();
    QSet<QString> ids = foundIds();
    for (const int at : finder.find({}).rows)
        ids.insert(finder.entries()[static_cast<std::size_t>(at)].id);
    return ids;
}

QSet<QString> MapSheet::foundIds() const
{
    const ProcessorModel& model = m_services.processors;
    QSet<QString> ids;
    for (int row = 0; row < model.rowCount(); ++row)
        if (const library::Entry* entry = model.entry(model.index(row, 0)))
            ids.insert(entry->id);
    return ids;
}

void MapSheet::put()
{
    const library::Finder& finder = m_services.processors.finder();
    const QSet<QString> found = foundIds();
    std::vector<MapView::Point> points;
    for (qsizetype i = 0; i < m_ids.size(); ++i) {
        const int at = finder.indexOf(m_ids[i]);
        if (at < 0)
            continue; // it has left the catalogue meanwhile
        const library::Entry& entry = finder.entries()[static_cast<std::size_t>(at)];
        points.push_back({entry.id, entry.title(), entry.kind, m_map.places[static_cast<std::size_t>(i)],
                          found.contains(entry.id)});
    }
    m_words->setWhole(
        points.empty()
            ? tr("Nothing is measured yet: Measure these, on the left, begins.")
            : tr("%1 measured · distances true to %2").arg(points.size()).arg(number(m_map.faithfulness, 2)));
    m_view->setPoints(std::move(points));
}

void MapSheet::setSelected(const QStringList& ids)
{
    m_view->setSelected(ids);
}

} // namespace hr::app

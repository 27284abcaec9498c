// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/similar_list.h"

#include "theme/theme.h"
#include "widgets/basics.h"

#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

constexpr std::size_t how_many_alike = 20;
constexpr int compared_at_once = 8;

} // namespace

SimilarList::SimilarList(const FindServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 10, 0);
    column->setSpacing(6);
    auto* builds = new QWidget;
    m_builds = new QVBoxLayout(builds);
    m_builds->setContentsMargins(0, 0, 0, 0);
    m_builds->setSpacing(4);
    column->addWidget(builds);
    column->addWidget(label(tr("Behaves alike"), "strong"));
    m_alike_state = paragraph({}, "faint");
    column->addWidget(m_alike_state);
    m_alike = new QListWidget;
    m_alike->setAccessibleName(tr("behaves alike"));
    connect(m_alike, &QListWidget::itemActivated, this,
            [this](const QListWidgetItem* item) { emit chosen(item->data(Qt::UserRole).toString()); });
    column->addWidget(m_alike, 1);
    m_compare = new Button(tr("Are they the same?"));
    m_compare->setToolTip(
        tr("what is left when one is taken from the other, lined up and matched in loudness"));
    connect(m_compare, &QPushButton::clicked, this, &SimilarList::compare);
    column->addWidget(m_compare);
    connect(&m_services.similar, &SimilarJob::compared, this, &SimilarList::tell);
    connect(&m_services.prints, &MeasuredPrints::changed, this, [this] {
        if (isVisible())
            fillAlike();
    });
}

void SimilarList::show(const QString& id)
{
    m_id = id;
    fillBuilds();
    fillAlike();
}

void SimilarList::addText(const QString& text, const char* role)
{
    m_builds->addWidget(paragraph(text, role));
}

void SimilarList::addButton(const QString& text, const std::function<void()>& work)
{
    auto* button = new Button(text);
    connect(button, &QPushButton::clicked, this,
            [this, work] { QMetaObject::invokeMethod(this, work, Qt::QueuedConnection); });
    m_builds->addWidget(button, 0, Qt::AlignLeft);
}

void SimilarList::fillBuilds()
{
    while (QLayoutItem* item = m_builds->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const auto named = [this](const QString& id) {
        auto entry = m_services.store.catalogue.entry(id);
        return entry ? tr("%1 (%2, %3 → %4)")
                           .arg(entry->name, entry->format)
                           .arg(entry->audio_in)
                           .arg(entry->audio_out)
                     : id;
    };
    const QStringList joined = m_services.processors.builds(m_id);
    addText(tr("Builds"), "strong");
    if (!joined.isEmpty()) {
        addText(tr("Joined here; the one that fits the source is taken by itself:"), "faint");
        for (const QString& id : joined)
            addText(named(id));
        addButton(tr("Split them"), [this, joined] { m_services.notebook.splitBuilds(joined); });
    }
    const library::BuildGroup proposed = m_services.processors.proposedBuildsOf(m_id);
    if (!proposed.isEmpty()) {
        addText(tr("These look like builds of one processor:"), "faint");
        for (const QString& id : proposed)
            addText(named(id));
        addButton(tr("They are one"), [this, proposed] { m_services.notebook.joinBuilds(proposed); });
        addButton(tr("Keep them apart"), [this, proposed] { m_services.notebook.splitBuilds(proposed); });
    }
    if (joined.isEmpty() && proposed.isEmpty())
        addText(tr("No other build of it is known."), "faint");
}

void SimilarList::fillAlike()
{
    m_alike->clear();
    const auto prints = m_services.prints.latest();
    const auto at = prints ? prints->ids.indexOf(m_id) : -1;
    m_compare->setEnabled(at >= 0);
    if (!prints)
        return m_alike_state->setText(tr("reading what is measured …")); // it goes on once that is done
    if (at < 0)
        return m_alike_state->setText(tr("Not measured yet: measure it, and what is like it shows here."));
    for (const auto& [index, distance] :
         bench::nearest(prints->prints, prints->prints[static_cast<std::size_t>(at)], how_many_alike + 1)) {
        const QString id = prints->ids[static_cast<qsizetype>(index)];
        auto entry = m_services.store.catalogue.entry(id);
        if (id == m_id || !entry)
            continue;
        auto* item = new QListWidgetItem(
            tr("%1   %2").arg(number(static_cast<double>(distance), 1), entry->title()), m_alike);
        item->setData(Qt::UserRole, id);
        item->setSizeHint(QSize(0, 26));
        item->setToolTip(tr("distance %1: 1 is just noticeable").arg(number(static_cast<double>(distance), 2)));
    }
    m_compare->setEnabled(m_alike->count() > 0);
    m_alike_state->setText(m_alike->count() == 0
                               ? tr("Nothing else is measured yet.")
                               : tr("Distance by what a listener notices; 1 is just noticeable."));
}

void SimilarList::tell(const QString& of, const QString& id, const SimilarJob::Outcome& outcome)
{
    const QString words = !outcome.fault.isEmpty() ? outcome.fault
                          : outcome.same           ? tr("the same")
                          : outcome.residual_db    ? tr("leaves %1 dB").arg(number(*outcome.residual_db, 1))
                                                   : tr("not the same");
    for (int i = 0; of == m_id && i < m_alike->count(); ++i)
        if (QListWidgetItem* item = m_alike->item(i); item->data(Qt::UserRole).toString() == id)
            item->setText(item->text().section(QStringLiteral("  · "), 0, 0) + QStringLiteral("  · ") + words);
}

void SimilarList::compare()
{
    QStringList ids;
    for (int i = 0; i < std::min(compared_at_once, m_alike->count()); ++i)
        ids << m_alike->item(i)->data(Qt::UserRole).toString();
    m_services.similar.compare(m_id, ids);
}

} // namespace hr::app

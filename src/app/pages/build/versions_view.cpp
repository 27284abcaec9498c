// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/versions_view.h"

#include "chain/changes.h"
#include "widgets/basics.h"

#include <QDateTime>
#include <QListWidget>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int most_changes_told = 8;

QString whenText(const QString& kept_at)
{
    return QDateTime::fromString(kept_at, Qt::ISODate)
        .toLocalTime()
        .toString(QStringLiteral("yyyy-MM-dd HH:mm:ss"));
}

} // namespace

VersionsView::VersionsView(const BuildServices& services, QWidget* parent)
    : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("versions of the chain"));
    column->addWidget(m_list, 1);
    column->addWidget(m_told = paragraph({}, "faint"), 1);
    auto* row = new QHBoxLayout;
    addButton(*row, new Button(tr("Keep this version")), this, [this] { m_services.versions.keep(); });
    m_hear = addButton(*row, new Button(tr("Hear that one")), this, [this] {
        if (const chain::Chain* version = chosen())
            m_services.hearing.hearPart(*version, tr("as of %1").arg(m_list->currentItem()->text()));
    });
    m_take = addButton(*row, new Button(tr("Take that one")), this, [this] {
        if (const chain::Chain* version = chosen())
            m_services.draft.change(*version);
    });
    row->addStretch(1);
    column->addLayout(row);
    connect(m_list, &QListWidget::currentRowChanged, this, &VersionsView::showChanges);
    connect(&m_services.versions, &ChainVersions::changed, this, &VersionsView::reload);
    reload();
}

const chain::Chain* VersionsView::chosen() const
{
    const int row = m_list->currentRow();
    return row >= 0 && row < static_cast<int>(m_versions.size())
               ? &m_versions[static_cast<std::size_t>(row)].chain
               : nullptr;
}

void VersionsView::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    reload();
}

void VersionsView::reload()
{
    if (!isVisible())
        return;
    m_versions = m_services.versions.list();
    QStringList names;
    for (const auto& version : m_versions)
        names << whenText(version.kept_at);
    QStringList shown;
    for (int row = 0; row < m_list->count(); ++row)
        shown << m_list->item(row)->text();
    if (names != shown) {
        m_list->clear();
        m_list->addItems(names);
        if (!names.isEmpty())
            m_list->setCurrentRow(0);
    }
    showChanges();
}

void VersionsView::showChanges()
{
    const chain::Chain* version = chosen();
    m_hear->setEnabled(version != nullptr);
    m_take->setEnabled(version != nullptr);
    if (!version)
        return m_told->setText(tr("No version of this chain is kept yet."));
    QStringList lines;
    for (const std::string& line :
         chain::changesBetween(*version, m_services.draft.chain(), [this](const chain::Node& node) {
             return m_services.facts.nameOf(node).toStdString();
         }))
        lines << QString::fromStdString(line);
    if (lines.isEmpty())
        return m_told->setText(tr("Nothing has changed since."));
    const auto more = lines.size() - most_changes_told;
    if (more > 0)
        lines = lines.mid(0, most_changes_told) << tr("and %1 more").arg(more);
    m_told->setText(tr("Since then: %1.").arg(lines.join(tr("; "))));
}

} // namespace hr::app

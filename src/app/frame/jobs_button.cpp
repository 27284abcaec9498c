// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/jobs_button.h"

#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int list_width = 420;
constexpr std::size_t most_rows = 12;

QString percent(double part)
{
    return QObject::tr("%1 %").arg(qRound(100 * part));
}

} // namespace

JobsButton::JobsButton(Jobs& jobs, QWidget* parent)
    : Button({}, parent), m_jobs(jobs), m_list(new QFrame(this, Qt::Popup)), m_rows(new QVBoxLayout(m_list))
{
    m_list->setObjectName(QStringLiteral("jobs"));
    m_list->setFixedWidth(list_width);
    m_rows->setContentsMargins(12, 10, 12, 10);
    m_rows->setSpacing(6);
    setToolTip(tr("what is being done in the background"));
    connect(this, &QPushButton::clicked, this, &JobsButton::open);
    connect(&m_jobs, &Jobs::changed, this, &JobsButton::refresh);
    refresh();
}

void JobsButton::open()
{
    m_shown.clear();
    fill();
    m_list->adjustSize();
    m_list->move(mapToGlobal(QPoint(width() + 6, height() - m_list->height())));
    m_list->show();
}

void JobsButton::refresh()
{
    const auto jobs = m_jobs.list();
    setVisible(!jobs.empty());
    setText(jobs.size() == 1 ? tr("1 job") : tr("%1 jobs").arg(jobs.size()));
    if (!m_list->isVisible())
        return;
    if (jobs.empty())
        m_list->hide();
    else
        fill();
}

void JobsButton::fill()
{
    const auto jobs = m_jobs.list();
    std::vector<Jobs::Id> ids;
    for (std::size_t i = 0; i < std::min(jobs.size(), most_rows); ++i)
        ids.push_back(jobs[i].id);
    if (ids != m_shown) {
        while (QLayoutItem* item = m_rows->takeAt(0)) {
            if (item->widget())
                item->widget()->deleteLater();
            delete item;
        }
        for (std::size_t i = 0; i < ids.size(); ++i) {
            auto* row = new QWidget;
            auto* line = new QHBoxLayout(row);
            line->setContentsMargins(0, 0, 0, 0);
            auto* title = new ElidedLabel(jobs[i].title);
            line->addWidget(title, 1);
            auto* state = label({}, "figure");
            state->setObjectName(QStringLiteral("state"));
            line->addWidget(state);
            if (!jobs[i].running && i > 0) {
                auto* first = new Button(tr("First"));
                connect(first, &QPushButton::clicked, this, [this, id = ids[i]] { m_jobs.putFirst(id); });
                line->addWidget(first);
            }
            auto* cancel = new Button(tr("Cancel"));
            connect(cancel, &QPushButton::clicked, this, [this, id = ids[i]] { m_jobs.cancel(id); });
            line->addWidget(cancel);
            m_rows->addWidget(row);
        }
        if (jobs.size() > ids.size())
            m_rows->addWidget(label(tr("and %1 more").arg(jobs.size() - ids.size()), "faint"));
        m_shown = std::move(ids);
        m_list->adjustSize();
    }
    for (std::size_t i = 0; i < m_shown.size(); ++i)
        if (auto* state =
                m_rows->itemAt(static_cast<int>(i))->widget()->findChild<QLabel*>(QStringLiteral("state")))
            state->setText(jobs[i].running ? percent(jobs[i].progress) : tr("waits"));
}

} // namespace hr::app

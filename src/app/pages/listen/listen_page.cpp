// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/listen_page.h"

#include "pages/listen/contender_row.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QFileDialog>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hr::app {

ListenPage::ListenPage(Desk& desk, QWidget* parent) : QWidget(parent), m_desk(desk)
{
    setObjectName(QStringLiteral("page"));
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(20, 16, 12, 8);
    page->setSpacing(10);
    auto* top = new QHBoxLayout;
    top->setContentsMargins(0, 0, 8, 0);
    m_title = label({}, "title");
    m_subtitle = label({}, "faint");
    top->addWidget(m_title);
    top->addSpacing(10);
    top->addWidget(m_subtitle, 0, Qt::AlignBottom);
    top->addStretch();
    auto* chain = new Button(tr("Add a chain"));
    chain->setToolTip(tr("a chain kept in a file"));
    connect(chain, &QPushButton::clicked, this, [this] {
        const QString file = QFileDialog::getOpenFileName(this, tr("Add a chain"), {}, tr("Chains (*.json)"));
        if (!file.isEmpty())
            m_desk.line_up.addChainFile(file);
    });
    top->addWidget(chain);
    auto* add = new Button(tr("Add a candidate"));
    connect(add, &QPushButton::clicked, this, [this] { emit m_desk.goTo(PageName::Find); });
    top->addWidget(add);
    page->addLayout(top);

    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* body = new QWidget;
    body->setObjectName(QStringLiteral("page"));
    m_column = new QVBoxLayout(body);
    m_column->setContentsMargins(0, 0, 8, 0);
    m_column->setSpacing(9);
    scroll->setWidget(body);
    page->addWidget(scroll, 1);
    auto* empty =
        new EmptyState(tr("Nothing to compare yet"),
                       tr("Here you hear processors against the untreated source, all at one loudness, and "
                          "switch between them with the number keys without a gap."),
                       tr("Find a processor"));
    connect(empty, &EmptyState::stepTaken, this, [this] { emit m_desk.goTo(PageName::Find); });
    m_empty = empty;
    m_column->addWidget(m_empty);
    m_column->addStretch();

    connect(&m_desk.line_up, &LineUp::contendersChanged, this, &ListenPage::rebuild);
    connect(&m_desk.line_up, &LineUp::matchChanged, this, &ListenPage::refresh);
    connect(&m_desk.line_up, &LineUp::heardChanged, this, &ListenPage::refresh);
    connect(&m_desk.line_up, &LineUp::valueChanged, this, [this](int lane, int parameter) {
        m_rows[static_cast<std::size_t>(lane)]->valueChanged(parameter);
    });
    rebuild();
}

void ListenPage::rebuild()
{
    qDeleteAll(m_rows);
    m_rows.clear();
    for (int lane = 0; lane < m_desk.line_up.count(); ++lane) {
        m_rows.push_back(new ContenderRow(m_desk, lane));
        m_column->insertWidget(lane, m_rows.back());
    }
    m_empty->setVisible(m_desk.line_up.count() < 2);
    refresh();
}

void ListenPage::refresh()
{
    const int candidates = m_desk.line_up.count() - 1;
    m_title->setText(candidates == 0 ? tr("Listen") : tr("Which one?"));
    m_subtitle->setText(
        candidates == 0   ? tr("space plays · 0 the reference · 1 to 8 the candidates")
        : candidates == 1 ? tr("one candidate against the untreated source · 0 and 1 switch")
                          : tr("%1 candidates against the untreated source · 0 to %1 switch").arg(candidates));
    for (ContenderRow* row : m_rows)
        row->refresh();
}

} // namespace hr::app

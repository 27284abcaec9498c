// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/orders_view.h"

#include "chain/orders.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

OrdersView::OrdersView(const Services& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    m_told = paragraph({}, "faint");
    column->addWidget(m_told);
    m_table = new QTableWidget(0, 3);
    m_table->setAccessibleName(tr("orders of the stages"));
    m_table->setHorizontalHeaderLabels({tr("order"), tr("LUFS"), tr("left over, dB")});
    m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    m_table->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_table->verticalHeader()->hide();
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setTabKeyNavigation(false);
    column->addWidget(m_table, 1);
    auto* row = new QHBoxLayout;
    m_compare = new Button(tr("Compare orders"));
    m_hear = new Button(tr("Hear it"));
    m_hear->setToolTip(tr("beside the other candidates on Listen"));
    m_take = new Button(tr("Take it"));
    m_take->setToolTip(tr("in place of the order as built"));
    for (Button* one : {m_compare, m_hear, m_take})
        row->addWidget(one);
    row->addStretch(1);
    column->addLayout(row);
    connect(m_compare, &QPushButton::clicked, this, [this] {
        if (m_services.study.isComparing())
            m_services.study.cancelOrders();
        else
            m_services.study.compareOrders();
    });
    connect(m_hear, &QPushButton::clicked, this, [this] {
        if (auto chain = chosen()) {
            const auto& order = m_shown->orders[static_cast<std::size_t>(m_table->currentRow())];
            chain->name += " \u00b7 " + inWords(order.stages).toStdString();
            m_services.routes.listenTo(*chain);
        }
    });
    connect(m_take, &QPushButton::clicked, this, [this] {
        if (const auto chain = chosen())
            m_services.draft.change(*chain);
    });
    connect(m_table, &QTableWidget::itemSelectionChanged, this, [this] {
        const bool any = m_shown && m_table->currentRow() >= 0;
        m_hear->setEnabled(any);
        m_take->setEnabled(any && m_table->currentRow() > 0);
    });
    connect(&m_services.study, &ChainStudy::ordersChanged, this, &OrdersView::reload);
    reload();
}

/// "2 1 3": which stage, as they are numbered in the chain as built.
QString OrdersView::inWords(const std::vector<std::string>& order) const
{
    const chain::Chain& chain = m_services.draft.chain();
    QStringList numbers;
    for (const std::string& id : order)
        for (std::size_t n = 0; n < chain.nodes.size(); ++n)
            if (chain.nodes[n].id == id)
                numbers << QString::number(chain::stageCount(chain, n));
    return numbers.join(QLatin1Char(' '));
}

std::optional<chain::Chain> OrdersView::chosen() const
{
    const int row = m_table->currentRow();
    if (!m_shown || row < 0)
        return std::nullopt;
    auto other = chain::reordered(m_services.draft.chain(), m_shown->movable,
                                  m_shown->orders[static_cast<std::size_t>(row)].stages);
    return m_services.notices.succeeded(other) ? std::optional(*other) : std::nullopt;
}

void OrdersView::fill(const audition::Orders& orders)
{
    m_table->setRowCount(static_cast<int>(orders.orders.size()));
    for (std::size_t i = 0; i < orders.orders.size(); ++i) {
        const audition::HeardOrder& one = orders.orders[i];
        const QString left = one.as_built  ? tr("as built")
                             : one.same_as ? tr("as row %1").arg(*one.same_as + 1)
                                           : number(one.residual_db.value_or(0), 1);
        const std::array texts{inWords(one.stages),
                               one.loudness_lufs ? number(*one.loudness_lufs, 1) : QString(), left};
        for (int c = 0; c < 3; ++c) {
            auto* item = new QTableWidgetItem(texts[static_cast<std::size_t>(c)]);
            if (c > 0)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            m_table->setItem(static_cast<int>(i), c, item);
        }
    }
}

void OrdersView::reload()
{
    const ChainStudy& study = m_services.study;
    const auto marked = std::ranges::count_if(m_services.draft.chain().nodes, &chain::Node::may_move);
    m_compare->setText(study.isComparing() ? tr("Cancel") : tr("Compare orders"));
    if (study.isComparing())
        m_told->setText(tr("%1 % of the orders heard").arg(number(100 * study.comparingProgress(), 0)));
    else if (study.orders())
        m_told->setText(tr("%1 of %2 differ, matched in loudness")
                            .arg(study.orders()->distinct)
                            .arg(study.orders()->orders.size()));
    else if (!study.whyNoOrders().isEmpty())
        m_told->setText(study.whyNoOrders());
    else
        m_told->setText(marked < 2 ? tr("Mark the stages that may move, up to five; then compare.")
                                   : tr("%1 stages may move.").arg(marked));
    if (m_shown != study.orders() || !m_shown) {
        m_shown = study.orders();
        m_table->clearSelection();
        m_table->setRowCount(0);
        m_table->setCurrentCell(-1, -1);
        if (m_shown)
            fill(*m_shown);
    }
    m_hear->setEnabled(m_shown && m_table->currentRow() >= 0);
    m_take->setEnabled(m_shown && m_table->currentRow() > 0);
}

} // namespace hr::app

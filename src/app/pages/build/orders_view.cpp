// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/orders_view.h"

#include "chain/orders.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

OrdersView::OrdersView(const BuildServices& services, QWidget* parent) : QWidget(parent), m_services(services)
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
    m_hear->setToolTip(tr("as a candidate of its own, matched to the others"));
    m_take = new Button(tr("Take it"));
    m_take->setToolTip(tr("in place of the order as built"));
    for (Button* one : {m_compare, m_hear, m_take})
        row->addWidget(one);
    row->addStretch(1);
    column->addLayout(row);
    column->addWidget(m_answer = paragraph());
    m_question = new Button(tr("Equaliser before or behind the compressor?"));
    column->addWidget(m_question, 0, Qt::AlignLeft);
    connect(m_question, &QPushButton::clicked, this, [this] {
        if (const auto which = question())
            m_services.study.compareEqualiser(*which);
    });
    connect(m_compare, &QPushButton::clicked, this, [this] {
        if (m_services.study.orders().isPending())
            m_services.study.cancelAnswers();
        else
            m_services.study.compareOrders();
    });
    connect(m_hear, &QPushButton::clicked, this, [this] {
        if (auto chain = chosen()) {
            const auto& order = m_shown->orders[static_cast<std::size_t>(m_table->currentRow())];
            m_services.hearing.hearPart(*chain, tr("order %1").arg(numbersOf(order.stages)));
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
    connect(&m_services.study, &ChainStudy::answersChanged, this, &OrdersView::reload);
    reload();
}

/// "2 1 3": which stage, as they are numbered in the chain as built.
QString OrdersView::numbersOf(const std::vector<std::string>& order) const
{
    QStringList numbers;
    for (const std::string& id : order)
        numbers << QString::number(chain::stageNumber(m_services.draft.chain(), id));
    return numbers.join(QLatin1Char(' '));
}

QString OrdersView::nameOf(const std::string& stage) const
{
    const chain::Node* node = m_services.draft.node(stage);
    return node ? m_services.facts.nameOf(*node) : QString();
}

/// "2 1 3 · Leveller first".
QString OrdersView::wordsOf(const std::vector<std::string>& order) const
{
    QString numbers = numbersOf(order);
    const auto moved = m_shown ? chain::oneMoved(m_shown->movable, order) : std::nullopt;
    if (!moved)
        return numbers;
    const QString name = nameOf(moved->stage);
    switch (moved->to) {
    case chain::OneMoved::To::First:
        return tr("%1 \u00b7 %2 first").arg(numbers, name);
    case chain::OneMoved::To::Last:
        return tr("%1 \u00b7 %2 last").arg(numbers, name);
    case chain::OneMoved::To::Before:
        break;
    }
    return tr("%1 \u00b7 %2 before %3").arg(numbers, name, nameOf(moved->other));
}

std::optional<chain::EqualiserAndCompressor> OrdersView::question() const
{
    return chain::equaliserAndCompressor(m_services.draft.chain(), [this](const std::string& processor) {
        const StageFacts::Facts* facts = m_services.facts.of(processor);
        return facts ? facts->entry.kind.toStdString() : std::string();
    });
}

QString OrdersView::answer() const
{
    const auto& found = m_services.study.equaliser().found;
    const auto which = question();
    if (!found || !which)
        return {};
    constexpr double least_db = 0.05;
    const QString equaliser = nameOf(which->equaliser);
    const QString compressor = nameOf(which->compressor);
    const auto& [before, behind, without_lufs] = *found;
    if (!before.takenDb() || !behind.takenDb() || !before.end_lufs || !behind.end_lufs || !without_lufs)
        return tr("With this section one of them is silent: there is nothing to compare.");
    QStringList words;
    const double met_db = *before.met_lufs - *behind.met_lufs;
    words << (std::abs(met_db) < least_db
                  ? tr("%1 meets the same level either way, %2 LUFS.")
                        .arg(compressor, number(*before.met_lufs, 1))
                  : tr("With %1 before it, %2 meets %3 LUFS instead of %4: its threshold is met %5 dB %6.")
                        .arg(equaliser, compressor, number(*before.met_lufs, 1), number(*behind.met_lufs, 1),
                             number(std::abs(met_db), 1), met_db > 0 ? tr("earlier") : tr("later")));
    words << tr("It takes away %1 dB instead of %2.")
                 .arg(number(*before.takenDb(), 1), number(*behind.takenDb(), 1));
    const double added_behind_db = *behind.end_lufs - *without_lufs;
    const double added_before_db = *before.end_lufs - *without_lufs;
    if (std::abs(added_behind_db) >= 10 * least_db)
        words << tr("At the end %1 changes the loudness by %2 dB from behind, by %3 dB from before.")
                     .arg(equaliser, signedNumber(added_behind_db, 1), signedNumber(added_before_db, 1));
    return words.join(QLatin1Char(' '));
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
        const std::array texts{wordsOf(one.stages),
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
    const auto& orders = m_services.study.orders();
    const auto& question_asked = m_services.study.equaliser();
    const auto marked = std::ranges::count_if(m_services.draft.chain().nodes, &chain::Node::may_move);
    m_compare->setText(orders.isPending() ? tr("Cancel") : tr("Compare orders"));
    if (orders.isPending())
        m_told->setText(tr("%1 % of the orders heard").arg(number(100 * orders.progress, 0)));
    else if (orders.found)
        m_told->setText(tr("%1 of %2 differ, matched in loudness")
                            .arg(orders.found->distinct)
                            .arg(orders.found->orders.size()));
    else if (!orders.why_none.isEmpty())
        m_told->setText(orders.why_none);
    else
        m_told->setText(marked < 2 ? tr("Mark the stages that may move, up to five; then compare.")
                                   : tr("%1 stages may move.").arg(marked));
    const audition::Orders* found = orders.found ? &*orders.found : nullptr;
    if (m_shown != found || !m_shown) {
        m_shown = found;
        m_table->clearSelection();
        m_table->setRowCount(0);
        m_table->setCurrentCell(-1, -1);
        if (m_shown)
            fill(*m_shown);
    }
    m_hear->setEnabled(m_shown && m_table->currentRow() >= 0);
    m_take->setEnabled(m_shown && m_table->currentRow() > 0);
    const QString words = question_asked.isPending() ? tr("Being heard both ways …")
                          : question_asked.found     ? answer()
                                                     : question_asked.why_none;
    m_answer->setText(words);
    m_answer->setVisible(!words.isEmpty());
    m_question->setVisible(words.isEmpty() && question().has_value());
}

} // namespace hr::app

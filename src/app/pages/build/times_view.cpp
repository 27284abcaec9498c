// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/times_view.h"

#include "processors/note_value.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

namespace hr::app {

TimesView::TimesView(const BuildServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(m_told = paragraph({}, "faint"));
    m_table = new QTableWidget(0, 3);
    m_table->setAccessibleName(tr("note values at the tempo"));
    m_table->setHorizontalHeaderLabels({tr("note"), tr("ms"), tr("Hz")});
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_table->verticalHeader()->hide();
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setTabKeyNavigation(false);
    column->addWidget(m_table, 1);
    const auto choose = [this](int row, int) { emit chosen(m_table->item(row, 0)->text()); };
    connect(m_table, &QTableWidget::cellClicked, this, choose);
    connect(m_table, &QTableWidget::cellActivated, this, choose);
    m_decay = new Button({});
    m_predelay = new Button({});
    for (Button* one : {m_decay, m_predelay}) {
        column->addWidget(one, 0, Qt::AlignLeft);
        connect(one, &QPushButton::clicked, this, [this, one] {
            const auto fitted = m_proposed.find(one);
            const chain::Node* stage = m_services.draft.node(m_stage);
            const StageFacts::Facts* facts = stage ? m_services.facts.of(stage->processor) : nullptr;
            if (fitted == m_proposed.end() || !facts)
                return;
            m_services.draft.changeNode(m_stage, [&, key = facts->info.parameters[fitted->second.parameter].key,
                                                  value = fitted->second.value](chain::Node& node) {
                m_services.facts.set(node, key, value);
            });
        });
    }
    connect(&m_services.tempo, &SourceTempo::changed, this, &TimesView::reload);
    connect(&m_services.pictures, &StagePictures::changed, this, &TimesView::propose);
    connect(&m_services.draft, &ChainDraft::changed, this, &TimesView::propose);
    reload();
}

void TimesView::setStage(const QString& stage)
{
    m_stage = stage.toStdString();
    propose();
}

/// From what was measured of the stage as it stands.
void TimesView::propose()
{
    const chain::Node* stage = m_services.draft.node(m_stage);
    const StagePicture room = stage ? m_services.pictures.of(*stage) : StagePicture();
    m_proposed.clear();
    proposeFor(m_decay, processors::RoomTime::Decay, tr("Decay measured %1: make it %2, %3"),
               room.rt60_s ? std::optional(*room.rt60_s * 1000) : std::nullopt);
    proposeFor(m_predelay, processors::RoomTime::PreDelay, tr("Pre-delay measured %1: make it %2, %3"),
               room.predelay_ms);
}

void TimesView::proposeFor(Button* button, processors::RoomTime what, const QString& words,
                           std::optional<double> measured_ms)
{
    const chain::Node* stage = m_services.draft.node(m_stage);
    const StageFacts::Facts* facts = stage ? m_services.facts.of(stage->processor) : nullptr;
    const auto found = facts && measured_ms
                           ? processors::fitted(what, facts->info, m_services.facts.valuesOf(*stage),
                                                *measured_ms, m_services.tempo.bpm())
                           : std::nullopt;
    button->setVisible(found.has_value());
    if (!found)
        return;
    const auto time = [](double ms) {
        return ms < 1000 ? tr("%1 ms").arg(number(ms, 1)) : tr("%1 s").arg(number(ms / 1000, 2));
    };
    button->setText(words.arg(time(*measured_ms), QString::fromStdString(found->note), time(found->target_ms)));
    m_proposed[button] = *found;
}

void TimesView::reload()
{
    propose();
    const double bpm = m_services.tempo.bpm();
    m_table->setRowCount(0);
    m_table->setVisible(bpm > 0);
    if (bpm <= 0)
        return m_told->setText(
            tr("The source has no tempo yet: tap it with T, or type it with Shift+T. Times in note values are "
               "here then."));
    m_told->setText(
        tr("At %1 beats a minute. A click puts one into the time or rate in hand.").arg(number(bpm, 1)));
    const auto times = processors::noteTimes(bpm);
    m_table->setRowCount(static_cast<int>(times.size()));
    for (int row = 0; row < m_table->rowCount(); ++row) {
        const auto& [note, ms] = times[static_cast<std::size_t>(row)];
        const auto rate_hz = processors::noteInUnit(note, bpm, "Hz");
        const QString texts[] = {QString::fromStdString(note), number(ms, 1),
                                 rate_hz ? number(*rate_hz, 3) : QString()};
        for (int column = 0; column < 3; ++column) {
            auto* item = new QTableWidgetItem(texts[column]);
            item->setFont(Theme::figures(Theme::text_px));
            item->setTextAlignment(Qt::AlignVCenter | (column == 0 ? Qt::AlignLeft : Qt::AlignRight));
            m_table->setItem(row, column, item);
        }
    }
}

} // namespace hr::app

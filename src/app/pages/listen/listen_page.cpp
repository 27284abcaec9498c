// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/listen_page.h"

#include "pages/listen/band_edges.h"
#include "pages/listen/candidate_actions.h"
#include "pages/listen/comparison_line.h"
#include "pages/listen/contender_row.h"
#include "pages/listen/hidden_trial_view.h"
#include "pages/listen/line_up_menu.h"
#include "pages/listen/listening_row.h"
#include "pages/listen/meter_panel.h"
#include "pages/listen/trial_start.h"
#include "pages/listen/trial_view.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

ListenPage::ListenPage(const ListenServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    setObjectName(QStringLiteral("page"));
    addActions();
    m_stack = new Stack(this);
    m_stack->addWidget(makeLineUp());
    m_stack->addWidget(new TrialView(m_services));
    m_stack->addWidget(new PreferenceView(m_services));
    m_stack->addWidget(new RatingView(m_services));
    connect(&m_services.trials, &BlindTrials::changed, this, &ListenPage::showTrial);
    reorder();
}

void ListenPage::addActions()
{
    addCandidateActions(m_services);
    m_services.actions.add(
        {QStringLiteral("line-up.save"), tr("save the line-up"), tr("Hearing"), QKeySequence::Save, [this] {
             m_services.saved.current() == 0 ? saveLineUpAs(m_services, m_title) : m_services.saved.save();
         }});
    m_services.actions.add({QStringLiteral("meters"),
                            tr("show or hide the meters of what is audible"),
                            tr("Hearing"),
                            Qt::Key_V,
                            [this] { showMeters(m_meters->isHidden()); },
                            {},
                            [this] { return m_meters && !m_meters->isHidden(); }});
    m_services.actions.add(
        {QStringLiteral("trial.begin"), tr("begin a blind trial"), tr("Blind trial"), Qt::Key_B,
         [this] { openTrialStart(m_services, window()); },
         [this] {
             if (m_services.trials.isRunning())
                 return m_services.trials.disturbed();
             return m_services.line_up.candidates().empty()
                        ? tr("A blind trial needs two that differ: add a candidate from Find.")
                        : QString();
         }});
}

void ListenPage::showMeters(bool on)
{
    m_meters->setVisible(on);
    m_listening->showMeters(on);
    m_band->showSpectrum(!on);
}

void ListenPage::showTrial()
{
    BlindTrials& trials = m_services.trials;
    const BlindTrial* trial = trials.current();
    const int place = !trial ? 0 : trial == &trials.abx ? 1 : trial == &trials.preference ? 2 : 3;
    if (m_stack->currentIndex() == place)
        return;
    m_stack->setCurrentIndex(place);
    if (trial) {
        m_services.navigation.goTo(PageName::Listen);
        m_stack->currentWidget()->setFocus(); // so that its keys hold
    }
}

QWidget* ListenPage::makeLineUp()
{
    auto* whole = new QWidget;
    whole->setObjectName(QStringLiteral("page"));
    auto* page = new QVBoxLayout(whole);
    page->setContentsMargins(20, 16, 12, 8);
    page->setSpacing(10);
    auto* top = new QHBoxLayout;
    top->setContentsMargins(0, 0, 8, 0);
    m_title = new ElidedLabel;
    setRole(m_title, "title");
    m_title->setMaximumWidth(300);
    top->addWidget(m_title);
    top->addSpacing(10);
    top->addWidget(new ComparisonLine(m_services), 1);
    auto* line_ups = new Button(tr("Line-ups"));
    line_ups->setToolTip(tr("save this line-up under a name, or open another"));
    connect(line_ups, &QPushButton::clicked, this, [this, line_ups] { openLineUpMenu(m_services, line_ups); });
    top->addWidget(line_ups);
    auto* from_file = new Button(tr("Add a file"));
    from_file->setToolTip(tr("a chain kept in a file, or a sound that was rendered from this source before"));
    connect(from_file, &QPushButton::clicked, this, [this] {
        askToOpen(
            this, tr("Add a file"),
            tr("Chains and rendered sounds (*.json *.wav *.flac *.aif *.aiff *.ogg *.opus);;All files (*)"),
            [this](const QString& file) { addFile(file); });
    });
    top->addWidget(from_file);
    auto* trial = new Button(tr("Blind trial"));
    trial->setToolTip(m_services.actions.tip(QStringLiteral("trial.begin")));
    connect(trial, &QPushButton::clicked, this,
            [this] { m_services.actions.run(QStringLiteral("trial.begin")); });
    top->addWidget(trial);
    auto* add = new Button(tr("Add a candidate"));
    connect(add, &QPushButton::clicked, this, [this] { m_services.navigation.goTo(PageName::Find); });
    top->addWidget(add);
    page->addLayout(top);
    m_listening = new ListeningRow(m_services);
    page->addWidget(m_listening);
    m_band = new BandEdges(m_services);
    page->addWidget(m_band);

    m_scroll = new QScrollArea;
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_scroll->setFocusPolicy(Qt::NoFocus);
    auto* body = new QWidget;
    body->setObjectName(QStringLiteral("page"));
    m_column = new QVBoxLayout(body);
    m_column->setContentsMargins(0, 0, 8, 0);
    m_column->setSpacing(8);
    m_scroll->setWidget(body);
    page->addWidget(m_scroll, 1);
    m_meters = new MeterPanel(m_services.live, m_services.line_up);
    m_meters->hide();
    m_band->alsoOn(m_meters->spectrum());
    auto* below = new QHBoxLayout;
    below->setContentsMargins(0, 0, 8, 0);
    below->addWidget(m_meters);
    page->addLayout(below);
    auto* empty =
        new EmptyState(tr("Nothing to compare yet"),
                       tr("Here you hear processors against the untreated source, all at one loudness, and "
                          "switch between them with the number keys without a gap."),
                       tr("Find a processor"));
    connect(empty, &EmptyState::stepTaken, this, [this] { m_services.navigation.goTo(PageName::Find); });
    m_empty = empty;
    m_column->addWidget(m_empty);
    m_column->addStretch();

    const LineUp* line_up = &m_services.line_up;
    connect(line_up, &LineUp::contendersChanged, this, &ListenPage::reorder);
    connect(line_up, &LineUp::matchChanged, this, &ListenPage::refresh);
    connect(line_up, &LineUp::audibleChanged, this, &ListenPage::refresh);
    connect(&m_services.saved, &SavedLineUps::changed, this, &ListenPage::refresh);
    connect(line_up, &LineUp::valueChanged, this, [this](ContenderId id, std::size_t parameter) {
        if (ContenderRow* row = rowOf(id))
            row->valueChanged(parameter);
    });
    connect(line_up, &LineUp::settingsChanged, this, [this](ContenderId id) {
        if (ContenderRow* row = rowOf(id))
            row->settingsChanged();
    });
    connect(&m_services.transport, &Transport::positionMoved, this, &ListenPage::showCosts);
    return whole;
}

void ListenPage::addFile(const QString& file)
{
    if (file.endsWith(QStringLiteral(".json"), Qt::CaseInsensitive))
        m_services.line_up.addChainFile(file);
    else if (!file.isEmpty())
        m_services.line_up.addRendered(file);
}

ContenderRow* ListenPage::rowOf(ContenderId id) const
{
    const auto found = std::ranges::find(m_rows, id, &ContenderRow::id);
    return found == m_rows.end() ? nullptr : *found;
}

ContenderRow* ListenPage::makeRow(const Contender& contender)
{
    auto* row = new ContenderRow(m_services, contender);
    connect(row, &ContenderRow::dragged, this, [this, row](double global_y) { dragTo(row->id(), global_y); });
    return row;
}

/// It changes places with its neighbour once the pointer is beyond the neighbour's middle; at an edge of the
/// list, what lies beyond comes into sight.
void ListenPage::dragTo(ContenderId id, double global_y)
{
    constexpr int edge_px = 40;
    const QPointF pointer = m_scroll->widget()->mapFromGlobal(QPointF(0, global_y));
    m_scroll->ensureVisible(0, static_cast<int>(pointer.y()), 0, edge_px);
    const int place = m_services.line_up.placeOf(id);
    for (const ContenderRow* other : m_rows) {
        const int its_place = m_services.line_up.placeOf(other->id());
        const double middle = other->mapToGlobal(QPointF(0, other->height() / 2.0)).y();
        const bool beyond = its_place > place ? global_y > middle : global_y < middle;
        if (std::abs(its_place - place) == 1 && its_place >= 1 && beyond)
            return m_services.line_up.move(id, its_place);
    }
}

/// One row each, in the order of the line-up; those that are still right are kept.
void ListenPage::reorder()
{
    std::vector<ContenderRow*> rows;
    for (const Contender& contender : m_services.line_up.contenders()) {
        ContenderRow* row = rowOf(contender.id);
        if (row && row->isOf(contender))
            std::erase(m_rows, row);
        else
            row = makeRow(contender);
        m_column->removeWidget(row);
        m_column->insertWidget(static_cast<int>(rows.size()), row);
        rows.push_back(row);
    }
    for (ContenderRow* gone : m_rows)
        gone->deleteLater();
    for (ContenderRow* gone : m_rows)
        gone->hide();
    m_rows = std::move(rows);
    m_empty->setVisible(m_services.line_up.candidates().empty());
    refresh();
}

/// A few times a second, while it plays and can be seen.
void ListenPage::showCosts()
{
    constexpr qint64 every_ms = 400;
    if (!isVisible() || (m_costs_shown.isValid() && m_costs_shown.elapsed() < every_ms))
        return;
    m_costs_shown.start();
    for (const auto& lane : m_services.transport.lanes())
        if (ContenderRow* row = rowOf(lane.id))
            row->showCost(lane);
}

void ListenPage::refresh()
{
    const auto candidates = m_services.line_up.candidates().size();
    const SavedLineUps& saved = m_services.saved;
    m_title->setWhole(saved.current() != 0
                          ? saved.hasChanged() ? tr("%1 (changed)").arg(saved.name()) : saved.name()
                      : candidates == 0 ? tr("Listen")
                                        : tr("Which one?"));
    for (ContenderRow* row : m_rows)
        row->refresh();
}

} // namespace hr::app

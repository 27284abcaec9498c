// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/contender_row.h"

#include "pages/keep/keep_menu.h"
#include "pages/listen/candidate_actions.h"
#include "pages/listen/loudness_column.h"
#include "pages/listen/parameter_grid.h"
#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QApplication>
#include <QMouseEvent>
#include <QStyle>

namespace hr::app {

namespace {

constexpr int mark_column = 46;
constexpr int held_ms = 60; // at an edge, a step of the scrolling

/// "0.4 % of a core · latency 2.7 ms": what it takes as it plays.
QString costText(const audition::Engine::LaneState& lane, double rate_hz)
{
    QStringList words;
    if (lane.core_share > 0)
        words
            << QObject::tr("%1 % of a core").arg(number(100 * lane.core_share, lane.core_share < 0.1 ? 1 : 0));
    words << (lane.latency_frames == 0
                  ? QObject::tr("no latency")
                  : QObject::tr("latency %1 ms")
                        .arg(number(1000 * static_cast<double>(lane.latency_frames) / rate_hz, 1)));
    return words.join(QStringLiteral(" · "));
}

} // namespace

ContenderRow::ContenderRow(const ListenServices& services, const Contender& contender, QWidget* parent)
    : Sheet(parent), m_services(services), m_id(contender.id), m_location(contender.location.id),
      m_open(contender.isOpen()), m_rate_hz(services.transport.rateHz())
{
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    connect(&m_held, &QTimer::timeout, this, [this] { emit dragged(m_dragged_y); });
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 8, 16, 8);
    row->setSpacing(14);
    row->addLayout(makeMark(contender));
    row->addWidget(makeName(contender));
    m_parameters = new ParameterGrid(services, contender);
    row->addWidget(m_parameters, 1);
    m_loudness = new LoudnessColumn(services, contender);
    row->addWidget(m_loudness);
    settingsChanged();
    refresh();
}

bool ContenderRow::isOf(const Contender& contender) const
{
    return contender.id == m_id && contender.location.id == m_location && contender.isOpen() == m_open &&
           m_services.transport.rateHz() == m_rate_hz;
}

/// How it is recognised, and whether it is switched on.
QLayout* ContenderRow::makeMark(const Contender& contender)
{
    auto* column = new QVBoxLayout;
    column->setSpacing(6);
    auto* mark = new CandidateMark(contender.mark);
    mark->setToolTip(tr("The wheel switches from one to the next."));
    connect(mark, &CandidateMark::wheeled, &m_services.line_up, &LineUp::hearNext);
    column->addWidget(mark, 0, Qt::AlignHCenter);
    if (!contender.isUntreated()) {
        m_on = new Button({});
        m_on->setCheckable(true);
        m_on->setFixedWidth(mark_column);
        m_on->setAccessibleName(tr("%1 is switched on").arg(contender.title));
        m_on->setToolTip(m_services.actions.tip(QStringLiteral("candidate.on")));
        connect(m_on, &QPushButton::clicked, this, [this](bool on) { m_services.edits.setOn(m_id, on); });
        column->addWidget(m_on);
    }
    column->addSpacerItem(new QSpacerItem(mark_column, 0, QSizePolicy::Fixed, QSizePolicy::Expanding));
    return column;
}

QWidget* ContenderRow::makeName(const Contender& contender)
{
    auto* box = new QWidget;
    box->setFixedWidth(214);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    m_name = new ElidedLabel;
    setRole(m_name, "heading");
    column->addWidget(m_name);
    m_maker = new ElidedLabel;
    setRole(m_maker, "faint");
    column->addWidget(m_maker);
    if (!contender.isUntreated()) {
        if (m_services.settings.presets(contender).size() > 1)
            column->addWidget(makePresets());
        column->addLayout(makeButtons(contender));
        m_cost = new ElidedLabel;
        setRole(m_cost, "faint");
        column->addWidget(m_cost);
    }
    column->addStretch();
    return box;
}

/// The preset that is taken, with the ones before and after it a click away.
QWidget* ContenderRow::makePresets()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 2, 0, 0);
    row->setSpacing(4);
    for (const int step : {-1, 1}) {
        auto* button = new Button(step < 0 ? tr("‹") : tr("›"));
        button->setFixedWidth(34);
        button->setAccessibleName(step < 0 ? tr("the preset before") : tr("the next preset"));
        button->setToolTip(m_services.actions.tip(step < 0 ? QStringLiteral("preset.previous")
                                                           : QStringLiteral("preset.next")));
        connect(button, &QPushButton::clicked, this,
                [this, step] { m_services.settings.stepPreset(m_id, step); });
        row->addWidget(button);
    }
    m_preset = new ElidedLabel;
    setRole(m_preset, "faint");
    row->addWidget(m_preset, 1);
    return box;
}

QLayout* ContenderRow::makeButtons(const Contender& contender)
{
    auto* buttons = new QHBoxLayout;
    buttons->setContentsMargins(0, 4, 0, 0);
    auto* keep = new Button(tr("Keep"));
    auto* measure = new Button(tr("Measure"));
    measure->setEnabled(contender.isMeasurable());
    keep->setEnabled(!contender.rendered);
    auto* more = new Button(tr("⋯"));
    more->setAccessibleName(tr("more about %1").arg(contender.title));
    more->setToolTip(tr("name, reference, order, settings, snapshots"));
    auto* remove = new Button(tr("✕"));
    remove->setAccessibleName(tr("remove %1 from the line-up").arg(contender.title));
    remove->setToolTip(tr("remove from the line-up"));
    connect(keep, &QPushButton::clicked, this, [this, keep] {
        openKeepMenu(m_services.keeping, m_services.notices, keep, [&line_up = m_services.line_up, id = m_id] {
            const Contender* kept = line_up.find(id);
            return kept ? std::vector{kept->item()} : std::vector<library::CollectionItem>();
        });
    });
    connect(measure, &QPushButton::clicked, this, [this] { m_services.routes.measure(m_id); });
    connect(more, &QPushButton::clicked, this, [this, more] { openCandidateMenu(m_services, m_id, more); });
    connect(remove, &QPushButton::clicked, this, [this] {
        // This row goes with the candidate: only once its own click is over.
        QMetaObject::invokeMethod(
            &m_services.edits, [&edits = m_services.edits, id = m_id] { edits.remove(id); },
            Qt::QueuedConnection);
    });
    for (Button* button : {keep, measure, more, remove})
        buttons->addWidget(button);
    buttons->addStretch();
    return buttons;
}

void ContenderRow::refresh()
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (!contender)
        return;
    const bool audible = m_services.line_up.audible() == m_id;
    m_loudness->show(*contender);
    m_parameters->show(*contender);
    m_name->setWhole(contender->calledHere());
    m_maker->setWhole(contender->name.isEmpty() ? contender->maker
                                                : tr("%1, %2").arg(contender->title, contender->maker));
    showOn(*contender);
    if (property("audible").toBool() != audible) {
        setProperty("audible", audible);
        style()->unpolish(this);
        style()->polish(this);
    }
    setAccessibleName(
        tr("%1 %2, %3").arg(markLetter(contender->mark), contender->calledHere(), m_loudness->stateText()));
}

/// What is held, the preset and what it is called now.
void ContenderRow::settingsChanged()
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (!contender)
        return;
    m_parameters->show(*contender);
    showOn(*contender);
    if (!m_preset)
        return;
    const auto& preset = contender->pending ? contender->pending->preset : contender->preset;
    m_preset->setWhole(!preset           ? tr("no preset")
                       : preset->changed ? tr("%1 (changed)").arg(preset->name)
                                         : preset->name);
}

void ContenderRow::valueChanged(std::size_t parameter)
{
    if (const Contender* contender = m_services.line_up.find(m_id))
        m_parameters->valueChanged(*contender, parameter);
}

void ContenderRow::showOn(const Contender& contender)
{
    if (!m_on)
        return;
    m_on->setChecked(contender.on);
    m_on->setText(contender.on ? tr("On") : tr("Off"));
}

void ContenderRow::showCost(const audition::Engine::LaneState& lane)
{
    if (m_cost)
        m_cost->setWhole(m_open && !lane.fault ? costText(lane, m_rate_hz) : QString());
}

void ContenderRow::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton) {
        m_services.line_up.hear(m_id);
        m_pressed_y = event->globalPosition().y();
        m_place_before = m_services.line_up.placeOf(m_id);
    }
    Sheet::mousePressEvent(event);
}

/// It is dragged along the line-up: the page knows who stands where.
void ContenderRow::mouseMoveEvent(QMouseEvent* event)
{
    const double y = event->globalPosition().y();
    if (!(event->buttons() & Qt::LeftButton) || m_place_before < 1)
        return Sheet::mouseMoveEvent(event);
    if (!m_dragged && std::abs(y - m_pressed_y) < QApplication::startDragDistance())
        return;
    m_dragged = true;
    setCursor(Qt::ClosedHandCursor);
    m_dragged_y = y;
    m_held.start(held_ms);
    emit dragged(y);
}

void ContenderRow::mouseReleaseEvent(QMouseEvent* event)
{
    unsetCursor();
    m_held.stop();
    if (std::exchange(m_dragged, false))
        m_services.edits.moved(m_id, m_place_before);
    Sheet::mouseReleaseEvent(event);
}

} // namespace hr::app

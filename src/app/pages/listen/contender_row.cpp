// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/contender_row.h"

#include "pages/listen/candidate_actions.h"
#include "pages/listen/loudness_column.h"
#include "theme/theme.h"
#include "widgets/candidate_mark.h"
#include "widgets/keep_menu.h"
#include "widgets/parameter_row.h"

#include <QApplication>
#include <QGridLayout>
#include <QMouseEvent>
#include <QStyle>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int most_columns = 3;
constexpr int column_width = 176; // for a name, a value and what is between them
constexpr int column_gap = 22;
constexpr int held_ms = 60; // at an edge, a step of the scrolling

processors::ParameterInfo amountParameter()
{
    processors::ParameterInfo amount;
    amount.key = "amount_percent";
    amount.name = QObject::tr("Amount").toStdString();
    amount.unit = "%";
    amount.maximum = 100;
    amount.default_value = 100;
    amount.comment =
        QObject::tr("From the untreated source to all of it, lined up in time and matched.").toStdString();
    return amount;
}

processors::ParameterInfo returnParameter()
{
    processors::ParameterInfo level;
    level.key = "return_db";
    level.name = QObject::tr("Return").toStdString();
    level.unit = "dB";
    level.minimum = LineUp::least_return_db;
    level.maximum = LineUp::most_return_db;
    level.comment = QObject::tr("At which it comes back, fully wet, beside the source.").toStdString();
    return level;
}

} // namespace

ContenderRow::ContenderRow(const ListenServices& services, const Contender& contender, QWidget* parent)
    : Sheet(parent), m_services(services), m_id(contender.id), m_location(contender.location.id),
      m_open(contender.isOpen()), m_rate_hz(services.transport.rateHz())
{
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    connect(&m_held, &QTimer::timeout, this, [this] { emit dragged(m_dragged_y); });
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 10, 16, 10);
    row->setSpacing(14);
    row->addWidget(new CandidateMark(contender.mark), 0, Qt::AlignTop);
    row->addWidget(makeName(contender));
    row->addWidget(makeParameters(contender), 1);
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

QWidget* ContenderRow::makeName(const Contender& contender)
{
    auto* box = new QWidget;
    box->setFixedWidth(214);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* name = new ElidedLabel(contender.title);
    setRole(name, "heading");
    column->addWidget(name);
    auto* maker = new ElidedLabel(contender.maker);
    setRole(maker, "faint");
    column->addWidget(maker);
    if (!contender.isUntreated()) {
        if (m_services.settings.presets(contender).size() > 1)
            column->addWidget(makePresets());
        column->addLayout(makeButtons(contender));
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
    measure->setEnabled(m_open);
    auto* more = new Button(tr("⋯"));
    more->setAccessibleName(tr("more about %1").arg(contender.title));
    more->setToolTip(tr("reference, order, settings, snapshots"));
    auto* remove = new Button(tr("✕"));
    remove->setAccessibleName(tr("remove %1 from the line-up").arg(contender.title));
    remove->setToolTip(tr("remove from the line-up"));
    connect(keep, &QPushButton::clicked, this, [this, keep] {
        openKeepMenu(m_services.keeping, m_services.notices, keep, [&line_up = m_services.line_up, id = m_id] {
            const Contender* kept = line_up.find(id);
            return kept ? std::vector{kept->item()} : std::vector<library::CollectionItem>();
        });
    });
    connect(measure, &QPushButton::clicked, this, [this] { m_services.ways.measure(m_id); });
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

QWidget* ContenderRow::makeParameters(const Contender& contender)
{
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(column_gap);
    grid->setVerticalSpacing(6);
    m_grid = grid;
    if (contender.isUntreated()) {
        auto* words = label(
            tr("Everything is turned down to the quietest, never up, over the section that repeats."), "faint");
        words->setWordWrap(true);
        grid->addWidget(words, 0, 0, Qt::AlignTop);
        return box;
    }
    int shown = 0;
    for (std::size_t i = 0; i < contender.info.parameters.size(); ++i) {
        const auto& parameter = contender.info.parameters[i];
        auto* line = new ParameterRow(parameter);
        line->setValue(contender.values[i]);
        m_parameters.push_back(line);
        line->setVisible(!parameter.hidden);
        if (!parameter.hidden)
            ++shown;
        connect(line, &ParameterRow::changed, this,
                [this, i](double value) { m_services.edits.setValue(m_id, i, value); });
        connect(line, &ParameterRow::noteTyped, this, [this, i](const QString& note, double value) {
            m_services.edits.setValue(m_id, i, value, note);
        });
        line->setTempo([tempo = &m_services.tempo] { return tempo->bpm(); });
        line->setHoldable();
        connect(line, &ParameterRow::holdAsked, this,
                [this, i](bool on) { m_services.line_up.hold(m_id, i, on); });
        connect(line, &ParameterRow::refused, &m_services.notices, &Notices::say);
    }
    m_amount = new ParameterRow(amountParameter());
    m_return = new ParameterRow(returnParameter());
    for (ParameterRow* line : {m_amount, m_return}) {
        line->setParent(box);
        connect(line, &ParameterRow::refused, &m_services.notices, &Notices::say);
    }
    connect(m_amount, &ParameterRow::changed, this,
            [this](double percent) { m_services.edits.setAmount(m_id, percent); });
    connect(m_return, &ParameterRow::changed, this,
            [this](double level_db) { m_services.edits.setReturn(m_id, level_db); });
    arrange(most_columns);
    if (shown == 0)
        grid->addWidget(label(m_open              ? tr("It has no parameters.")
                              : contender.opening ? tr("opening …")
                                                  : tr("It stays here until you remove it."),
                              "faint"),
                        0, 0);
    return box;
}

void ContenderRow::refresh()
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (!contender)
        return;
    const bool audible = m_services.line_up.audible() == m_id;
    m_loudness->show(*contender);
    if (m_amount) {
        const bool send = m_services.line_up.use() == LineUp::Use::Send;
        m_amount->setValue(contender->amount_percent);
        m_return->setValue(contender->return_db);
        m_amount->setVisible(m_open && !send);
        m_return->setVisible(m_open && send);
    }
    if (property("audible").toBool() != audible) {
        setProperty("audible", audible);
        style()->unpolish(this);
        style()->polish(this);
    }
    setAccessibleName(
        tr("%1 %2, %3").arg(markLetter(contender->mark), contender->title, m_loudness->stateText()));
}

/// The parameters in so many columns.
void ContenderRow::arrange(int columns)
{
    if (columns == m_columns)
        return;
    m_columns = columns;
    while (QLayoutItem* item = m_grid->takeAt(0))
        delete item; // its widget stays
    int shown = 0;
    const Contender* contender = m_services.line_up.find(m_id);
    for (std::size_t i = 0; i < m_parameters.size(); ++i)
        if (contender && !contender->info.parameters[i].hidden) {
            m_grid->addWidget(m_parameters[i], shown / columns, shown % columns);
            ++shown;
        }
    if (shown == 0)
        shown = columns; // the first line says that there are none
    // Of the two only one is shown at a time.
    for (ParameterRow* line : {m_amount, m_return})
        m_grid->addWidget(line, shown / columns, shown % columns);
    for (int row = 0; row < m_grid->rowCount(); ++row)
        m_grid->setRowStretch(row, 0);
    m_grid->setRowStretch(m_grid->rowCount(), 1);
    for (int column = 0; column < most_columns; ++column)
        m_grid->setColumnStretch(column, column < columns ? 1 : 0);
}

/// As many columns as there is room for.
void ContenderRow::resizeEvent(QResizeEvent* event)
{
    Sheet::resizeEvent(event);
    if (m_parameters.empty())
        return;
    const int room = m_grid->parentWidget()->width() + column_gap;
    arrange(std::clamp(room / (column_width + column_gap), 1, most_columns));
}

/// What is held, the preset and what it is called now.
void ContenderRow::settingsChanged()
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (!contender)
        return;
    for (std::size_t i = 0; i < m_parameters.size(); ++i) {
        const auto note = contender->notes.find(i);
        m_parameters[i]->setNote(note == contender->notes.end() ? QString() : note->second);
        m_parameters[i]->setHeld(contender->held.contains(i));
    }
    if (!m_preset)
        return;
    const auto& preset = contender->coming ? contender->coming->preset : contender->preset;
    m_preset->setWhole(!preset           ? tr("no preset")
                       : preset->changed ? tr("%1 (changed)").arg(preset->name)
                                         : preset->name);
}

void ContenderRow::valueChanged(std::size_t parameter)
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (contender && parameter < m_parameters.size())
        m_parameters[parameter]->setValue(contender->values[parameter]);
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

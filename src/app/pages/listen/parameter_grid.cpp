// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/parameter_grid.h"

#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/limits_menu.h"
#include "widgets/parameter_row.h"

#include <QGridLayout>
#include <QMenu>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int most_columns = 3;
constexpr int column_width = 176; // for a name, a value and what is between them
constexpr int column_gap = 22;

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

ParameterGrid::ParameterGrid(const ListenServices& services, const Contender& contender, QWidget* parent)
    : QWidget(parent), m_services(services), m_id(contender.id)
{
    m_grid = new QGridLayout(this);
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setHorizontalSpacing(column_gap);
    m_grid->setVerticalSpacing(6);
    if (std::ranges::all_of(contender.info.parameters, &processors::ParameterInfo::hidden)) {
        auto* words =
            label(contender.isUntreated() ? tr("Everything is turned down to the quietest, never up, over the "
                                               "section that repeats; live, over the last ten seconds.")
                  : contender.isOpen()    ? tr("It has no parameters.")
                  : contender.opening     ? tr("opening …")
                                          : tr("It stays here until you remove it."),
                  "faint");
        words->setWordWrap(true);
        m_grid->addWidget(words, 0, 0, 1, most_columns, Qt::AlignTop);
    }
    if (contender.isUntreated())
        return;
    for (std::size_t i = 0; i < contender.info.parameters.size(); ++i)
        addParameter(contender, i);
    addMix();
    m_more = new Button({}, this);
    m_more->setToolTip(m_services.actions.tip(QStringLiteral("parameters.all")));
    connect(m_more, &QPushButton::clicked, this, [this] {
        if (const Contender* now = m_services.line_up.find(m_id))
            m_services.line_up.seeAll(m_id, !now->all_seen);
    });
    show(contender);
}

void ParameterGrid::addParameter(const Contender& contender, std::size_t parameter)
{
    auto* line = new ParameterRow(contender.info.parameters[parameter], this);
    line->setValue(contender.values[parameter]);
    m_parameters.push_back(line);
    connect(line, &ParameterRow::changed, this,
            [this, parameter](double value) { m_services.edits.setValue(m_id, parameter, value); });
    connect(line, &ParameterRow::noteTyped, this, [this, parameter](const QString& note, double value) {
        m_services.edits.setValue(m_id, parameter, value, note);
    });
    line->setTempo([tempo = &m_services.tempo] { return tempo->bpm(); });
    line->setHoldable();
    connect(line, &ParameterRow::holdRequested, this,
            [this, parameter](bool on) { m_services.edits.hold(m_id, parameter, on); });
    connect(line, &ParameterRow::refused, &m_services.notices, &Notices::say);
    line->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(line, &QWidget::customContextMenuRequested, this,
            [this, line, parameter](const QPoint& at) { openMenu(parameter, line->mapToGlobal(at)); });
}

void ParameterGrid::addMix()
{
    m_amount = new ParameterRow(amountParameter(), this);
    m_return = new ParameterRow(returnParameter(), this);
    for (ParameterRow* line : {m_amount, m_return})
        connect(line, &ParameterRow::refused, &m_services.notices, &Notices::say);
    connect(m_amount, &ParameterRow::changed, this,
            [this](double percent) { m_services.edits.setAmount(m_id, percent); });
    connect(m_return, &ParameterRow::changed, this,
            [this](double level_db) { m_services.edits.setReturn(m_id, level_db); });
}

/// What is done to one parameter beside turning it.
void ParameterGrid::openMenu(std::size_t parameter, const QPoint& at)
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (!contender)
        return;
    LineUpEdits* edits = &m_services.edits;
    QMenu* menu = menuFor(this);
    const auto add = [&](const QString& text, std::function<void()> what, std::optional<bool> on = {}) {
        QAction* action = menu->addAction(text, edits, std::move(what));
        action->setCheckable(on.has_value());
        action->setChecked(on.value_or(false));
    };
    const bool is_pinned = contender->pinned.contains(parameter);
    const bool is_held = contender->held.contains(parameter);
    const auto known = contender->limits.find(parameter);
    add(
        tr("Seen first"), [edits, id = m_id, parameter, is_pinned] { edits->pin(id, parameter, !is_pinned); },
        is_pinned);
    add(
        tr("Held against presets and random settings"),
        [edits, id = m_id, parameter, is_held] { edits->hold(id, parameter, !is_held); }, is_held);
    menu->addSeparator();
    addLimitsTo(
        *menu, edits, contender->info.parameters[parameter], contender->values[parameter],
        known == contender->limits.end() ? RandomLimits() : RandomLimits(known->second),
        [edits, id = m_id, parameter](const RandomLimits& limits) { edits->setLimits(id, parameter, limits); });
    menu->popup(at);
}

/// Those that are pinned, or else the first few; or all.
std::vector<std::size_t> ParameterGrid::seen(const Contender& contender) const
{
    std::vector<std::size_t> all;
    for (std::size_t i = 0; i < m_parameters.size(); ++i)
        if (!contender.info.parameters[i].hidden)
            all.push_back(i);
    std::vector<std::size_t> first;
    std::ranges::copy_if(all, std::back_inserter(first),
                         [&](std::size_t i) { return contender.pinned.contains(i); });
    if (contender.all_seen) {
        std::ranges::copy_if(all, std::back_inserter(first),
                             [&](std::size_t i) { return !contender.pinned.contains(i); });
        return first;
    }
    if (first.empty())
        first.assign(all.begin(),
                     all.begin() + static_cast<std::ptrdiff_t>(all.size() > few ? seen_first : all.size()));
    return first;
}

void ParameterGrid::valueChanged(const Contender& contender, std::size_t parameter)
{
    if (parameter < m_parameters.size())
        m_parameters[parameter]->setValue(contender.values[parameter]);
}

void ParameterGrid::show(const Contender& contender)
{
    if (!m_amount || contender.info.parameters.size() != m_parameters.size())
        return;
    for (std::size_t i = 0; i < m_parameters.size(); ++i) {
        const auto note = contender.notes.find(i);
        m_parameters[i]->setNote(note == contender.notes.end() ? QString() : note->second);
        m_parameters[i]->setHeld(contender.held.contains(i));
        const auto limits = contender.limits.find(i);
        m_parameters[i]->setLimits(limits == contender.limits.end() ? std::nullopt
                                                                    : std::optional(limits->second));
    }
    const bool send = m_services.line_up.use() == LineUp::Use::Send;
    m_amount->setValue(contender.amount_percent);
    m_return->setValue(contender.return_db);
    m_amount->setVisible(contender.isOpen() && !send);
    m_return->setVisible(contender.isOpen() && send);
    const auto hidden = std::ranges::count_if(contender.info.parameters,
                                              [](const auto& parameter) { return parameter.hidden; });
    const std::size_t all = m_parameters.size() - static_cast<std::size_t>(hidden);
    const auto wanted = seen(contender);
    m_more->setVisible(contender.all_seen ? all > few || !contender.pinned.empty() : wanted.size() < all);
    m_more->setText(contender.all_seen ? tr("Fewer parameters") : tr("All %1 parameters").arg(all));
    if (wanted == m_seen)
        return;
    m_seen = wanted;
    arrange();
}

void ParameterGrid::arrange()
{
    const auto is_among = [this](QWidget* one) {
        return one == m_amount || one == m_return || one == m_more ||
               std::ranges::find(m_parameters, one) != m_parameters.end();
    };
    for (int i = m_grid->count() - 1; i >= 0; --i)
        if (is_among(m_grid->itemAt(i)->widget()))
            delete m_grid->takeAt(i); // its widget stays
    for (ParameterRow* one : m_parameters)
        one->hide();
    int place = m_seen.empty() ? m_columns : 0; // the first line says that there are none
    for (const std::size_t i : m_seen) {
        m_grid->addWidget(m_parameters[i], place / m_columns, place % m_columns);
        m_parameters[i]->setVisible(true);
        ++place;
    }
    // Of the two only one is shown at a time.
    for (ParameterRow* line : {m_amount, m_return})
        m_grid->addWidget(line, place / m_columns, place % m_columns);
    ++place;
    m_grid->addWidget(m_more, place / m_columns, place % m_columns, Qt::AlignLeft | Qt::AlignBottom);
    for (int row = 0; row < m_grid->rowCount(); ++row)
        m_grid->setRowStretch(row, 0);
    m_grid->setRowStretch(m_grid->rowCount(), 1);
    for (int column = 0; column < most_columns; ++column)
        m_grid->setColumnStretch(column, column < m_columns ? 1 : 0);
}

void ParameterGrid::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    const int columns = std::clamp((width() + column_gap) / (column_width + column_gap), 1, most_columns);
    if (!m_amount || columns == m_columns)
        return;
    m_columns = columns;
    arrange();
}

} // namespace hr::app

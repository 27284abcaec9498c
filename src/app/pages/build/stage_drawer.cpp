// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/stage_drawer.h"

#include "processors/note_value.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/limits_menu.h"
#include "widgets/parameter_row.h"

#include <QCompleter>
#include <QEvent>
#include <QGridLayout>
#include <QLineEdit>
#include <QScrollArea>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int columns = 3;

processors::ParameterInfo figure(const char* key, const QString& name, const char* unit, double least,
                                 double most, double usual)
{
    processors::ParameterInfo p;
    p.key = key;
    p.name = name.toStdString();
    p.unit = unit;
    p.minimum = least;
    p.maximum = most;
    p.default_value = usual;
    return p;
}

processors::ParameterInfo frequency(const char* key, const QString& name, double usual_hz)
{
    auto p = figure(key, name, "Hz", 20, 20000, usual_hz);
    p.scale = processors::Scale::Logarithmic;
    return p;
}

/// What the rows of a node depend on, beside its values.
std::string kindOfRows(const chain::Node& node)
{
    return node.id + '\n' + node.processor + '\n' + node.preset + '\n' +
           std::to_string(node.crossovers_hz.size());
}

} // namespace

StageDrawer::StageDrawer(const BuildServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    m_stack = new Stack(this);
    auto* empty = label(tr("Choose a stage above: its parameters are here."), "faint");
    empty->setAlignment(Qt::AlignCenter);
    m_stack->addWidget(empty);
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(makeTop());
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_rows_holder = new QWidget;
    m_grid = new QGridLayout(m_rows_holder);
    m_grid->setContentsMargins(0, 0, 8, 0);
    m_grid->setHorizontalSpacing(22);
    m_grid->setVerticalSpacing(6);
    scroll->setWidget(m_rows_holder);
    scroll->viewport()->setAutoFillBackground(false);
    m_rows_holder->setAutoFillBackground(false);
    column->addWidget(scroll, 1);
    column->addWidget(m_path = label({}, "faint"));
    column->addWidget(makeActions());
    m_stack->addWidget(page);
    const auto again = [this] { show(QString::fromStdString(m_node)); };
    connect(&m_services.draft, &ChainDraft::changed, this, again);
    connect(&m_services.facts, &StageFacts::changed, this, again);
    connect(&m_services.chance, &ChainChance::changed, this, again);
    connect(&m_services.study, &ChainStudy::levelsChanged, this, again);
}

QWidget* StageDrawer::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    m_purpose = new QLineEdit;
    m_purpose->setAccessibleName(tr("purpose of the stage"));
    m_purpose->setPlaceholderText(tr("what it is there for"));
    connect(m_purpose, &QLineEdit::editingFinished, this, &StageDrawer::keepPurpose);
    row->addWidget(m_purpose, 3);
    row->addWidget(m_about = new ElidedLabel, 2);
    setRole(m_about, "faint");
    const auto add = [&](Button* button, const QString& name, const std::function<void()>& work) {
        button->setAccessibleName(name);
        return addButton(*row, button, this, work);
    };
    const auto run = [this](const char* id) {
        return [this, id = QLatin1String(id)] { m_services.actions.run(id); };
    };
    m_on = add(toggle(tr("on")), tr("stage on"), run("build.on"));
    m_moves = add(toggle(tr("may move"), tr("one of those whose orders are compared")), tr("stage may move"),
                  run("build.moves"));
    add(new Button(QStringLiteral("‹")), tr("the stage before"), [this] { emit stepRequested(-1); });
    add(new Button(QStringLiteral("›")), tr("the next stage"), [this] { emit stepRequested(1); });
    return top;
}

QWidget* StageDrawer::makeActions()
{
    auto* actions = new QWidget;
    auto* row = new QHBoxLayout(actions);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    const std::pair<const char*, QString> all[] = {
        {"build.hear.up-to", tr("Up to here")}, {"build.hear.without", tr("Without it")},
        {"build.hear.alone", tr("By itself")},  {"build.neutral", tr("To neutral")},
        {"build.replace", tr("Replace")},       {"build.remove", tr("Remove")}};
    for (const auto& [id, words] : all) {
        // Queued: what it does may change who is shown here.
        addButton(*row, new Button(words), this, [this, id = QString::fromLatin1(id)] {
            QMetaObject::invokeMethod(
                this, [this, id] { m_services.actions.run(id); }, Qt::QueuedConnection);
        })->setToolTip(m_services.actions.tip(QLatin1String(id)));
    }
    row->addStretch(1);
    return actions;
}

// --- what is shown -----------------------------------------------------------------------------------

void StageDrawer::show(const QString& node)
{
    if (m_node != node.toStdString()) {
        keepPurpose();
        m_node = node.toStdString();
    }
    const chain::Node* now = m_services.draft.node(m_node);
    m_stack->setCurrentIndex(now ? 1 : 0);
    if (!now)
        return;
    if (const std::string rows = kindOfRows(*now); rows != m_built_for) {
        rebuild(*now);
        m_built_for = rows;
    }
    refresh(*now);
    showHead(*now);
}

void StageDrawer::showHead(const chain::Node& node)
{
    const bool is_stage = node.kind == chain::NodeKind::Stage;
    QStringList about;
    if (is_stage)
        about << tr("stage %1").arg(chain::stageNumber(m_services.draft.chain(), node.id));
    about << m_services.facts.nameOf(node);
    const QString kind = m_services.facts.kindOf(node);
    about << (kind.isEmpty() ? tr("bypassed (not installed)") : kind);
    if (!node.preset.empty())
        about << tr("preset %1").arg(QString::fromStdString(node.preset));
    m_about->setWhole(about.join(QStringLiteral(" \u00b7 ")));
    if (!m_purpose->hasFocus())
        m_purpose->setText(QString::fromStdString(node.purpose));
    m_on->setChecked(node.on);
    m_on->setVisible(is_stage);
    m_moves->setChecked(node.may_move);
    m_moves->setVisible(is_stage);
    const auto& points = m_services.study.levels();
    const auto point = std::ranges::find(points, node.id, &audition::PathPoint::after);
    m_path->setVisible(point != points.end());
    if (point != points.end())
        m_path->setText(tr("up to here: latency %1 samples").arg(point->latency_samples));
}

void StageDrawer::rebuild(const chain::Node& node)
{
    for (const Row& one : m_rows)
        one.row->deleteLater();
    m_rows.clear();
    while (QLayoutItem* item = m_grid->takeAt(0)) {
        if (item->widget())
            item->widget()->hide();
        delete item;
    }
    if (node.kind == chain::NodeKind::Stage) {
        addProcessorRows(node);
        m_own_rows = m_rows.size();
        addStageRows();
    } else {
        m_own_rows = 0;
        addPartRows(node);
    }
    arrange();
    auto* completer = new QCompleter(m_services.purposes.words(), m_purpose);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    delete m_purpose->completer();
    m_purpose->setCompleter(completer);
}

void StageDrawer::addProcessorRows(const chain::Node& node)
{
    const StageFacts::Facts* facts = m_services.facts.of(node.processor);
    if (!facts || m_services.facts.valuesOf(node).empty())
        return;
    for (const processors::ParameterInfo& parameter : facts->info.parameters) {
        if (parameter.hidden)
            continue;
        ParameterRow* row = addRow(parameter, [this, key = parameter.key](chain::Node& stage, double value) {
            m_services.facts.set(stage, key, value);
        });
        row->setHoldable();
        connect(row, &ParameterRow::holdRequested, this,
                [this, key = parameter.key](bool on) { m_services.chance.hold(m_node, key, on); });
        row->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(row, &QWidget::customContextMenuRequested, this,
                [this, row, parameter](const QPoint& at) { openChanceMenu(parameter, row->mapToGlobal(at)); });
    }
}

void StageDrawer::addStageRows()
{
    addRow(figure("blend_percent", tr("Dry to wet"), "%", 0, 100, 100),
           [](chain::Node& stage, double percent) { stage.blend_percent = percent; });
    addRow(figure("trim_db", tr("Trim"), "dB", -60, 24, 0),
           [](chain::Node& stage, double db) { stage.trim_db = db; });
}

void StageDrawer::addPartRows(const chain::Node& node)
{
    if (node.kind == chain::NodeKind::Bands) {
        for (std::size_t i = 0; i < node.crossovers_hz.size(); ++i)
            addRow(frequency("crossover", tr("Crossover %1").arg(i + 1), 1000),
                   [i](chain::Node& bands, double hz) { bands.crossovers_hz[i] = hz; });
        return;
    }
    if (node.kind == chain::NodeKind::MidSide)
        return;
    addRow(figure("level_db", tr("Level"), "dB", -60, 24, 0),
           [](chain::Node& part, double db) { part.level_db = db; });
    if (node.kind == chain::NodeKind::Key) {
        addRow(frequency("low_cut_hz", tr("Low cut"), 20),
               [](chain::Node& key, double hz) { key.low_cut_hz = hz > 20 ? hz : 0; });
        addRow(frequency("high_cut_hz", tr("High cut"), 20000),
               [](chain::Node& key, double hz) { key.high_cut_hz = hz < 20000 ? hz : 0; });
    }
}

ParameterRow* StageDrawer::addRow(const processors::ParameterInfo& parameter, const Set& set)
{
    auto* row = new ParameterRow(parameter, m_rows_holder);
    row->setTempo([tempo = &m_services.tempo] { return tempo->bpm(); });
    const auto take = [this, set, key = parameter.key](double value) {
        m_services.draft.changeNode(
            m_node, [&](chain::Node& node) { set(node, value); }, QString::fromStdString(key));
    };
    connect(row, &ParameterRow::changed, this, take);
    connect(row, &ParameterRow::noteTyped, this, [take](const QString&, double value) { take(value); });
    connect(row, &ParameterRow::refused, &m_services.notices, &Notices::say);
    for (QWidget* part : row->findChildren<QWidget*>())
        part->installEventFilter(this);
    m_rows.push_back({row, parameter, set});
    return row;
}

/// What the chain adds stands below a thin line.
void StageDrawer::arrange()
{
    int line = 0;
    const auto put = [&](std::size_t from, std::size_t to) {
        for (std::size_t i = from; i < to; ++i)
            m_grid->addWidget(m_rows[i].row, line + static_cast<int>(i - from) / columns,
                              static_cast<int>(i - from) % columns);
        line += static_cast<int>(to - from + columns - 1) / columns;
    };
    put(0, m_own_rows);
    if (m_own_rows > 0 && m_own_rows < m_rows.size()) {
        auto* rule = new QFrame(m_rows_holder);
        rule->setObjectName(QStringLiteral("rule"));
        rule->setFixedHeight(1);
        m_grid->addWidget(rule, line++, 0, 1, columns);
    }
    put(m_own_rows, m_rows.size());
    for (int row = 0; row < m_grid->rowCount(); ++row)
        m_grid->setRowStretch(row, 0);
    m_grid->setRowStretch(line, 1);
    for (int column = 0; column < columns; ++column)
        m_grid->setColumnStretch(column, 1);
    for (const Row& one : m_rows)
        one.row->setVisible(true);
}

std::vector<double> StageDrawer::shownValues(const chain::Node& node) const
{
    std::vector<double> shown;
    if (node.kind == chain::NodeKind::Stage) {
        const StageFacts::Facts* facts = m_services.facts.of(node.processor);
        const auto values = m_services.facts.valuesOf(node);
        for (std::size_t i = 0; i < values.size(); ++i)
            if (!facts->info.parameters[i].hidden)
                shown.push_back(values[i]);
        shown.push_back(node.blend_percent);
        shown.push_back(node.trim_db);
    } else if (node.kind == chain::NodeKind::Bands) {
        shown = node.crossovers_hz;
    } else {
        shown = {node.level_db, node.low_cut_hz > 0 ? node.low_cut_hz : 20,
                 node.high_cut_hz > 0 ? node.high_cut_hz : 20000};
    }
    return shown;
}

void StageDrawer::refresh(const chain::Node& node)
{
    const auto values = shownValues(node);
    for (std::size_t i = 0; i < std::min(values.size(), m_rows.size()); ++i) {
        m_rows[i].row->setValue(values[i]);
        if (i >= m_own_rows)
            continue;
        m_rows[i].row->setHeld(m_services.chance.isHeld(node.id, m_rows[i].parameter.key));
        m_rows[i].row->setLimits(m_services.chance.limits(node.id, m_rows[i].parameter.key));
    }
}

/// Between which random settings stay.
void StageDrawer::openChanceMenu(const processors::ParameterInfo& parameter, const QPoint& at)
{
    const chain::Node* stage = m_services.draft.node(m_node);
    const auto standing = stage ? m_services.facts.parameterOf(*stage, parameter.key) : std::nullopt;
    if (!standing)
        return;
    QMenu* menu = menuFor(this);
    addLimitsTo(*menu, this, standing->parameter, standing->value,
                m_services.chance.limits(m_node, parameter.key),
                [this, node = m_node, key = parameter.key](const RandomLimits& limits) {
                    m_services.chance.setLimits(node, key, limits);
                });
    menu->popup(at);
}

// --- by hand -----------------------------------------------------------------------------------------

void StageDrawer::keepPurpose()
{
    const std::string text = m_purpose->text().trimmed().toStdString();
    const chain::Node* node = m_services.draft.node(m_node);
    if (!node || node->purpose == text)
        return;
    m_services.draft.changeNode(m_node, [&](chain::Node& one) { one.purpose = text; });
}

void StageDrawer::takeFocus()
{
    if (m_rows.empty())
        return m_purpose->setFocus();
    for (QWidget* part : m_rows.front().row->findChildren<QWidget*>())
        if (part->focusPolicy() != Qt::NoFocus)
            return part->setFocus();
}

bool StageDrawer::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::FocusIn)
        for (const Row& one : m_rows)
            if (one.row->isAncestorOf(static_cast<QWidget*>(watched)))
                m_in_hand = one.row;
    return QWidget::eventFilter(watched, event);
}

void StageDrawer::setTime(const QString& note)
{
    const auto row = std::ranges::find_if(m_rows, [&](const Row& one) { return one.row == m_in_hand; });
    if (row == m_rows.end())
        return m_services.notices.say(
            tr("Click on a time or a rate of the stage first, then on the note value."));
    const auto value = processors::noteInUnit(note.toStdString(), m_services.tempo.bpm(), row->parameter.unit);
    if (!value)
        return m_services.notices.say(
            tr("%1 is no time and no rate.").arg(QString::fromStdString(row->parameter.name)));
    if (!row->parameter.allows(*value))
        return m_services.notices.say(
            tr("%1 does not reach %2 at this tempo.").arg(QString::fromStdString(row->parameter.name), note));
    m_services.draft.changeNode(m_node, [&](chain::Node& node) { row->set(node, *value); });
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/contender_row.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"
#include "widgets/keep_menu.h"
#include "widgets/parameter_row.h"

#include <QGridLayout>
#include <QMouseEvent>
#include <QStyle>
#include <QUndoCommand>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int parameter_columns = 3;

/// Moves of one parameter in a row become one step back.
class ValueCommand : public QUndoCommand {
public:
    ValueCommand(LineUp& line_up, int lane, int parameter, double value)
        : m_line_up(line_up), m_lane(lane), m_parameter(parameter), m_id(line_up.at(lane).id),
          m_before(line_up.at(lane).values[static_cast<std::size_t>(parameter)]), m_after(value)
    {
        setText(QObject::tr("set %1").arg(QString::fromStdString(
            line_up.at(lane).info.parameters[static_cast<std::size_t>(parameter)].name)));
    }
    void redo() override { put(m_after); }
    void undo() override { put(m_before); }
    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* next) override
    {
        const auto* other = static_cast<const ValueCommand*>(next);
        if (other->m_lane != m_lane || other->m_parameter != m_parameter || other->m_id != m_id)
            return false;
        m_after = other->m_after;
        return true;
    }

private:
    void put(double value)
    {
        if (m_lane < m_line_up.count() && m_line_up.at(m_lane).id == m_id) // it may have left the line-up
            m_line_up.setValue(m_lane, m_parameter, value);
    }

    LineUp& m_line_up;
    int m_lane, m_parameter;
    QString m_id;
    double m_before, m_after;
};

class RemoveCommand : public QUndoCommand {
public:
    RemoveCommand(LineUp& line_up, int lane)
        : QUndoCommand(QObject::tr("remove %1").arg(line_up.at(lane).title)), m_line_up(line_up), m_lane(lane),
          m_id(line_up.at(lane).id), m_settings(line_up.at(lane).settings())
    {
    }
    void redo() override { m_line_up.remove(m_lane); }
    void undo() override { m_line_up.add(m_id, m_settings, m_lane); }

private:
    LineUp& m_line_up;
    int m_lane;
    QString m_id;
    std::vector<processors::Setting> m_settings;
};

} // namespace

ContenderRow::ContenderRow(Desk& desk, int lane, QWidget* parent) : Sheet(parent), m_desk(desk), m_lane(lane)
{
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 10, 16, 10);
    row->setSpacing(14);
    row->addWidget(new CandidateMark(lane), 0, Qt::AlignTop);
    row->addWidget(makeName());
    row->addWidget(makeParameters(), 1);
    row->addWidget(makeLoudness());
    refresh();
}

QWidget* ContenderRow::makeName()
{
    const Contender& contender = m_desk.line_up.at(m_lane);
    auto* box = new QWidget;
    box->setFixedWidth(196);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* name = new ElidedLabel(contender.title);
    setRole(name, "heading");
    column->addWidget(name);
    auto* maker = new ElidedLabel(contender.maker);
    setRole(maker, "faint");
    column->addWidget(maker);
    if (m_lane > 0) {
        auto* buttons = new QHBoxLayout;
        buttons->setContentsMargins(0, 4, 0, 0);
        auto* keep = new Button(tr("Keep"));
        auto* measure = new Button(tr("Measure"));
        auto* remove = new Button(tr("✕"));
        remove->setAccessibleName(tr("remove %1 from the line-up").arg(contender.title));
        remove->setToolTip(tr("remove from the line-up"));
        connect(keep, &QPushButton::clicked, this, [this, keep] {
            openKeepMenu(m_desk, keep, [this] {
                return std::vector<library::CollectionItem>{m_desk.line_up.at(m_lane).item()};
            });
        });
        connect(measure, &QPushButton::clicked, this, [this] { m_desk.measure(m_desk.line_up.at(m_lane).id); });
        connect(remove, &QPushButton::clicked, this, [this] {
            // This row goes with the candidate: only once its own click is over.
            QMetaObject::invokeMethod(
                &m_desk,
                [&desk = m_desk, lane = m_lane] { desk.undo.push(new RemoveCommand(desk.line_up, lane)); },
                Qt::QueuedConnection);
        });
        for (Button* button : {keep, measure, remove})
            buttons->addWidget(button);
        buttons->addStretch();
        column->addLayout(buttons);
    }
    column->addStretch();
    return box;
}

QWidget* ContenderRow::makeParameters()
{
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(22);
    grid->setVerticalSpacing(6);
    const Contender& contender = m_desk.line_up.at(m_lane);
    if (m_lane == 0) {
        auto* words = label(
            tr("Everything is turned down to the quietest, never up, over the section that repeats."), "faint");
        words->setWordWrap(true);
        grid->addWidget(words, 0, 0);
        return box;
    }
    int shown = 0;
    for (std::size_t i = 0; i < contender.info.parameters.size(); ++i) {
        const auto& parameter = contender.info.parameters[i];
        auto* line = new ParameterRow(parameter);
        line->setValue(contender.values[i]);
        m_parameters.push_back(line);
        line->setVisible(!parameter.hidden);
        if (!parameter.hidden) {
            grid->addWidget(line, shown / parameter_columns, shown % parameter_columns);
            ++shown;
        }
        const int index = static_cast<int>(i);
        connect(line, &ParameterRow::changed, this, [this, index](double value) {
            m_desk.undo.push(new ValueCommand(m_desk.line_up, m_lane, index, value));
        });
        connect(line, &ParameterRow::refused, &m_desk, &Desk::notice);
    }
    grid->setRowStretch(grid->rowCount(), 1);
    for (int column = 0; column < parameter_columns; ++column)
        grid->setColumnStretch(column, 1);
    if (shown == 0)
        grid->addWidget(label(tr("It has no parameters."), "faint"), 0, 0);
    return box;
}

QWidget* ContenderRow::makeLoudness()
{
    auto* box = new QWidget;
    box->setFixedWidth(168);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    m_was = label({}, "figure");
    m_brought = label({}, "figure");
    m_state = label({}, "faint");
    m_state->setWordWrap(true);
    for (QLabel* one : {m_was, m_brought, m_state}) {
        one->setAlignment(Qt::AlignRight | Qt::AlignTop);
        column->addWidget(one);
    }
    column->addStretch();
    return box;
}

void ContenderRow::refresh()
{
    if (m_lane >= m_desk.line_up.count())
        return;
    const Contender& contender = m_desk.line_up.at(m_lane);
    const bool heard = m_desk.line_up.heard() == m_lane;
    m_was->setText(contender.loudness_lufs ? tr("was %1 LUFS").arg(number(*contender.loudness_lufs, 1))
                                           : QString());
    m_brought->setText(contender.loudness_lufs ? tr("brought %1 dB").arg(signedNumber(contender.gain_db, 1))
                                               : QString());
    const QString now = heard ? tr("● heard now\n") : QString();
    switch (contender.match) {
    case MatchState::Waiting:
        m_state->setText(now + (m_desk.line_up.source() ? tr("matching …") : tr("no source")));
        setRole(m_state, "caution");
        break;
    case MatchState::Matched:
        m_state->setText(now + tr("fair within %1 LU").arg(number(contender.spread_lu, 2)));
        setRole(m_state, contender.spread_lu <= 0.1 ? "pass" : "caution");
        break;
    case MatchState::Silent:
        m_state->setText(now + tr("silence: nothing to match"));
        setRole(m_state, "caution");
        break;
    case MatchState::Failed:
        m_state->setText(now + tr("it %1").arg(contender.fault));
        setRole(m_state, "fault");
        break;
    }
    if (property("heard").toBool() != heard) {
        setProperty("heard", heard);
        style()->unpolish(this);
        style()->polish(this);
    }
    setAccessibleName(tr("%1 %2, %3").arg(markLetter(m_lane), contender.title, m_state->text()));
}

void ContenderRow::valueChanged(int parameter)
{
    m_parameters[static_cast<std::size_t>(parameter)]->setValue(
        m_desk.line_up.at(m_lane).values[static_cast<std::size_t>(parameter)]);
}

void ContenderRow::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        m_desk.line_up.hear(m_lane);
    Sheet::mousePressEvent(event);
}

} // namespace hr::app

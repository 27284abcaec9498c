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

/// Moves of one parameter in a row become one step back. Who has left the line-up is left alone.
class ValueCommand : public QUndoCommand {
public:
    ValueCommand(LineUp& line_up, const Contender& contender, std::size_t parameter, double value)
        : m_line_up(line_up), m_id(contender.id), m_parameter(parameter), m_before(contender.values[parameter]),
          m_after(value)
    {
        setText(QObject::tr("set %1").arg(QString::fromStdString(contender.info.parameters[parameter].name)));
    }
    void redo() override { m_line_up.setValue(m_id, m_parameter, m_after); }
    void undo() override { m_line_up.setValue(m_id, m_parameter, m_before); }
    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* next) override
    {
        const auto* other = static_cast<const ValueCommand*>(next);
        if (other->m_id != m_id || other->m_parameter != m_parameter)
            return false;
        m_after = other->m_after;
        return true;
    }

private:
    LineUp& m_line_up;
    ContenderId m_id;
    std::size_t m_parameter;
    double m_before, m_after;
};

class RemoveCommand : public QUndoCommand {
public:
    RemoveCommand(LineUp& line_up, const Contender& contender)
        : QUndoCommand(QObject::tr("remove %1").arg(contender.title)), m_line_up(line_up), m_id(contender.id)
    {
    }
    void redo() override
    {
        m_place = m_line_up.placeOf(m_id);
        m_removed = m_line_up.remove(m_id);
    }
    void undo() override
    {
        if (m_removed)
            m_line_up.putBack(*m_removed, m_place);
    }

private:
    LineUp& m_line_up;
    ContenderId m_id;
    int m_place = 0;
    std::optional<Contender> m_removed;
};

} // namespace

ContenderRow::ContenderRow(const ListenServices& services, const Contender& contender, QWidget* parent)
    : Sheet(parent), m_services(services), m_id(contender.id), m_generation(contender.generation),
      m_open(contender.isOpen()), m_rate_hz(services.transport.rateHz())
{
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 10, 16, 10);
    row->setSpacing(14);
    row->addWidget(new CandidateMark(contender.mark), 0, Qt::AlignTop);
    row->addWidget(makeName(contender));
    row->addWidget(makeParameters(contender), 1);
    row->addWidget(makeLoudness());
    refresh();
}

bool ContenderRow::isOf(const Contender& contender) const
{
    return contender.id == m_id && contender.generation == m_generation && contender.isOpen() == m_open &&
           m_services.transport.rateHz() == m_rate_hz;
}

QWidget* ContenderRow::makeName(const Contender& contender)
{
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
    if (!contender.isReference()) {
        auto* buttons = new QHBoxLayout;
        buttons->setContentsMargins(0, 4, 0, 0);
        auto* keep = new Button(tr("Keep"));
        auto* measure = new Button(tr("Measure"));
        measure->setEnabled(m_open);
        auto* remove = new Button(tr("✕"));
        remove->setAccessibleName(tr("remove %1 from the line-up").arg(contender.title));
        remove->setToolTip(tr("remove from the line-up"));
        connect(keep, &QPushButton::clicked, this, [this, keep] {
            openKeepMenu(m_services.keeping, m_services.notices, keep,
                         [&line_up = m_services.line_up, id = m_id] {
                             const Contender* kept = line_up.find(id);
                             return kept ? std::vector{kept->item()} : std::vector<library::CollectionItem>();
                         });
        });
        connect(measure, &QPushButton::clicked, this, [this] { m_services.ways.measure(m_id); });
        connect(remove, &QPushButton::clicked, this, [this] {
            // This row goes with the candidate: only once its own click is over.
            QMetaObject::invokeMethod(
                &m_services.line_up,
                [services = m_services, id = m_id] {
                    if (const Contender* leaving = services.line_up.find(id))
                        services.undo.push(new RemoveCommand(services.line_up, *leaving));
                },
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

QWidget* ContenderRow::makeParameters(const Contender& contender)
{
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(22);
    grid->setVerticalSpacing(6);
    if (contender.isReference()) {
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
        connect(line, &ParameterRow::changed, this, [this, i](double value) {
            if (const Contender* moved = m_services.line_up.find(m_id))
                m_services.undo.push(new ValueCommand(m_services.line_up, *moved, i, value));
        });
        connect(line, &ParameterRow::refused, &m_services.notices, &Notices::say);
    }
    grid->setRowStretch(grid->rowCount(), 1);
    for (int column = 0; column < parameter_columns; ++column)
        grid->setColumnStretch(column, 1);
    if (shown == 0)
        grid->addWidget(label(m_open              ? tr("It has no parameters.")
                              : contender.opening ? tr("opening …")
                                                  : tr("It stays here until you remove it."),
                              "faint"),
                        0, 0);
    return box;
}

QWidget* ContenderRow::makeLoudness()
{
    auto* box = new QWidget;
    box->setFixedWidth(168);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    m_before = label({}, "figure");
    m_matched = label({}, "figure");
    m_state = label({}, "faint");
    m_state->setWordWrap(true);
    for (QLabel* one : {m_before, m_matched, m_state}) {
        one->setAlignment(Qt::AlignRight | Qt::AlignTop);
        column->addWidget(one);
    }
    column->addStretch();
    return box;
}

QString ContenderRow::stateText(const Contender& contender) const
{
    switch (contender.match) {
    case MatchState::Waiting:
        return contender.opening               ? tr("opening …")
               : m_services.transport.source() ? tr("matching …")
                                               : tr("no source");
    case MatchState::Matched:
        return tr("fair within %1 LU").arg(number(contender.spread_lu, 2));
    case MatchState::Silent:
        return tr("silence: nothing to match");
    case MatchState::Failed:
        break;
    }
    return tr("it %1").arg(contender.fault);
}

void ContenderRow::refresh()
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (!contender)
        return;
    const bool audible = m_services.line_up.audible() == m_id;
    const bool wanted = m_services.line_up.wanted() == m_id;
    m_before->setText(contender->loudness_lufs ? tr("before %1 LUFS").arg(number(*contender->loudness_lufs, 1))
                                               : QString());
    m_matched->setText(
        contender->loudness_lufs ? tr("matched by %1 dB").arg(signedNumber(contender->gain_db, 1)) : QString());
    const QString now = audible ? tr("● audible now\n") : wanted ? tr("○ audible once matched\n") : QString();
    m_state->setText(now + stateText(*contender));
    const bool fair = contender->match == MatchState::Matched && contender->spread_lu <= 0.1;
    setRole(m_state, contender->match == MatchState::Failed ? "fault" : fair ? "pass" : "caution");
    if (property("audible").toBool() != audible) {
        setProperty("audible", audible);
        style()->unpolish(this);
        style()->polish(this);
    }
    setAccessibleName(tr("%1 %2, %3").arg(markLetter(contender->mark), contender->title, m_state->text()));
}

void ContenderRow::valueChanged(std::size_t parameter)
{
    const Contender* contender = m_services.line_up.find(m_id);
    if (contender && parameter < m_parameters.size())
        m_parameters[parameter]->setValue(contender->values[parameter]);
}

void ContenderRow::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        m_services.line_up.hear(m_id);
    Sheet::mousePressEvent(event);
}

} // namespace hr::app

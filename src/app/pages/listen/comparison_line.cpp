// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/comparison_line.h"

#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QComboBox>
#include <QHBoxLayout>

namespace hr::app {

using audition::Basis;

ComparisonLine::ComparisonLine(const ListenServices& services, QWidget* parent)
    : QWidget(parent), m_services(services)
{
    addActions();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    m_count = new ElidedLabel;
    setRole(m_count, "faint");
    m_reference = new QComboBox;
    m_reference->setAccessibleName(tr("the reference"));
    m_reference->setToolTip(m_services.actions.tip(QStringLiteral("line-up.reference")));
    m_reference->setMaximumWidth(150);
    m_basis = new QComboBox;
    m_basis->setAccessibleName(tr("matched by"));
    m_basis->setToolTip(tr("What everything is turned down to one level by, over the section that repeats."));
    for (const QString& words : {tr("loudness"), tr("one band"), tr("RMS"), tr("peak"), tr("nothing")})
        m_basis->addItem(words); // in the order of Basis
    row->addWidget(m_count);
    row->addWidget(m_reference);
    m_use = new QComboBox;
    m_use->setAccessibleName(tr("how the candidates are used"));
    m_use->setToolTip(tr("As inserts each takes the place of the source, or as much of it as its amount says.\n"
                         "On a send each is fully wet beside the source, at the level of its return."));
    for (const QString& words : {tr("as inserts"), tr("on a send")})
        m_use->addItem(words); // in the order of LineUp::Use
    row->addWidget(m_use);
    row->addWidget(label(tr("matched by"), "faint"));
    row->addWidget(m_basis);
    row->addStretch(1);
    connect(m_reference, &QComboBox::activated, this,
            [this] { m_services.edits.makeReference(m_reference->currentData().toULongLong()); });
    connect(m_basis, &QComboBox::activated, this, [this](int choice) {
        audition::MatchRule rule = m_services.line_up.rule();
        rule.basis = static_cast<Basis>(choice);
        m_services.edits.setRule(rule);
        showRule(); // also where it was not to be changed
    });
    connect(m_use, &QComboBox::activated, this, [this](int choice) {
        m_services.edits.setUse(static_cast<LineUp::Use>(choice));
        showRule(); // also where it was not to be changed
    });
    const LineUp* line_up = &m_services.line_up;
    connect(line_up, &LineUp::useChanged, this, &ComparisonLine::showRule);
    connect(line_up, &LineUp::contendersChanged, this, &ComparisonLine::showContenders);
    connect(line_up, &LineUp::ruleChanged, this, &ComparisonLine::showRule);
    showContenders();
    showRule();
}

void ComparisonLine::addActions()
{
    LineUp* line_up = &m_services.line_up;
    m_services.actions.add({QStringLiteral("line-up.reference"), tr("make what is audible the reference"),
                            tr("Hearing"), Qt::Key_R,
                            [this, line_up] { m_services.edits.makeReference(line_up->wanted()); },
                            [line_up] {
                                return line_up->wanted() == line_up->reference()
                                           ? tr("It is the reference already: hear another first.")
                                           : QString();
                            }});
    m_services.actions.add({QStringLiteral("hear.untreated"), tr("hear the untreated source"), tr("Hearing"),
                            Qt::Key_U, [line_up] { line_up->hear(LineUp::untreated); },
                            [this] { return m_services.trials.disturbed(); }});
}

void ComparisonLine::showContenders()
{
    const LineUp& line_up = m_services.line_up;
    const auto count = static_cast<int>(line_up.candidates().size());
    m_count->setWhole(count == 0   ? tr("space plays · 0 the reference · 1 to 8 candidates A to H")
                      : count == 1 ? tr("one against")
                                   : tr("%1 against").arg(count));
    m_reference->clear();
    for (const Contender& contender : line_up.contenders())
        m_reference->addItem(contender.isUntreated()
                                 ? tr("the source")
                                 : tr("%1 %2").arg(markLetter(contender.mark), contender.calledHere()),
                             static_cast<qulonglong>(contender.id));
    m_reference->setCurrentIndex(m_reference->findData(static_cast<qulonglong>(line_up.reference())));
    for (QWidget* one : findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
        if (one != m_count)
            one->setVisible(count > 0);
}

void ComparisonLine::showRule()
{
    m_basis->setCurrentIndex(static_cast<int>(m_services.line_up.rule().basis));
    m_use->setCurrentIndex(static_cast<int>(m_services.line_up.use()));
}

} // namespace hr::app

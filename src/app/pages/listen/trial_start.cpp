// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/trial_start.h"

#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/sheet_popup.h"

#include <QComboBox>
#include <QFormLayout>
#include <QSpinBox>
#include <QVBoxLayout>

namespace hr::app {

namespace {

using audition::AbxSheet;

constexpr int usual_rounds = 16;

class TrialStart : public SheetPopup {
public:
    TrialStart(const ListenServices& services, QWidget* over)
        : SheetPopup(QObject::tr("begin a blind trial"), over), m_services(services)
    {
        setFixedWidth(460);
        auto* column = new QVBoxLayout(&sheet());
        column->setContentsMargins(sheetMargins());
        column->setSpacing(10);
        column->addWidget(label(QObject::tr("Which of the two is X?"), "title"));
        column->addWidget(paragraph(
            QObject::tr("In each round X is one of the two, and you say which. Listen as often as you like.")));
        auto* form = new QFormLayout;
        form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
        m_first = chooser(QObject::tr("the first of the two"));
        m_second = chooser(QObject::tr("the second of the two"));
        m_rounds = new QSpinBox;
        m_rounds->setRange(AbxSheet::fewest_rounds, AbxSheet::most_rounds);
        m_rounds->setValue(usual_rounds);
        m_rounds->setAccessibleName(QObject::tr("rounds"));
        form->addRow(QObject::tr("X is either"), m_first);
        form->addRow(QObject::tr("or"), m_second);
        form->addRow(QObject::tr("Rounds, fixed now"), m_rounds);
        column->addLayout(form);
        m_forecast = paragraph({}, "faint");
        column->addWidget(m_forecast);
        m_hindrance = paragraph({}, "caution");
        column->addWidget(m_hindrance);
        m_begin = (new Button(QObject::tr("Begin the trial")))->main();
        column->addWidget(m_begin);
        const LineUp& line_up = services.line_up;
        const bool reference_heard = line_up.wanted() == LineUp::untreated;
        choose(*m_first, reference_heard ? line_up.candidates().front().id : line_up.wanted());
        choose(*m_second, LineUp::untreated);
        for (QComboBox* box : {m_first, m_second})
            connect(box, &QComboBox::currentIndexChanged, this, &TrialStart::refresh);
        connect(m_rounds, &QSpinBox::valueChanged, this, &TrialStart::refresh);
        connect(&line_up, &LineUp::matchChanged, this, &TrialStart::refresh);
        connect(m_begin, &QPushButton::clicked, this, [this] {
            m_services.trial.begin(chosen(*m_first), chosen(*m_second), m_rounds->value());
            close();
        });
        refresh();
        m_begin->setFocus();
    }

private:
    QComboBox* chooser(const QString& name) const
    {
        auto* box = new QComboBox;
        box->setAccessibleName(name);
        for (const Contender& contender : m_services.line_up.contenders())
            box->addItem(contender.isUntreated()
                             ? contender.title
                             : QObject::tr("%1  %2").arg(markLetter(contender.mark), contender.title),
                         QVariant::fromValue<quint64>(contender.id));
        return box;
    }
    static void choose(QComboBox& box, ContenderId id)
    {
        box.setCurrentIndex(box.findData(QVariant::fromValue<quint64>(id)));
    }
    static ContenderId chosen(const QComboBox& box) { return box.currentData().value<quint64>(); }

    void refresh()
    {
        const QString hindrance = m_services.trial.hindrance(chosen(*m_first), chosen(*m_second));
        m_forecast->setText(QString::fromStdString(audition::forecast(m_rounds->value())));
        m_hindrance->setText(hindrance);
        m_hindrance->setVisible(!hindrance.isEmpty());
        m_begin->setEnabled(hindrance.isEmpty());
    }

    const ListenServices m_services;
    QComboBox* m_first;
    QComboBox* m_second;
    QSpinBox* m_rounds;
    QLabel* m_forecast;
    QLabel* m_hindrance;
    QPushButton* m_begin;
};

} // namespace

void openTrialStart(const ListenServices& services, QWidget* over)
{
    (new TrialStart(services, over))->open();
}

} // namespace hr::app

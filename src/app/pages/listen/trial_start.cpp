// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/trial_start.h"

#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/segments.h"
#include "widgets/sheet_popup.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QSpinBox>
#include <QVBoxLayout>
#include <array>
#include <functional>

namespace hr::app {

namespace {

using audition::AbxSheet;
using audition::RatingSheet;

constexpr int usual_rounds = 16;
constexpr int usual_passes = 4;

QString titled(const Contender& contender)
{
    return contender.isUntreated()
               ? contender.calledHere()
               : QObject::tr("%1  %2").arg(markLetter(contender.mark), contender.calledHere());
}

/// What is asked before a trial of one kind begins.
class Ask : public QWidget {
public:
    explicit Ask(const ListenServices& services) : m_services(services) {}

    virtual QString disabledReason() const = 0;
    virtual QString forecast() const = 0;
    virtual void begin() = 0;

    std::function<void()> changed = [] {};

protected:
    QSpinBox* counter(QFormLayout& form, const QString& words, int fewest, int most, int usual)
    {
        auto* box = new QSpinBox;
        box->setRange(fewest, most);
        box->setValue(usual);
        box->setAccessibleName(words.section(QLatin1Char(','), 0, 0).toLower());
        connect(box, &QSpinBox::valueChanged, this, [this] { changed(); });
        form.addRow(words, box);
        return box;
    }

    const ListenServices m_services;
};

class AskAbx : public Ask {
public:
    explicit AskAbx(const ListenServices& services) : Ask(services)
    {
        auto* form = new QFormLayout(this);
        form->setContentsMargins(0, 0, 0, 0);
        form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
        form->addRow(paragraph(
            QObject::tr("In each round X is one of the two, and you say which. Listen as often as you like.")));
        m_first = chooser(QObject::tr("the first of the two"));
        m_second = chooser(QObject::tr("the second of the two"));
        form->addRow(QObject::tr("X is either"), m_first);
        form->addRow(QObject::tr("or"), m_second);
        m_rounds = counter(*form, QObject::tr("Rounds, fixed now"), AbxSheet::fewest_rounds,
                           AbxSheet::most_rounds, usual_rounds);
        m_rounds->setAccessibleName(QObject::tr("rounds"));
        const LineUp& line_up = services.line_up;
        const bool reference_heard = line_up.wanted() == LineUp::untreated;
        choose(*m_first, reference_heard ? line_up.candidates().front().id : line_up.wanted());
        choose(*m_second, LineUp::untreated);
        for (QComboBox* box : {m_first, m_second})
            connect(box, &QComboBox::currentIndexChanged, this, [this] { changed(); });
    }

    QString disabledReason() const override
    {
        return m_services.trials.abx.disabledReason(chosen(*m_first), chosen(*m_second));
    }
    QString forecast() const override { return QString::fromStdString(audition::forecast(m_rounds->value())); }
    void begin() override
    {
        m_services.trials.abx.begin(chosen(*m_first), chosen(*m_second), m_rounds->value());
    }

private:
    QComboBox* chooser(const QString& name) const
    {
        auto* box = new QComboBox;
        box->setAccessibleName(name);
        for (const Contender& contender : m_services.line_up.contenders())
            box->addItem(titled(contender), QVariant::fromValue<quint64>(contender.id));
        return box;
    }
    static void choose(QComboBox& box, ContenderId id)
    {
        box.setCurrentIndex(box.findData(QVariant::fromValue<quint64>(id)));
    }
    static ContenderId chosen(const QComboBox& box) { return box.currentData().value<quint64>(); }

    QComboBox* m_first;
    QComboBox* m_second;
    QSpinBox* m_rounds;
};

/// Of trials among several: who, and how often.
class AskHidden : public Ask {
public:
    AskHidden(const ListenServices& services, HiddenTrial& trial, const QString& words, int fewest, int most)
        : Ask(services), m_trial(trial)
    {
        auto* form = new QFormLayout(this);
        form->setContentsMargins(0, 0, 0, 0);
        form->addRow(paragraph(words));
        for (const Contender& contender : services.line_up.contenders()) {
            if (contender.isUntreated() && trial.hasOpenReference())
                continue; // in any case
            auto* box = new QCheckBox(titled(contender));
            box->setChecked(!contender.isUntreated());
            connect(box, &QCheckBox::toggled, this, [this] { changed(); });
            form->addRow(box);
            m_boxes.emplace_back(contender.id, box);
        }
        m_passes = counter(*form, QObject::tr("Passes, fixed now"), fewest, most, std::min(most, usual_passes));
    }

    QString disabledReason() const override { return m_trial.disabledReason(chosen()); }
    QString forecast() const override
    {
        return m_trial.hasOpenReference()
                   ? QObject::tr("Whoever grades the hidden source below 90 in more than 15 of 100 passes is "
                                 "not counted.")
                   : QObject::tr(
                         "What comes out is the order, how well the passes agree (Kendall's W), and how "
                         "often chance alone agrees as well.");
    }
    void begin() override { m_trial.begin(chosen(), m_passes->value()); }

private:
    std::vector<ContenderId> chosen() const
    {
        std::vector<ContenderId> ids;
        for (const auto& [id, box] : m_boxes)
            if (box->isChecked())
                ids.push_back(id);
        return ids;
    }

    HiddenTrial& m_trial;
    std::vector<std::pair<ContenderId, QCheckBox*>> m_boxes;
    QSpinBox* m_passes;
};

class TrialStart : public SheetPopup {
public:
    TrialStart(const ListenServices& services, QWidget* over)
        : SheetPopup(QObject::tr("begin a blind trial"), over)
    {
        setFixedWidth(480);
        auto* column = new QVBoxLayout(&sheet());
        column->setContentsMargins(sheetMargins());
        column->setSpacing(10);
        column->addWidget(label(QObject::tr("A blind trial"), "title"));
        auto* kinds = new Segments(
            QObject::tr("what is asked"),
            {QObject::tr("Which is X?"), QObject::tr("Which is best?"), QObject::tr("How good is each?")});
        column->addWidget(kinds);
        m_asks = {
            new AskAbx(services),
            new AskHidden(services, services.trials.preference,
                          QObject::tr("In each pass you put all of them in order, hidden behind numbers."),
                          audition::fewest_passes, audition::most_passes),
            new AskHidden(services, services.trials.rating,
                          QObject::tr("In each pass you grade all of them from 0 to 100 beside the source, "
                                      "after ITU-R BS.1534: hidden among them are the source itself, and "
                                      "two of it without its highs."),
                          RatingSheet::fewest_passes, RatingSheet::most_passes)};
        for (Ask* ask : m_asks) {
            column->addWidget(ask);
            ask->changed = [this] { refresh(); };
        }
        m_forecast = paragraph({}, "faint");
        column->addWidget(m_forecast);
        m_disabled_reason = paragraph({}, "caution");
        column->addWidget(m_disabled_reason);
        m_begin = (new Button(QObject::tr("Begin the trial")))->main();
        column->addWidget(m_begin);
        connect(kinds, &Segments::chosen, this, [this](int kind) { ask(kind); });
        connect(&services.line_up, &LineUp::matchChanged, this, &TrialStart::refresh);
        connect(m_begin, &QPushButton::clicked, this, [this] {
            m_asks[m_kind]->begin();
            close();
        });
        kinds->setCurrent(0);
        ask(0);
        m_begin->setFocus();
    }

private:
    void ask(int kind)
    {
        m_kind = static_cast<std::size_t>(kind);
        for (std::size_t i = 0; i < m_asks.size(); ++i)
            m_asks[i]->setVisible(i == m_kind);
        refresh();
        adjustSize();
    }

    void refresh()
    {
        const QString disabledReason = m_asks[m_kind]->disabledReason();
        m_forecast->setText(m_asks[m_kind]->forecast());
        m_disabled_reason->setText(disabledReason);
        m_disabled_reason->setVisible(!disabledReason.isEmpty());
        m_begin->setEnabled(disabledReason.isEmpty());
    }

    std::array<Ask*, 3> m_asks{};
    std::size_t m_kind = 0;
    QLabel* m_forecast;
    QLabel* m_disabled_reason;
    QPushButton* m_begin;
};

} // namespace

void openTrialStart(const ListenServices& services, QWidget* over)
{
    (new TrialStart(services, over))->open();
}

} // namespace hr::app

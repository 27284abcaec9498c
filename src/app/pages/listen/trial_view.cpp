// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/trial_view.h"

#include "pages/listen/chance_picture.h"
#include "pages/listen/trial_card.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QGridLayout>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int answers_a_row = 10;

using Which = AbxTrial::Which;

} // namespace

TrialView::TrialView(const ListenServices& services, QWidget* parent)
    : TrialFrame(services.trials.abx, services.line_up, services.notices, parent), m_services(services)
{
    m_picture = new ChancePicture;
    setMiddle(makeQuestion(),
              makeResult(m_picture, tr("Try the same two once more"), [this] { beginAgain(); }));
    fillSide();
    addActions();
    connect(&m_services.trials.abx, &AbxTrial::changed, this, &TrialView::refresh);
    refresh();
}

QWidget* TrialView::makeQuestion()
{
    AbxTrial* trial = &m_services.trials.abx;
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(32, 24, 32, 24);
    m_round = label({}, "faint");
    column->addWidget(m_round);
    m_question = label(tr("Which of the two is X?"), "title");
    column->addWidget(m_question);
    column->addStretch();
    auto* cards = new QHBoxLayout;
    cards->setSpacing(16);
    m_first = new TrialCard;
    m_x = new TrialCard;
    m_second = new TrialCard;
    m_x->show(TrialCard::unknown, tr("this may be either"), tr("press X"));
    for (const auto& [card, which] :
         {std::pair(m_first, Which::First), {m_x, Which::X}, {m_second, Which::Second}}) {
        cards->addWidget(card);
        connect(card, &QAbstractButton::clicked, trial, [trial, which = which] { trial->hear(which); });
    }
    column->addLayout(cards);
    column->addStretch();
    auto* answers = new QHBoxLayout;
    answers->addStretch();
    m_is_first = (new Button({}))->main();
    m_is_second = (new Button({}))->main();
    for (QPushButton* button : {m_is_first, m_is_second}) {
        button->setFixedHeight(40);
        answers->addWidget(button);
        connect(button, &QPushButton::clicked, trial,
                [trial, second = button == m_is_second] { trial->answer(second); });
    }
    answers->addStretch();
    column->addLayout(answers);
    return box;
}

void TrialView::beginAgain()
{
    AbxTrial& trial = m_services.trials.abx;
    const auto first = trial.first().id;
    const auto second = trial.second().id;
    if (const QString disabledReason = trial.disabledReason(first, second); !disabledReason.isEmpty())
        return m_services.notices.say(disabledReason);
    trial.begin(first, second, trial.sheet().rounds());
}

void TrialView::fillSide()
{
    side().addWidget(label(tr("Answers given"), "strong"));
    auto* boxes = new QWidget;
    m_answers = new QGridLayout(boxes);
    m_answers->setContentsMargins(0, 0, 0, 0);
    m_answers->setSpacing(4);
    side().addWidget(boxes);
    side().addWidget(label(tr("What it will say"), "strong"));
    m_forecast = paragraph();
    side().addWidget(m_forecast);
    addEarlier(tr("Earlier trials of these two"));
}

void TrialView::addActions()
{
    AbxTrial* trial = &m_services.trials.abx;
    const QString group = tr("Blind trial");
    const auto not_now = [trial] {
        return trial->stage() == Stage::Asking ? QString()
                                               : tr("No blind trial is under way: B on Listen begins one.");
    };
    m_services.actions.add({QStringLiteral("trial.x"), tr("hear X"), group, Qt::Key_X,
                            [trial] { trial->hear(Which::X); }, not_now});
    m_services.actions.add({QStringLiteral("trial.is_first"),
                            tr("say that X is the one on the left"),
                            group,
                            Qt::Key_Left,
                            [trial] { trial->answer(false); },
                            not_now,
                            {},
                            this});
    m_services.actions.add({QStringLiteral("trial.is_second"),
                            tr("say that X is the one on the right"),
                            group,
                            Qt::Key_Right,
                            [trial] { trial->answer(true); },
                            not_now,
                            {},
                            this});
}

QString TrialView::name(const Contender& contender) const
{
    return contender.isUntreated() ? tr("the source") : markLetter(contender.mark);
}

void TrialView::refresh()
{
    const AbxTrial& trial = m_services.trials.abx;
    if (trial.stage() == Stage::None)
        return;
    showFrame(tr("%1 against %2 · %3 rounds, fixed before the first answer")
                  .arg(trial.first().calledHere(),
                       trial.second().isUntreated() ? tr("the untreated source") : trial.second().calledHere())
                  .arg(trial.sheet().rounds()));
    trial.stage() == Stage::Over ? showResult() : showQuestion();
    const std::pair now(trial.stage(), trial.sheet().answered());
    if (now == m_shown)
        return; // somebody else is heard, which is all
    m_shown = now;
    showAnswers();
    m_forecast->setText(QString::fromStdString(audition::forecast(trial.sheet().rounds())));
    showEarlier();
}

void TrialView::showQuestion()
{
    const AbxTrial& trial = m_services.trials.abx;
    const bool asks = trial.stage() == Stage::Asking;
    m_round->setText(asks ? tr("Round %1 of %2. Play as often as you like; answer once.")
                                .arg(trial.sheet().answered() + 1)
                                .arg(trial.sheet().rounds())
                          : tr("Getting ready: everything that will be heard is being opened."));
    const auto key = [](const Contender& contender) { return tr("press %1").arg(contender.mark); };
    m_first->show(trial.first().mark, tr("this is %1").arg(name(trial.first())), key(trial.first()));
    m_second->show(trial.second().mark, tr("this is %1").arg(name(trial.second())), key(trial.second()));
    for (const auto& [card, which] :
         {std::pair(m_first, Which::First), {m_x, Which::X}, {m_second, Which::Second}}) {
        card->setHeard(asks && trial.heard() == which);
        card->setEnabled(asks);
    }
    m_is_first->setText(tr("X is %1  ←").arg(name(trial.first())));
    m_is_second->setText(tr("X is %1  →").arg(name(trial.second())));
    m_is_first->setEnabled(asks);
    m_is_second->setEnabled(asks);
}

void TrialView::showResult()
{
    const audition::AbxSheet& sheet = m_services.trials.abx.sheet();
    if (sheet.answered() == 0)
        return showVerdict(QString::fromStdString(sheet.sentence()), {});
    const audition::Interval share = audition::shareRight(sheet.correct(), sheet.answered());
    showVerdict(QString::fromStdString(sheet.sentence()),
                tr("In the long run between %1 and %2 of 100 would be right (95 in 100 such statements hold); "
                   "guessing has 50.")
                    .arg(number(100 * share.low, 0), number(100 * share.high, 0)));
    m_picture->show(audition::chanceOfEach(sheet.answered()), sheet.correct(),
                    audition::leastToBeHeard(sheet.answered()).value_or(-1));
}

/// While it goes on, that an answer was given; afterwards, whether it was right.
void TrialView::showAnswers()
{
    const AbxTrial& trial = m_services.trials.abx;
    clear(*m_answers);
    const auto right = trial.stage() == Stage::Over ? trial.sheet().rightAnswers() : std::vector<bool>();
    for (int round = 0; round < trial.sheet().rounds(); ++round) {
        const bool given = round < trial.sheet().answered();
        auto* box = label(QString::number(round + 1), "small-figure");
        box->setAlignment(Qt::AlignCenter);
        box->setFixedSize(25, 24);
        const bool now = round == trial.sheet().answered() && trial.stage() == Stage::Asking;
        const char* state = now ? "now" : "open";
        if (given && right.empty())
            state = "given";
        else if (given)
            state = right[static_cast<std::size_t>(round)] ? "right" : "wrong";
        box->setProperty("answer", QString::fromLatin1(state));
        if (given && !right.empty())
            box->setText(right[static_cast<std::size_t>(round)] ? QStringLiteral("✓") : QStringLiteral("–"));
        box->setAccessibleName(tr("round %1").arg(round + 1));
        m_answers->addWidget(box, round / answers_a_row, round % answers_a_row, Qt::AlignLeft);
    }
}

} // namespace hr::app

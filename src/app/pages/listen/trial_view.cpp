// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/trial_view.h"

#include "exchange/trial_file.h"
#include "pages/listen/chance_picture.h"
#include "pages/listen/trial_card.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QFile>
#include <QFileDialog>
#include <QGridLayout>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int answers_a_row = 10;
constexpr int earlier_shown = 6;

using Which = AbxTrial::Which;

void clear(QLayout& layout)
{
    while (QLayoutItem* item = layout.takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide(); // at once: what comes next stands in its place
            widget->deleteLater();
        }
        if (QLayout* within = item->layout())
            clear(*within);
        delete item;
    }
}

QLabel* fact(QVBoxLayout& column, const QString& what)
{
    auto* row = new QHBoxLayout;
    row->addWidget(label(what));
    row->addStretch();
    QLabel* value = label({}, "figure");
    row->addWidget(value);
    column.addLayout(row);
    return value;
}

} // namespace

TrialView::TrialView(const ListenServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    setObjectName(QStringLiteral("page"));
    setFocusPolicy(Qt::StrongFocus);
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(20, 16, 20, 8);
    page->setSpacing(10);
    auto* top = new QHBoxLayout;
    top->addWidget(label(tr("Blind trial"), "title"));
    top->addSpacing(10);
    m_subtitle = new ElidedLabel;
    setRole(m_subtitle, "faint");
    top->addWidget(m_subtitle, 1, Qt::AlignBottom);
    m_stop = new Button({});
    connect(m_stop, &QPushButton::clicked, this, [this] {
        AbxTrial& trial = m_services.trial;
        trial.isRunning() ? trial.stop() : trial.putAway();
    });
    top->addWidget(m_stop);
    page->addLayout(top);
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    auto* middle = new Sheet;
    m_middle = new Stack(middle);
    m_middle->addWidget(makeQuestion());
    m_middle->addWidget(makeResult());
    row->addWidget(middle, 1);
    row->addWidget(makeSide());
    page->addLayout(row, 1);
    addActions();
    connect(&m_services.trial, &AbxTrial::changed, this, &TrialView::refresh);
    refresh();
}

QWidget* TrialView::makeQuestion()
{
    AbxTrial* trial = &m_services.trial;
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

QWidget* TrialView::makeResult()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(32, 24, 32, 24);
    column->setSpacing(14);
    column->addWidget(label(tr("What the answers say"), "faint"));
    m_verdict = paragraph({}, "heading");
    column->addWidget(m_verdict);
    m_share = paragraph();
    column->addWidget(m_share);
    m_picture = new ChancePicture;
    column->addWidget(m_picture);
    column->addStretch();
    auto* steps = new QHBoxLayout;
    steps->addStretch();
    auto* again = new Button(tr("Try the same two once more"));
    connect(again, &QPushButton::clicked, this, [this] {
        AbxTrial& trial = m_services.trial;
        const auto first = trial.first().id;
        const auto second = trial.second().id;
        if (const QString hindrance = trial.hindrance(first, second); !hindrance.isEmpty())
            return m_services.notices.say(hindrance);
        trial.begin(first, second, trial.sheet().rounds());
    });
    steps->addWidget(again);
    m_save = new Button(tr("Save as a file"));
    connect(m_save, &QPushButton::clicked, this, &TrialView::save);
    steps->addWidget(m_save);
    steps->addStretch();
    column->addLayout(steps);
    return box;
}

void TrialView::save()
{
    const QString file = QFileDialog::getSaveFileName(this, tr("Save the trial"), QStringLiteral("trial.json"),
                                                      tr("Whole (*.json);;Answers as a table (*.csv)"));
    if (!file.isEmpty())
        (void)m_services.notices.said(
            exchange::writeTrial(QFile::encodeName(file).toStdString(), m_services.trial.document()));
}

QWidget* TrialView::makeSide()
{
    auto* side = new QWidget;
    side->setFixedWidth(320);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    auto* same = new Sheet;
    auto* facts = new QVBoxLayout(same);
    facts->setContentsMargins(16, 12, 16, 12);
    facts->addWidget(label(tr("The same for all three"), "strong"));
    m_loudness = fact(*facts, tr("loudness over the section"));
    m_apart = fact(*facts, tr("apart by at most"));
    facts->addWidget(
        paragraph(tr("Meters and the fair line are covered until the end, and X has a lane of its own: nothing "
                     "on the screen knows more than you do."),
                  "faint"));
    column->addWidget(same);

    auto* answers = new Sheet;
    auto* below = new QVBoxLayout(answers);
    below->setContentsMargins(16, 12, 16, 12);
    below->setSpacing(8);
    below->addWidget(label(tr("Answers given"), "strong"));
    auto* boxes = new QWidget;
    m_answers = new QGridLayout(boxes);
    m_answers->setContentsMargins(0, 0, 0, 0);
    m_answers->setSpacing(4);
    below->addWidget(boxes);
    below->addWidget(label(tr("What it will say"), "strong"));
    m_forecast = paragraph();
    below->addWidget(m_forecast);
    below->addWidget(label(tr("Earlier trials of these two"), "strong"));
    auto* earlier = new QWidget;
    m_earlier = new QVBoxLayout(earlier);
    m_earlier->setContentsMargins(0, 0, 0, 0);
    below->addWidget(earlier);
    below->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(answers);
    column->addWidget(scroll, 1);
    return side;
}

void TrialView::addActions()
{
    AbxTrial* trial = &m_services.trial;
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
    const AbxTrial& trial = m_services.trial;
    if (trial.stage() == Stage::None)
        return;
    static_cast<ElidedLabel*>(m_subtitle)
        ->setWhole(tr("%1 against %2 · %3 rounds, fixed before the first answer")
                       .arg(trial.first().title,
                            trial.second().isUntreated() ? tr("the untreated source") : trial.second().title)
                       .arg(trial.sheet().rounds()));
    const bool over = trial.stage() == Stage::Over;
    m_stop->setText(over ? tr("Back to the line-up") : tr("Stop, and record that it was stopped"));
    m_middle->setCurrentIndex(over ? 1 : 0);
    over ? showResult() : showQuestion();
    const std::pair now(trial.stage(), trial.sheet().answered());
    if (now == m_shown)
        return; // somebody else is heard, which is all
    m_shown = now;
    showAnswers();
    const auto common = m_services.line_up.commonLufs();
    m_loudness->setText(common ? tr("%1 LUFS").arg(number(*common, 1)) : tr("–"));
    m_apart->setText(tr("%1 LU").arg(number(trial.apartLu(), 2)));
    m_forecast->setText(QString::fromStdString(audition::forecast(trial.sheet().rounds())));
    showEarlier();
}

void TrialView::showQuestion()
{
    const AbxTrial& trial = m_services.trial;
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
    const audition::AbxSheet& sheet = m_services.trial.sheet();
    m_verdict->setText(QString::fromStdString(sheet.sentence()));
    m_picture->setVisible(sheet.answered() > 0);
    m_share->setVisible(sheet.answered() > 0);
    m_save->setVisible(sheet.answered() > 0);
    if (sheet.answered() == 0)
        return;
    const audition::Interval share = audition::shareRight(sheet.correct(), sheet.answered());
    m_share->setText(
        tr("In the long run between %1 and %2 of 100 would be right (95 in 100 such statements hold); "
           "guessing has 50.")
            .arg(number(100 * share.low, 0), number(100 * share.high, 0)));
    m_picture->show(audition::chanceOfEach(sheet.answered()), sheet.correct(),
                    audition::leastToBeHeard(sheet.answered()).value_or(-1));
}

/// While it goes on, that an answer was given; afterwards, whether it was right.
void TrialView::showAnswers()
{
    const AbxTrial& trial = m_services.trial;
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

void TrialView::showEarlier()
{
    clear(*m_earlier);
    const AbxTrial& trial = m_services.trial;
    int shown = 0;
    for (const library::Trial& earlier : trial.earlier(trial.first().id, trial.second().id)) {
        if (shown++ == earlier_shown)
            break;
        const auto& document = earlier.document;
        const auto result = document.value("result", nlohmann::ordered_json::object());
        const auto source = document.value("source", nlohmann::ordered_json::object());
        auto* line = new ElidedLabel(
            tr("%1 of %2 · %3 · %4")
                .arg(result.value("correct", 0))
                .arg(result.value("answered", 0))
                .arg(QString::fromStdString(source.value("title", std::string())),
                     QString::fromStdString(document.value("started", std::string())).left(10)));
        line->setToolTip(QString::fromStdString(result.value("sentence", std::string())));
        m_earlier->addWidget(line);
    }
    if (shown == 0)
        m_earlier->addWidget(label(tr("none yet"), "faint"));
}

} // namespace hr::app

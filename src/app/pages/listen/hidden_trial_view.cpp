// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/hidden_trial_view.h"

#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/parameter_row.h"

#include <QHBoxLayout>
#include <algorithm>
#include <numeric>

namespace hr::app {

namespace {

using audition::RatingSheet;
using Stage = BlindTrial::Stage;

constexpr int grade_step = 5;
constexpr int row_height = 42;

QString shown(HiddenTrial::Label label)
{
    return QString::number(label + 1);
}

QString gradeWord(int grade)
{
    const auto& words = audition::grade_words;
    const auto part =
        std::min(static_cast<std::size_t>(grade) / (audition::best_grade / words.size()), words.size() - 1);
    return QString::fromLatin1(words[part]);
}

} // namespace

// --- what both have -----------------------------------------------------------------------------------

HiddenTrialView::HiddenTrialView(HiddenTrial& trial, const ListenServices& services, QWidget* parent)
    : TrialFrame(trial, services.line_up, services.notices, parent), m_services(services), m_trial(trial)
{
}

void HiddenTrialView::build(const QString& key, const QString& title, const QString& explanation,
                            const QString& done)
{
    m_picture = new StandingPicture;
    setMiddle(makeQuestion(title, explanation, done),
              makeResult(m_picture, tr("Try the same ones once more"), [this] { beginAgain(); }));
    addEarlier(tr("Earlier trials of these"));
    addActions(key);
    connect(&m_trial, &BlindTrial::changed, this, &HiddenTrialView::refresh);
}

QWidget* HiddenTrialView::makeQuestion(const QString& title, const QString& explanation, const QString& done)
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(32, 20, 32, 20);
    column->setSpacing(8);
    m_pass = label({}, "faint");
    column->addWidget(m_pass);
    column->addWidget(label(title, "title"));
    column->addWidget(paragraph(explanation, "faint"));
    auto* head = new QHBoxLayout;
    m_reference = new Button(tr("0  the source, open"));
    m_reference->setVisible(m_trial.hasOpenReference());
    connect(m_reference, &QPushButton::clicked, this, [this] { m_trial.hear({}); });
    head->addWidget(m_reference);
    m_legend = label({}, "faint");
    if (m_trial.hasOpenReference())
        head->addStretch(); // so that it stands over the tracks
    head->addWidget(m_legend);
    head->addStretch();
    column->addLayout(head);
    m_column = new QVBoxLayout;
    m_column->setSpacing(6);
    column->addLayout(m_column);
    column->addStretch();
    auto* end = new QHBoxLayout;
    m_why_not = label({}, "faint");
    end->addWidget(m_why_not);
    end->addStretch();
    m_done = (new Button(done))->main();
    m_done->setFixedHeight(36);
    connect(m_done, &QPushButton::clicked, this, [this] { answer(); });
    end->addWidget(m_done);
    column->addLayout(end);
    return box;
}

QWidget* HiddenTrialView::makeRow(Label which)
{
    auto* widget = new QWidget;
    widget->setFixedHeight(row_height);
    auto* row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(14);
    auto* hear = new Button(shown(which));
    hear->setFixedSize(52, row_height - 6);
    hear->setCheckable(true);
    hear->setAccessibleName(tr("hear %1").arg(shown(which)));
    connect(hear, &QPushButton::clicked, this, [this, which] { m_trial.hear(which); });
    row->addWidget(hear);
    QLabel* state = label({}, "faint");
    state->setFixedWidth(110);
    row->addWidget(state);
    row->addWidget(makeJudgement(which), 1);
    m_rows.push_back({widget, hear, state});
    return widget;
}

void HiddenTrialView::makeRows()
{
    clear(*m_column);
    m_rows.clear();
    for (Label which = 0; which < m_trial.labels(); ++which)
        makeRow(which);
    layOutRows();
}

void HiddenTrialView::layOutRows()
{
    for (const Row& row : m_rows)
        m_column->removeWidget(row.widget);
    for (const Label which : order())
        m_column->addWidget(m_rows[which].widget);
}

void HiddenTrialView::addActions(const QString& key)
{
    const QString group = tr("Blind trial");
    const auto not_now = [this] {
        return m_trial.stage() == Stage::Asking ? QString()
                                                : tr("No such trial is under way: B on Listen begins one.");
    };
    const auto step = [this](int by) {
        const auto count = static_cast<int>(m_trial.labels());
        const int now = m_trial.heard() ? static_cast<int>(*m_trial.heard()) : -1;
        m_trial.hear(static_cast<Label>(std::clamp(now + by, 0, count - 1)));
    };
    const auto judged = [this](int by) {
        if (m_trial.heard())
            judge(*m_trial.heard(), by);
    };
    const auto add = [&](const char* what, const QString& words, Qt::Key shortcut, std::function<void()> run) {
        m_services.actions.add({key + QLatin1Char('.') + QLatin1String(what),
                                words,
                                group,
                                shortcut,
                                std::move(run),
                                not_now,
                                {},
                                this});
    };
    add("previous", tr("hear the hidden one before"), Qt::Key_Left, [step] { step(-1); });
    add("next", tr("hear the hidden one after"), Qt::Key_Right, [step] { step(1); });
    add("better", tr("judge it better than before"), Qt::Key_Up, [judged] { judged(1); });
    add("worse", tr("judge it worse than before"), Qt::Key_Down, [judged] { judged(-1); });
}

void HiddenTrialView::beginAgain()
{
    std::vector<ContenderId> candidates;
    for (const Contender& contender : m_trial.tried())
        candidates.push_back(contender.id);
    if (const QString disabledReason = m_trial.disabledReason(candidates); !disabledReason.isEmpty())
        return m_services.notices.say(disabledReason);
    m_trial.begin(candidates, m_trial.passes());
}

void HiddenTrialView::refresh()
{
    if (m_trial.stage() == Stage::None)
        return;
    const std::pair now(m_trial.stage(), m_trial.pass());
    const bool another = now != m_shown;
    const bool new_pass =
        m_trial.isRunning() && (now.second != m_shown.second || m_shown.first == Stage::Over ||
                                m_shown.first == Stage::None || m_rows.empty());
    m_shown = now;
    showFrame(subtitle());
    if (new_pass) {
        startPass();
        makeRows();
        showEarlier();
        setFocus(); // the button that was pressed is off: so that the keys go on being this view's
    }
    if (m_trial.isRunning())
        return showRows();
    if (another) {
        showVerdict(QString::fromStdString(m_trial.sentence()), {});
        if (!m_trial.document().is_null())
            showStandings(*m_picture);
        showEarlier();
    }
}

void HiddenTrialView::showRows()
{
    const bool asks = m_trial.stage() == Stage::Asking;
    m_pass->setText(asks ? tr("Pass %1 of %2. Listen as often as you like; answer once.")
                               .arg(m_trial.pass() + 1)
                               .arg(m_trial.passes())
                         : tr("Getting ready: everything that will be heard is being opened."));
    m_legend->setText(legend());
    m_reference->setEnabled(asks);
    for (Label which = 0; which < m_rows.size(); ++which) {
        const Row& row = m_rows[which];
        const bool heard = asks && m_trial.heard() == which;
        row.hear->setChecked(heard);
        row.state->setText(heard                     ? tr("● audible now")
                           : m_trial.wasHeard(which) ? tr("heard")
                                                     : tr("not heard yet"));
        row.widget->setEnabled(asks);
    }
    const QString why_not = m_trial.whyNotAnswer();
    m_why_not->setText(asks ? why_not : QString());
    m_done->setEnabled(why_not.isEmpty());
}

// --- preference ---------------------------------------------------------------------------------------

PreferenceView::PreferenceView(const ListenServices& services, QWidget* parent)
    : HiddenTrialView(services.trials.preference, services, parent)
{
    build(
        QStringLiteral("preference"), tr("Which do you like best?"),
        tr("Left and right go from one to the next; up and down move the audible one. The numbers are shuffled "
           "again in every pass."),
        tr("Keep this order"));
}

QWidget* PreferenceView::makeJudgement(Label which)
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    for (const int by : {1, -1}) {
        auto* button = new Button(by > 0 ? tr("↑ better") : tr("↓ worse"));
        button->setAccessibleName(by > 0 ? tr("%1 is better than the one above it").arg(shown(which))
                                         : tr("%1 is worse than the one below it").arg(shown(which)));
        connect(button, &QPushButton::clicked, this, [this, which, by] { judge(which, by); });
        row->addWidget(button);
    }
    row->addStretch();
    return box;
}

QString PreferenceView::subtitle() const
{
    const PreferenceTrial& trial = m_services.trials.preference;
    return tr("%1 hidden, put in order %2 times, fixed before the first answer")
        .arg(trial.labels())
        .arg(trial.passes());
}

void PreferenceView::startPass()
{
    m_order.resize(m_services.trials.preference.labels());
    std::iota(m_order.begin(), m_order.end(), Label{0});
}

void PreferenceView::judge(Label which, int by)
{
    const auto found = std::ranges::find(m_order, which);
    if (found == m_order.end() || (by > 0 ? found == m_order.begin() : found + 1 == m_order.end()))
        return;
    std::iter_swap(found, by > 0 ? found - 1 : found + 1);
    layOutRows();
}

std::vector<Standing> PreferenceView::standings() const
{
    const PreferenceTrial& trial = m_services.trials.preference;
    const auto agreement = trial.sheet().agreement();
    std::vector<Standing> all;
    for (const std::size_t candidate : agreement->together) {
        const Contender& contender = trial.tried()[candidate];
        Standing standing{contender.mark, contender.calledHere(), {}, agreement->mean_ranks[candidate], 0, 0};
        for (const audition::Ranking& ranking : trial.sheet().rankings())
            standing.answers.push_back(
                1.0 + static_cast<double>(std::ranges::find(ranking, candidate) - ranking.begin()));
        standing.low = std::ranges::min(standing.answers);
        standing.high = std::ranges::max(standing.answers);
        all.push_back(std::move(standing));
    }
    return all;
}

void PreferenceView::showStandings(StandingPicture& picture)
{
    picture.show(standings(), 1, static_cast<double>(m_services.trials.preference.labels()),
                 tr("place, 1 the best: a dot for each pass, and their mean"));
}

// --- rating -------------------------------------------------------------------------------------------

RatingView::RatingView(const ListenServices& services, QWidget* parent)
    : HiddenTrialView(services.trials.rating, services, parent)
{
    build(QStringLiteral("rating"), tr("How good is each, beside the source?"),
          tr("The source itself is among them, and is worth 100, and so are two of it without its highs. Left "
             "and right go from one to the next; up and down grade the audible one."),
          tr("Keep these grades"));
}

QWidget* RatingView::makeJudgement(Label which)
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    processors::ParameterInfo scale;
    scale.name = tr("grade of %1").arg(shown(which)).toStdString();
    scale.maximum = audition::best_grade;
    scale.scale = processors::Scale::Integer;
    auto* track = new Track(scale);
    row->addWidget(track, 1);
    QLabel* word = label({}, "figure");
    word->setFixedWidth(120);
    row->addWidget(word);
    m_tracks.push_back(track);
    m_words.push_back(word);
    connect(track, &Track::moved, this, [this, which](double grade) {
        m_grades[which] = static_cast<int>(grade);
        show(which);
    });
    show(which);
    return box;
}

void RatingView::show(Label which)
{
    m_tracks[which]->setValue(m_grades[which]);
    m_words[which]->setText(tr("%1  %2").arg(m_grades[which], 3).arg(gradeWord(m_grades[which])));
}

std::vector<HiddenTrialView::Label> RatingView::order() const
{
    std::vector<Label> order(m_grades.size());
    std::iota(order.begin(), order.end(), Label{0});
    return order;
}

QString RatingView::subtitle() const
{
    const RatingTrial& trial = m_services.trials.rating;
    return tr("%1 hidden, graded %2 times after ITU-R BS.1534, fixed before the first answer")
        .arg(trial.labels())
        .arg(trial.passes());
}

QString RatingView::legend() const
{
    return tr("0 bad · 20 poor · 40 fair · 60 good · 80 excellent · 100");
}

void RatingView::startPass()
{
    m_grades.assign(m_services.trials.rating.labels(), 0);
    m_tracks.clear();
    m_words.clear();
}

void RatingView::judge(Label which, int by)
{
    m_grades[which] = std::clamp(m_grades[which] + by * grade_step, 0, audition::best_grade);
    show(which);
}

std::vector<Standing> RatingView::standings() const
{
    const RatingTrial& trial = m_services.trials.rating;
    const auto names = trial.names();
    const auto grades = trial.sheet().grades();
    std::vector<Standing> all;
    for (std::size_t who = 0; who < grades.size(); ++who) {
        const bool candidate = who >= RatingSheet::first_candidate;
        const Contender* contender = candidate ? &trial.tried()[who - RatingSheet::first_candidate] : nullptr;
        Standing standing{contender                       ? contender->mark
                          : who == RatingSheet::reference ? 0
                                                          : -1,
                          contender ? contender->calledHere() : QString::fromStdString(names[who]),
                          {grades[who].given.begin(), grades[who].given.end()},
                          grades[who].median,
                          grades[who].lower_quartile,
                          grades[who].upper_quartile};
        all.push_back(std::move(standing));
    }
    std::ranges::stable_sort(all, std::greater(), &Standing::middle);
    return all;
}

void RatingView::showStandings(StandingPicture& picture)
{
    picture.show(standings(), 0, audition::best_grade,
                 tr("grade: a dot for each pass, their median, and the middle half of them"));
}

} // namespace hr::app

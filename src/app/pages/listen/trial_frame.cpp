// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/trial_frame.h"

#include "audition/trial/pooled.h"
#include "exchange/trial_file.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QFile>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int earlier_shown = 6;

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

TrialFrame::TrialFrame(BlindTrial& trial, LineUp& line_up, Notices& notices, QWidget* parent)
    : QWidget(parent), m_trial(trial), m_line_up(line_up), m_notices(notices)
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
    connect(m_stop, &QPushButton::clicked, this,
            [this] { m_trial.isRunning() ? m_trial.stop() : m_trial.putAway(); });
    top->addWidget(m_stop);
    page->addLayout(top);

    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    auto* middle = new Sheet;
    m_middle = new Stack(middle);
    row->addWidget(middle, 1);
    auto* beside = new QWidget;
    beside->setFixedWidth(320);
    auto* column = new QVBoxLayout(beside);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    auto* same = new Sheet;
    auto* facts = new QVBoxLayout(same);
    facts->setContentsMargins(16, 12, 16, 12);
    facts->addWidget(label(tr("The same for all of them"), "strong"));
    m_loudness = fact(*facts, tr("loudness over the section"));
    m_apart = fact(*facts, tr("apart by at most"));
    facts->addWidget(paragraph(tr("Meters and the fair line are covered until the end, and what is hidden has "
                                  "lanes of its own: nothing on the screen knows more than you do."),
                               "faint"));
    column->addWidget(same);
    auto* below = new Sheet;
    m_side = new QVBoxLayout(below);
    m_side->setContentsMargins(16, 12, 16, 12);
    m_side->setSpacing(8);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(below);
    column->addWidget(scroll, 1);
    row->addWidget(beside);
    page->addLayout(row, 1);
}

void TrialFrame::setMiddle(QWidget* question, QWidget* result)
{
    m_middle->addWidget(question);
    m_middle->addWidget(result);
}

QWidget* TrialFrame::makeResult(QWidget* picture, const QString& again,
                                const std::function<void()>& begin_again)
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(32, 24, 32, 24);
    column->setSpacing(14);
    column->addWidget(label(tr("What the answers say"), "faint"));
    m_verdict = paragraph({}, "heading");
    column->addWidget(m_verdict);
    m_explanation = paragraph();
    column->addWidget(m_explanation);
    m_picture = picture;
    column->addWidget(m_picture);
    column->addStretch();
    auto* steps = new QHBoxLayout;
    steps->addStretch();
    auto* once_more = new Button(again);
    connect(once_more, &QPushButton::clicked, this, begin_again);
    steps->addWidget(once_more);
    m_save = new Button(tr("Save as a file"));
    connect(m_save, &QPushButton::clicked, this, &TrialFrame::save);
    steps->addWidget(m_save);
    steps->addStretch();
    column->addLayout(steps);
    return box;
}

void TrialFrame::save()
{
    askToSave(this, tr("Save the trial"), QStringLiteral("trial.json"),
              tr("Whole (*.json);;Answers as a table (*.csv)"),
              [this, document = m_trial.document()](const QString& file) {
                  m_notices.say(
                      savedOrWhy(exchange::writeTrial(QFile::encodeName(file).toStdString(), document), file));
              });
}

void TrialFrame::showFrame(const QString& subtitle)
{
    const bool over = m_trial.stage() == BlindTrial::Stage::Over;
    m_subtitle->setWhole(subtitle);
    m_stop->setText(over ? tr("Back to the line-up") : tr("Stop, and record that it was stopped"));
    m_middle->setCurrentIndex(over ? 1 : 0);
    const auto common = m_line_up.commonLufs();
    m_loudness->setText(common ? tr("%1 LUFS").arg(number(*common, 1)) : tr("–"));
    m_apart->setText(tr("%1 LU").arg(number(m_trial.apartLu(), 2)));
}

void TrialFrame::showVerdict(const QString& verdict, const QString& explanation)
{
    const bool answered = !m_trial.document().is_null();
    m_verdict->setText(verdict);
    m_explanation->setText(explanation);
    m_explanation->setVisible(answered && !explanation.isEmpty());
    m_picture->setVisible(answered);
    m_save->setVisible(answered);
}

void TrialFrame::addEarlier(const QString& heading)
{
    m_side->addWidget(label(heading, "strong"));
    auto* earlier = new QWidget;
    m_earlier = new QVBoxLayout(earlier);
    m_earlier->setContentsMargins(0, 0, 0, 0);
    m_side->addWidget(earlier);
    m_pool = new Button(tr("Pool them"));
    m_pool->setToolTip(tr("take all trials of the same ones as one, whoever answered"));
    connect(m_pool, &QPushButton::clicked, this, &TrialFrame::pool);
    m_side->addWidget(m_pool);
    m_pooled = paragraph({}, "faint");
    m_side->addWidget(m_pooled);
    m_side->addStretch();
}

/// Of those that there are when it is asked for.
void TrialFrame::pool()
{
    std::vector<nlohmann::ordered_json> documents;
    for (const library::Trial& earlier : m_trial.earlier())
        documents.push_back(earlier.document);
    const auto pooled = audition::pooledTrials(documents);
    m_pooled->setText(pooled.is_object()
                          ? QString::fromStdString(pooled.at("sentence").get<std::string>())
                          : tr("Fewer than two of them can be pooled: the others were at other settings, or "
                               "are not counted."));
}

void TrialFrame::showEarlier()
{
    clear(*m_earlier);
    m_pooled->setText({}); // only what was asked for, of what there was then
    const auto all = m_trial.earlier();
    m_pool->setVisible(m_trial.stage() == BlindTrial::Stage::Over && all.size() > 1);
    int shown = 0;
    for (const library::Trial& earlier : all) {
        if (shown++ == earlier_shown)
            break;
        const auto& document = earlier.document;
        const auto result = document.value("result", nlohmann::ordered_json::object());
        const auto source = document.value("source", nlohmann::ordered_json::object());
        const int answered = result.value("answered", 0);
        const QString score = result.contains("correct")
                                  ? tr("%1 of %2").arg(result.value("correct", 0)).arg(answered)
                              : answered == 1 ? tr("1 pass")
                                              : tr("%1 passes").arg(answered);
        auto* line = new ElidedLabel(
            tr("%1 · %2 · %3")
                .arg(score, QString::fromStdString(source.value("title", std::string())),
                     QString::fromStdString(document.value("started", std::string())).left(10)));
        line->setToolTip(QString::fromStdString(result.value("sentence", std::string())));
        m_earlier->addWidget(line);
    }
    if (shown == 0)
        m_earlier->addWidget(label(tr("none yet"), "faint"));
}

void TrialFrame::clear(QLayout& layout)
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

} // namespace hr::app

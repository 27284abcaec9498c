// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/fit_view.h"

#include "bench/labels.h"
#include "pages/measure/plain_table.h"
#include "processors/value_text.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QComboBox>
#include <QHeaderView>
#include <QListWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int fit_row_px = 22;
constexpr std::size_t ticked_at_first = 3;

QString testName(const std::string& key)
{
    for (const bench::TestInfo& test : bench::allTests())
        if (test.key == key)
            return QString::fromStdString(test.name);
    return QString::fromStdString(key);
}

QString apartText(const bench::Apart& apart)
{
    const QString by = QStringLiteral("%1 %2").arg(number(apart.by, apart.unit == "dB" ? 2 : 1),
                                                   QString::fromStdString(apart.unit));
    return apart.note.empty() ? by : FitView::tr("%1, %2").arg(by, QString::fromStdString(apart.note));
}

const bench::Apart* of(const std::vector<bench::Apart>& all, const std::string& test)
{
    const auto found = std::ranges::find(all, test, &bench::Apart::test);
    return found == all.end() ? nullptr : &*found;
}

QListWidgetItem* tickable(QListWidget* list, const QString& text, const QString& key, bool ticked)
{
    auto* item = new QListWidgetItem(text, list);
    item->setData(Qt::UserRole, key);
    item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
    item->setCheckState(ticked ? Qt::Checked : Qt::Unchecked);
    item->setSizeHint({0, fit_row_px});
    return item;
}

std::vector<std::string> tickedIn(const QListWidget* list)
{
    std::vector<std::string> keys;
    for (int row = 0; row < list->count(); ++row)
        if (list->item(row)->checkState() == Qt::Checked)
            keys.push_back(list->item(row)->data(Qt::UserRole).toString().toStdString());
    return keys;
}

} // namespace

FitView::FitView(LineUp& line_up, FitJob& job, const BenchConditions& conditions, QWidget* parent)
    : QWidget(parent), m_line_up(line_up), m_job(job), m_conditions(conditions)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    const auto chooser = [&](const QString& words, const QString& name) {
        row->addWidget(label(words, "faint"));
        auto* box = new QComboBox;
        box->setAccessibleName(name);
        box->setMinimumWidth(160);
        row->addWidget(box, 1);
        return box;
    };
    m_set = chooser(tr("set"), tr("which one is set"));
    m_like = chooser(tr("so that it behaves like"), tr("which one it is to behave like"));
    m_start = (new Button(tr("Fit")))->main();
    row->addWidget(m_start);
    column->addLayout(row);
    m_words = paragraph({}, "faint");
    column->addWidget(m_words);
    auto* lists = new QHBoxLayout;
    lists->setSpacing(12);
    const auto listed = [&](const QString& title, const QString& name) {
        auto* sheet = new Sheet;
        auto* inside = new QVBoxLayout(sheet);
        inside->setContentsMargins(14, 8, 8, 6);
        inside->addWidget(label(title, "strong"));
        auto* list = new QListWidget;
        list->setObjectName(QStringLiteral("tests"));
        list->setAccessibleName(name);
        inside->addWidget(list, 1);
        lists->addWidget(sheet, 1);
        return list;
    };
    m_parameters = listed(tr("What may be moved"), tr("parameters that may be moved"));
    m_tests = listed(tr("What is to be alike"), tr("tests that are to be alike"));
    column->addLayout(lists, 1);
    m_result = new QTableWidget;
    asFigures(*m_result, tr("how close it came"));
    column->addWidget(tableSheet(m_result), 1);
    for (const std::string& test : bench::comparableTests())
        tickable(m_tests, testName(test), QString::fromStdString(test), test == "response");
    connect(m_set, &QComboBox::currentIndexChanged, this, &FitView::fillParameters);
    connect(m_like, &QComboBox::currentIndexChanged, this, &FitView::refresh);
    for (QListWidget* list : {m_parameters, m_tests})
        connect(list, &QListWidget::itemChanged, this, &FitView::refresh);
    connect(m_start, &QPushButton::clicked, this, [this] { m_job.isRunning() ? m_job.cancel() : start(); });
    connect(&m_job, &FitJob::changed, this, &FitView::refresh);
    fillCandidates();
}

ContenderId FitView::like() const
{
    return m_like->currentData().value<quint64>();
}

ContenderId FitView::set() const
{
    return m_set->currentData().value<quint64>();
}

void FitView::fillCandidates()
{
    int which = 1; // at first the second like the first
    for (QComboBox* box : {m_set, m_like}) {
        const QVariant before = box->currentData();
        const QSignalBlocker quiet(box);
        box->clear();
        for (const Contender& candidate : m_line_up.candidates())
            if (candidate.isMeasurable())
                box->addItem(markLetter(candidate.mark) + QStringLiteral("  ") + candidate.calledHere(),
                             QVariant::fromValue<quint64>(candidate.id));
        const int same = box->findData(before);
        box->setCurrentIndex(same >= 0 ? same : std::min(which, box->count() - 1));
        which = 0;
    }
    fillParameters();
}

void FitView::fillParameters()
{
    const Contender* moved = m_line_up.find(set());
    const ContenderId now = moved ? moved->id : audition::no_contender;
    if (now != m_filled_for || now == audition::no_contender) {
        const QSignalBlocker quiet(m_parameters);
        m_parameters->clear();
        m_filled_for = now;
        std::vector<const processors::ParameterInfo*> movable;
        if (moved)
            for (const processors::ParameterInfo& p : moved->info.parameters)
                if (!p.hidden && p.scale != processors::Scale::Toggle && p.scale != processors::Scale::Choice)
                    movable.push_back(&p);
        // What a figure is known to answer to is worth moving; where none does, the first of them.
        const bool any = std::ranges::any_of(movable, [moved](const processors::ParameterInfo* p) {
            return bench::promiseOf(*p, moved->info.kind).has_value();
        });
        std::size_t ticked = 0;
        std::set<std::string> telling; // tests that the ticked ones are known to move
        for (const processors::ParameterInfo* p : movable) {
            const auto promise = bench::promiseOf(*p, moved->info.kind);
            const bool worth = ticked < ticked_at_first && (!any || promise);
            ticked += worth ? 1 : 0;
            if (worth && promise)
                telling.insert(promise->test);
            tickable(m_parameters, QString::fromStdString(p->name), QString::fromStdString(p->key), worth);
        }
        tickTests(telling);
    }
    refresh();
}

/// Those of them that can be compared; the response where none can.
void FitView::tickTests(const std::set<std::string>& keys)
{
    const QSignalBlocker quiet(m_tests);
    const auto& all = bench::comparableTests();
    const bool any = std::ranges::any_of(all, [&](const std::string& test) { return keys.contains(test); });
    for (int row = 0; row < m_tests->count(); ++row) {
        const auto key = m_tests->item(row)->data(Qt::UserRole).toString().toStdString();
        m_tests->item(row)->setCheckState((any ? keys.contains(key) : key == "response") ? Qt::Checked
                                                                                         : Qt::Unchecked);
    }
}

bench::FitOrder FitView::order() const
{
    bench::FitOrder order;
    if (const Contender* moved = m_line_up.find(set()))
        for (const std::string& key : tickedIn(m_parameters))
            if (const auto index = moved->info.parameterIndex(key))
                order.parameters.push_back(*index);
    order.tests = tickedIn(m_tests);
    return order;
}

void FitView::start()
{
    m_fitted = set();
    m_job.start(like(), set(), order(), m_conditions.now());
}

void FitView::refresh()
{
    const bool running = m_job.isRunning();
    const bench::FitOrder asked = order();
    const QString disabledReason =
        m_like->count() < 2 ? tr("It takes two candidates: add another from Find.")
        : m_line_up.candidates().size() >= LineUp::most_candidates && !running
            ? tr("The line-up holds eight candidates, and the result becomes one: remove one first.")
        : like() == set()                                         ? tr("Choose two that differ.")
        : asked.parameters.empty()                                ? tr("Tick what may be moved.")
        : asked.parameters.size() > bench::most_fitted_parameters ? tr("At most eight parameters at once.")
        : asked.tests.empty()                                     ? tr("Tick what is to be alike.")
                                                                  : QString();
    m_start->setText(running ? tr("Stop") : tr("Fit"));
    m_start->setEnabled(running || disabledReason.isEmpty());
    const auto& best = m_job.best();
    m_words->setText(
        running ? tr("Measuring it at one setting after another: %1 so far. Stop takes the best of them.")
                      .arg(best ? best->tried : 0)
        : !disabledReason.isEmpty() ? disabledReason
        : best
            ? tr("%1 settings were measured. What the level differs by is matched on Listen.").arg(best->tried)
            : tr("It is measured at one setting after another; the closest becomes a candidate of its own, "
                 "beside the one it is like."));
    setHeadings(*m_result, {tr("figure"), tr("before"), tr("now")});
    if (!best)
        return;
    for (const bench::Apart& before : best->before)
        if (const bench::Apart* after = of(best->after, before.test))
            addRow(*m_result, {testName(before.test), apartText(before), apartText(*after)});
    const Contender* moved = m_line_up.find(m_fitted);
    if (!moved || moved->values.size() != best->values.size())
        return;
    for (std::size_t i = 0; i < moved->values.size(); ++i)
        if (const processors::ParameterInfo& p = moved->info.parameters[i];
            best->values[i] != moved->values[i]) {
            const auto text = [&p](double value) {
                return QString::fromStdString(processors::valueWithUnit(p, value));
            };
            addRow(*m_result, {QString::fromStdString(p.name), text(moved->values[i]), text(best->values[i])});
        }
}

} // namespace hr::app

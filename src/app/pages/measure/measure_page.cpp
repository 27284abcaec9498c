// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/measure_page.h"

#include "pages/measure/bench_view.h"
#include "pages/measure/compared_view.h"
#include "pages/measure/conditions_sheet.h"
#include "pages/measure/figures_table.h"
#include "pages/measure/figures_view.h"
#include "pages/measure/fit_view.h"
#include "pages/measure/live_view.h"
#include "pages/measure/plot_sheet.h"
#include "pages/measure/selfcheck_panel.h"
#include "pages/measure/sweep_view.h"
#include "pages/measure/test_list.h"
#include "pages/measure/test_view.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <cmath>

namespace hr::app {

/// When, by which bench, and whether that was right.
QString MeasurePage::takenText(const MeasuredCandidate& candidate) const
{
    if (candidate.readings.empty())
        return {};
    const library::StoredReading& newest = candidate.readings.back();
    const QString version = candidate.benchVersionOf(newest);
    const QString taken = tr("Taken %1 by version %2 of the bench.")
                              .arg(QString(newest.taken).replace(QLatin1Char('T'), QLatin1Char(' ')), version);
    const auto check = library::lastBenchCheck(m_services.store);
    const QString checked =
        !check || !check->isOf(version) ? tr("The bench has not been checked since it has this version.")
        : check->isWithinLimits() ? tr("The bench was within its limits when it was checked, %1: %2 figures.")
                                        .arg(check->taken.left(10))
                                        .arg(check->passed)
                                  : tr("The bench was off when it was checked, %1: in %2 of %3 figures.")
                                        .arg(check->taken.left(10))
                                        .arg(check->failed)
                                        .arg(check->passed + check->failed);
    return taken + QLatin1Char('\n') + checked;
}

MeasurePage::MeasurePage(const Services& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    setObjectName(QStringLiteral("page"));
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(20, 16, 20, 12);
    page->setSpacing(10);
    page->addWidget(makeTop());
    m_content = new QWidget;
    auto* row = new QHBoxLayout(m_content);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(16);
    row->addWidget(makeBench());
    m_views = new Stack;
    m_views->addWidget(makePlots());
    row->addLayout(m_views, 1);
    page->addWidget(m_content, 1);
    auto* empty =
        new EmptyState(tr("Nothing on the bench yet"),
                       tr("Here you see what a processor does, in seventeen tests: measured to stated "
                          "tolerances, several processors over each other."),
                       tr("Find a processor"));
    connect(empty, &EmptyState::stepTaken, this, [this] { m_services.navigation.goTo(PageName::Find); });
    m_empty = empty;
    page->addWidget(m_empty, 1);

    connect(&m_services.line_up, &LineUp::contendersChanged, this, &MeasurePage::changed);
    connect(&m_services.line_up, &LineUp::valueChanged, this, &MeasurePage::changed);
    connect(&m_services.store.changes(), &library::Changes::measured, this, &MeasurePage::changed);
    connect(&m_services.conditions, &BenchConditions::changed, this, &MeasurePage::changed);
    connect(&m_services.bench, &BenchQueue::changed, this, [this] {
        if (isVisible())
            showProgress();
    });
}

/// What is not in sight is read once it is.
void MeasurePage::changed()
{
    m_outdated = true;
    if (isVisible())
        reload();
}

void MeasurePage::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    if (m_outdated)
        reload();
}

QWidget* MeasurePage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(label(tr("On the bench"), "title"));
    row->addSpacing(16);
    m_conditions = new ElidedLabel;
    m_conditions->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    row->addWidget(m_conditions, 1);
    auto* conditions = new Button(tr("Conditions"));
    connect(conditions, &QPushButton::clicked, this,
            [this] { openConditions(m_services.conditions, window()); });
    row->addWidget(conditions);
    m_cancel = new Button(tr("Stop"));
    connect(m_cancel, &QPushButton::clicked, &m_services.bench, &BenchQueue::cancel);
    row->addWidget(m_cancel);
    m_measure = (new Button(tr("Measure all")))->main();
    m_measure->setToolTip(tr("The ticked tests on every candidate"));
    connect(m_measure, &QPushButton::clicked, this, [this] {
        for (const Contender& contender : m_services.line_up.candidates())
            if (contender.isMeasurable())
                m_services.bench.measure(contender, m_tests->ticked(), m_services.conditions.now());
    });
    row->addWidget(m_measure);
    return top;
}

QWidget* MeasurePage::makeBench()
{
    auto* side = new QWidget;
    side->setFixedWidth(200);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    m_bench_list = new QVBoxLayout;
    m_bench_list->setSpacing(8);
    column->addLayout(m_bench_list);
    column->addSpacing(8);
    m_tests = new TestList;
    connect(m_tests, &TestList::chosen, this, &MeasurePage::showChosen);
    column->addWidget(m_tests, 1);
    m_selfcheck = new SelfcheckPanel(m_services.jobs, m_services.store);
    connect(m_selfcheck, &SelfcheckPanel::checked, this, [this] {
        showProgress();
        showChosen();
    });
    connect(m_selfcheck, &SelfcheckPanel::askedForAll, this,
            [this] { m_tests->choose(QLatin1String(TestList::checked)); });
    column->addWidget(m_selfcheck);
    return side;
}

QWidget* MeasurePage::makePlots()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    const auto sheetFor = [this](const char* test, const char* series, const QString& title) {
        const bench::PlotInfo* of = bench::plotOf(test, series);
        m_plots.emplace_back(of, plotFor(*of));
        return plotSheet(title, m_plots.back().second);
    };
    auto* top = new QHBoxLayout;
    top->setSpacing(12);
    top->addWidget(sheetFor("response", "magnitude", tr("Response")), 2);
    top->addWidget(sheetFor("transfer", "in_out", tr("In and out")), 1);
    column->addLayout(top, 5);
    auto* row = new QHBoxLayout;
    row->setSpacing(12);
    row->addWidget(sheetFor("harmonics", bench::harmonics_list, tr("Harmonics · odd: full, even: pale")), 1);
    row->addWidget(sheetFor("harmonics", "thd_over_level", tr("Distortion over level")), 1);
    column->addLayout(row, 4);

    m_table = new FiguresTable;
    QWidget* sheet = tableSheet(m_table);
    sheet->setFixedHeight(204);
    column->addWidget(sheet);
    return box;
}

void MeasurePage::reload()
{
    m_outdated = false;
    m_conditions->setWhole(
        tr("%1 · freshly started · settings as in the line-up").arg(m_services.conditions.text()));
    setRole(m_conditions, m_services.conditions.areStandard() ? "faint" : "caution");
    m_candidates.clear();
    for (const Contender& contender : m_services.line_up.candidates()) {
        if (contender.rendered)
            continue; // a sound is no processor
        MeasuredCandidate candidate{contender.mark, contender.calledHere(), {}, {}, false};
        if (contender.isMeasurable()) {
            const library::SetUp set_up = m_services.bench.setUpOf(contender);
            candidate.set_up = set_up.key();
            if (auto readings = m_services.store.runs.of(set_up, m_services.conditions.now()))
                candidate.readings = std::move(*readings);
            if (candidate.readings.empty())
                if (auto others = m_services.store.runs.latest(set_up.processor)) {
                    candidate.measured_otherwise = !others->empty();
                    candidate.under_others = std::ranges::any_of(
                        *others, [&](const auto& one) { return one.set_up == candidate.set_up; });
                    candidate.of_another_build = std::ranges::any_of(*others, [&](const auto& one) {
                        return one.settings == set_up.settings && one.set_up != candidate.set_up;
                    });
                }
        }
        m_candidates.push_back(std::move(candidate));
    }
    m_content->setVisible(!m_candidates.empty());
    m_empty->setVisible(m_candidates.empty());
    m_measure->setEnabled(!m_candidates.empty());
    fillPlots();
    fillTable();
    showChosen();
    showProgress();
}

void MeasurePage::showProgress()
{
    while (QLayoutItem* item = m_bench_list->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (const MeasuredCandidate& candidate : m_candidates) {
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        row->addWidget(new CandidateMark(candidate.mark), 0, Qt::AlignTop);
        auto* words = new QVBoxLayout;
        words->setSpacing(0);
        words->addWidget(new ElidedLabel(candidate.title));
        const auto progress = m_services.bench.progressOf(candidate.set_up, m_services.conditions.now());
        const QString state = progress && *progress < 0 ? tr("waiting")
                              : progress ? tr("running, %1 %").arg(static_cast<int>(*progress * 100))
                              : candidate.set_up.isEmpty()   ? tr("not open")
                              : candidate.under_others       ? tr("not under these conditions")
                              : candidate.of_another_build   ? tr("out of date: another build")
                              : candidate.measured_otherwise ? tr("not at these settings")
                              : candidate.isOfAnotherBench() ? tr("out of date: another bench")
                              : candidate.readings.empty()
                                  ? tr("not measured yet")
                                  : tr("measured %1").arg(candidate.readings.back().taken.left(10));
        auto* about =
            label(state, progress || candidate.measured_otherwise || candidate.isOfAnotherBench() ? "caution"
                                                                                                  : "faint");
        about->setToolTip(takenText(candidate));
        words->addWidget(about);
        row->addLayout(words, 1);
        m_bench_list->addWidget(line);
    }
    m_cancel->setVisible(m_services.bench.waiting() > 0);
}

void MeasurePage::fillPlots()
{
    for (const auto& [of, plot] : m_plots)
        fillPlot(*plot, m_candidates, *of);
}

void MeasurePage::fillTable()
{
    constexpr std::array<std::pair<const char*, const char*>, 16> shown{{{"response", "gain_1k_db"},
                                                                         {"response", "corner_low_hz"},
                                                                         {"response", "corner_high_hz"},
                                                                         {"transfer", "threshold_db"},
                                                                         {"transfer", "ratio"},
                                                                         {"transfer", "knee_db"},
                                                                         {"harmonics", "thd_percent"},
                                                                         {"harmonics", "thdn_db"},
                                                                         {"noise", "idle_dbfs"},
                                                                         {"loudness_shift", "shift_lu"},
                                                                         {"cost", "latency_found_samples"},
                                                                         {"response", "passband_db"},
                                                                         {"transfer", "makeup_db"},
                                                                         {"transfer", "clip_level_dbfs"},
                                                                         {"harmonics", "thd_db"},
                                                                         {"harmonics", "crest_change_db"}}};
    std::vector<FiguresTable::Row> rows;
    for (const auto& [test, key] : shown)
        rows.emplace_back(QString::fromLatin1(test), QString::fromLatin1(key));
    m_table->fill(m_candidates, rows);
}

/// The overview, the test that is chosen, or the sweep: made when they are first looked at.
void MeasurePage::showChosen()
{
    putChosen();
    for (const Plot* plot : findChildren<Plot*>())
        connect(plot, &Plot::told, this, &MeasurePage::told, Qt::UniqueConnection);
}

void MeasurePage::putChosen()
{
    const QString test = m_tests->current();
    if (test == QLatin1String(TestList::figures)) {
        if (!m_figures) {
            m_figures = new FiguresView;
            m_views->addWidget(m_figures);
            connect(m_figures, &FiguresView::told, this, &MeasurePage::told);
        }
        m_figures->fill(m_candidates);
        return m_views->setCurrentWidget(m_figures);
    }
    if (test == QLatin1String(TestList::sweep)) {
        if (!m_sweep) {
            m_sweep =
                new SweepView({m_services.line_up, m_services.sweep, m_services.store, m_services.conditions});
            m_views->addWidget(m_sweep);
        }
        m_sweep->fillCandidates();
        return m_views->setCurrentWidget(m_sweep);
    }
    if (test == QLatin1String(TestList::fit)) {
        if (!m_fit) {
            m_fit = new FitView(m_services.line_up, m_services.fit, m_services.conditions);
            m_views->addWidget(m_fit);
        }
        m_fit->fillCandidates();
        return m_views->setCurrentWidget(m_fit);
    }
    if (test == QLatin1String(TestList::compared)) {
        if (!m_compared) {
            m_compared = new ComparedView(m_services.line_up, m_services.comparing);
            m_views->addWidget(m_compared);
        }
        m_compared->fillCandidates();
        return m_views->setCurrentWidget(m_compared);
    }
    if (test == QLatin1String(TestList::live)) {
        if (!m_live) {
            m_live = new LiveView(m_services.live, m_services.line_up);
            m_views->addWidget(m_live);
        }
        return m_views->setCurrentWidget(m_live);
    }
    if (test == QLatin1String(TestList::checked)) {
        if (!m_checked) {
            m_checked = new BenchView;
            m_views->addWidget(m_checked);
        }
        m_checked->fill(m_selfcheck->last());
        return m_views->setCurrentWidget(m_checked);
    }
    if (m_view && m_view->test() != test)
        delete std::exchange(m_view, nullptr);
    if (!test.isEmpty() && !m_view) {
        m_view = new TestView(test);
        m_views->addWidget(m_view);
    }
    if (m_view)
        m_view->fill(m_candidates);
    if (m_view)
        m_views->setCurrentWidget(m_view);
    else
        m_views->setCurrentIndex(0);
}

void MeasurePage::showTest(const QString& test)
{
    m_tests->choose(test);
}

void MeasurePage::setThemeColours()
{
    if (m_sweep && m_sweep->plot())
        m_sweep->plot()->setThemeColours();
    changed();
}

} // namespace hr::app

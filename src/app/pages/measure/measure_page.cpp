// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/measure_page.h"

#include "pages/measure/selfcheck_panel.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/plot.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

/// Harmonics below this are the noise of 32-bit arithmetic and would only stretch the plot.
constexpr double least_harmonic_db = -140;

Sheet* plotSheet(const QString& title, const QString& how, Plot* plot)
{
    auto* sheet = new Sheet;
    auto* column = new QVBoxLayout(sheet);
    column->setContentsMargins(14, 8, 8, 6);
    column->setSpacing(2);
    auto* top = new QHBoxLayout;
    top->addWidget(label(title, "strong"));
    top->addSpacing(8);
    auto* words = new ElidedLabel(how);
    setRole(words, "faint");
    top->addWidget(words, 1);
    column->addLayout(top);
    column->addWidget(plot, 1);
    return sheet;
}

bool sameSettings(const nlohmann::ordered_json& measured, const Contender& contender)
{
    for (std::size_t i = 0; i < contender.values.size(); ++i) {
        const auto found = measured.find(contender.info.parameters[i].key);
        if (found == measured.end() || !found->is_number() ||
            std::abs(found->get<double>() - contender.values[i]) >
                1e-6 * std::max(1.0, std::abs(contender.values[i])))
            return false;
    }
    return true;
}

} // namespace

const bench::Reading* MeasurePage::Benched::reading(const QString& test) const
{
    const auto found = std::ranges::find(readings, test, &library::StoredReading::test);
    return found == readings.end() ? nullptr : &found->reading;
}

MeasurePage::MeasurePage(Desk& desk, QWidget* parent) : QWidget(parent), m_desk(desk)
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
    row->addWidget(makePlots(), 1);
    page->addWidget(m_content, 1);
    auto* empty =
        new EmptyState(tr("Nothing on the bench yet"),
                       tr("Here you see what a processor does: its frequency response and its harmonics, "
                          "measured to stated tolerances, several processors over each other."),
                       tr("Find a processor"));
    connect(empty, &EmptyState::stepTaken, this, [this] { emit m_desk.goTo(PageName::Find); });
    m_empty = empty;
    page->addWidget(m_empty, 1);

    connect(&m_desk.line_up, &LineUp::contendersChanged, this, &MeasurePage::reload);
    connect(&m_desk.line_up, &LineUp::valueChanged, this, [this] { reload(); });
    connect(&m_desk.bench, &BenchQueue::measured, this, &MeasurePage::reload);
    connect(&m_desk.bench, &BenchQueue::changed, this, &MeasurePage::showProgress);
    reload();
}

QWidget* MeasurePage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(label(tr("On the bench"), "title"));
    row->addStretch();
    m_conditions = label(tr("48 kHz · block of 256 · freshly started · settings as in the line-up"), "faint");
    row->addWidget(m_conditions);
    m_cancel = new Button(tr("Stop"));
    connect(m_cancel, &QPushButton::clicked, &m_desk.bench, &BenchQueue::cancel);
    row->addWidget(m_cancel);
    m_measure = (new Button(tr("Measure all")))->main();
    connect(m_measure, &QPushButton::clicked, this, [this] {
        for (int lane = 1; lane < m_desk.line_up.count(); ++lane) {
            const Contender& contender = m_desk.line_up.at(lane);
            m_desk.bench.measure({contender.location, contender.info, contender.values, {}});
        }
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
    column->addStretch();
    column->addWidget(new SelfcheckPanel);
    return side;
}

QWidget* MeasurePage::makePlots()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    m_response = new Plot({tr("frequency"), QStringLiteral("Hz"), true, 0, 0},
                          {tr("magnitude"), QStringLiteral("dB"), false, 6, 2});
    auto* top = new QHBoxLayout;
    top->setSpacing(12);
    top->addWidget(plotSheet(tr("Response"), tr("exponential sweep at −30 dBFS, first output"), m_response), 2);
    m_in_out = new Plot({tr("in"), QStringLiteral("dBFS"), false, 0, 1},
                        {tr("out"), QStringLiteral("dBFS"), false, 6, 2});
    top->addWidget(plotSheet(tr("In and out"), tr("settled levels, 1 kHz"), m_in_out), 1);
    column->addLayout(top, 5);
    auto* row = new QHBoxLayout;
    row->setSpacing(12);
    m_harmonics = new Plot({tr("harmonic"), QStringLiteral("order"), false, 0, 0},
                           {tr("level"), QStringLiteral("dB"), false, 40, 1}, Drawing::Stems);
    row->addWidget(plotSheet(tr("Harmonics"), tr("1 kHz at −12 dBFS, against the fundamental"), m_harmonics),
                   1);
    m_over_level = new Plot({tr("level"), QStringLiteral("dBFS"), false, 0, 0},
                            {tr("THD"), QStringLiteral("%"), false, 0.01, 3});
    row->addWidget(plotSheet(tr("Distortion over level"), tr("1 kHz"), m_over_level), 1);
    column->addLayout(row, 4);

    auto* sheet = new Sheet;
    auto* inside = new QVBoxLayout(sheet);
    inside->setContentsMargins(6, 2, 6, 4);
    m_table = new QTableWidget;
    m_table->setObjectName(QStringLiteral("figures"));
    m_table->setAccessibleName(tr("figures"));
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionMode(QAbstractItemView::NoSelection);
    m_table->setShowGrid(false);
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setDefaultSectionSize(20);
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    inside->addWidget(m_table);
    sheet->setFixedHeight(204);
    column->addWidget(sheet);
    return box;
}

void MeasurePage::reload()
{
    m_benched.clear();
    for (int lane = 1; lane < m_desk.line_up.count(); ++lane) {
        const Contender& contender = m_desk.line_up.at(lane);
        Benched benched{lane, contender.title, {}, false};
        if (auto latest = m_desk.store->readings.latest(contender.id))
            benched.readings = std::move(*latest);
        benched.stale = std::ranges::any_of(benched.readings, [&](const library::StoredReading& stored) {
            return !sameSettings(stored.settings, contender);
        });
        m_benched.push_back(std::move(benched));
    }
    m_content->setVisible(!m_benched.empty());
    m_empty->setVisible(m_benched.empty());
    m_measure->setEnabled(!m_benched.empty());
    fillPlots();
    fillTable();
    showProgress();
}

void MeasurePage::showProgress()
{
    while (QLayoutItem* item = m_bench_list->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (const Benched& benched : m_benched) {
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        row->addWidget(new CandidateMark(benched.lane), 0, Qt::AlignTop);
        auto* words = new QVBoxLayout;
        words->setSpacing(0);
        words->addWidget(new ElidedLabel(benched.title));
        const auto progress = m_desk.bench.progressOf(m_desk.line_up.at(benched.lane).id);
        const QString state = progress && *progress < 0 ? tr("waiting")
                              : progress ? tr("running, %1 %").arg(static_cast<int>(*progress * 100))
                              : benched.readings.empty() ? tr("not measured yet")
                              : benched.stale            ? tr("settings have changed since")
                                              : tr("measured %1").arg(benched.readings.back().taken.left(10));
        words->addWidget(label(state, progress || benched.stale ? "caution" : "faint"));
        row->addLayout(words, 1);
        m_bench_list->addWidget(line);
    }
    m_cancel->setVisible(m_desk.bench.waiting() > 0);
}

void MeasurePage::fillPlots()
{
    std::vector<Curve> magnitude;
    std::vector<Curve> in_out;
    std::vector<Curve> harmonics;
    std::vector<Curve> over_level;
    for (const Benched& benched : m_benched) {
        const QString name =
            markLetter(benched.lane) + QLatin1Char(' ') + benched.title.section(QLatin1Char(' '), 0, 0);
        if (const auto* response = benched.reading(QStringLiteral("response"));
            response && response->series.contains("magnitude"))
            magnitude.push_back({benched.lane, name, response->series.at("magnitude").points});
        if (const auto* transfer = benched.reading(QStringLiteral("transfer"));
            transfer && transfer->series.contains("in_out"))
            in_out.push_back({benched.lane, name, transfer->series.at("in_out").points});
        const auto* distortion = benched.reading(QStringLiteral("harmonics"));
        if (!distortion)
            continue;
        Curve orders{benched.lane, name, {}};
        if (const auto list = distortion->figures.find("harmonics_db");
            list != distortion->figures.end() && list->is_array())
            for (std::size_t i = 0; i < list->size(); ++i)
                if ((*list)[i].is_number() && (*list)[i].get<double>() > least_harmonic_db)
                    orders.points.emplace_back(static_cast<double>(i + 2), (*list)[i].get<double>());
        harmonics.push_back(std::move(orders));
        if (distortion->series.contains("thd_over_level"))
            over_level.push_back({benched.lane, name, distortion->series.at("thd_over_level").points});
    }
    m_response->setCurves(std::move(magnitude));
    m_in_out->setCurves(std::move(in_out));
    m_harmonics->setCurves(std::move(harmonics));
    m_over_level->setCurves(std::move(over_level));
}

void MeasurePage::fillTable()
{
    m_table->clear();
    m_table->setRowCount(0);
    m_table->setColumnCount(1 + static_cast<int>(m_benched.size()));
    QStringList header{tr("figure")};
    for (const Benched& benched : m_benched)
        header << markLetter(benched.lane) + QStringLiteral("  ") + benched.title;
    m_table->setHorizontalHeaderLabels(header);
    m_table->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    for (int column = 1; column < m_table->columnCount(); ++column)
        m_table->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    const QString response = QStringLiteral("response");
    const QString harmonics = QStringLiteral("harmonics");
    const QString transfer = QStringLiteral("transfer");
    addFigure(tr("gain at 1 kHz"), response, "gain_1k_db", tr("dB"), 3,
              tr("magnitude of the first output at 1 kHz"));
    addFigure(tr("lower corner"), response, "corner_low_hz", tr("Hz"), 1, tr("3.01 dB below the passband"));
    addFigure(tr("upper corner"), response, "corner_high_hz", tr("Hz"), 1, tr("3.01 dB below the passband"));
    addFigure(
        tr("threshold"), transfer, "threshold_db", tr("dB"), 2,
        tr("of the knee model fitted to the settled levels; where the gain jumps, the level at which it does"));
    addFigure(tr("ratio"), transfer, "ratio", tr(":1"), 2, tr("input dB per output dB beyond the threshold"));
    addFigure(tr("knee"), transfer, "knee_db", tr("dB"), 1, tr("width of the quadratic knee"));
    addFigure(tr("THD"), harmonics, "thd_percent", tr("%"), 4,
              tr("harmonics 2 to 20 against the fundamental, 1 kHz at −12 dBFS"));
    addFigure(tr("THD+N"), harmonics, "thdn_db", tr("dB"), 2,
              tr("AES17: everything but the fundamental, 20 Hz to 20 kHz, against the total"));
    addFigure(tr("passband"), response, "passband_db", tr("dB"), 3,
              tr("the level that most of the response between 20 Hz and 0.45 fs has"));
    addFigure(tr("make-up"), transfer, "makeup_db", tr("dB"), 2, tr("gain where nothing is compressed"));
    addFigure(tr("clip level"), transfer, "clip_level_dbfs", tr("dBFS"), 2,
              tr("where a full-scale sine of 20 Hz is cut flat"));
    addFigure(tr("THD"), harmonics, "thd_db", tr("dB"), 1, tr("as a level against the fundamental"));
    addFigure(tr("crest change"), harmonics, "crest_change_db", tr("dB"), 2,
              tr("crest factor of the output against that of the sine"));
}

void MeasurePage::addFigure(const QString& name, const QString& test, const char* key, const QString& unit,
                            int digits, const QString& definition)
{
    const int row = m_table->rowCount();
    m_table->insertRow(row);
    auto* title = new QTableWidgetItem(tr("%1, %2").arg(name, unit));
    title->setToolTip(definition);
    m_table->setItem(row, 0, title);
    for (std::size_t i = 0; i < m_benched.size(); ++i) {
        const bench::Reading* reading = m_benched[i].reading(test);
        const auto value = reading ? reading->number(key) : std::nullopt;
        // What was not measured is blank; what does not exist says why.
        auto* cell = new QTableWidgetItem(value ? figureText(*value, unit, digits) : QString());
        if (reading && !value)
            if (const auto reason = reading->reasons.find(key); reason != reading->reasons.end()) {
                cell->setText(tr("none"));
                cell->setToolTip(QString::fromStdString(reason->second));
                cell->setForeground(Theme::palette().faint);
            }
        cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        cell->setFont(Theme::figures(12));
        m_table->setItem(row, static_cast<int>(i) + 1, cell);
    }
}

void MeasurePage::setThemeColours()
{
    reload();
}

} // namespace hr::app

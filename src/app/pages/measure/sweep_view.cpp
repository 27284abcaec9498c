// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/sweep_view.h"

#include "bench/figure_text.h"
#include "pages/measure/plain_table.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QComboBox>
#include <QHeaderView>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int usual_steps = 9;
constexpr int usual_beside_steps = 3;
constexpr int table_height = 250; // nine steps whole

/// What a label can promise beside the figures themselves (bench/labels.h), by "test.figure".
const std::vector<std::pair<QString, QString>>& gatheredFigures()
{
    static const std::vector<std::pair<QString, QString>> all{
        {QStringLiteral("response.corners"), QObject::tr("nearest corner, peak or notch, Hz")},
        {QStringLiteral("movement.rates"), QObject::tr("nearest rate of movement, Hz")},
        {QStringLiteral("echoes.first_ms"), QObject::tr("nearest echo, ms")}};
    return all;
}

/// "6.00 dB"
QString with(const QString& value, const QString& unit)
{
    return unit.isEmpty() ? value : value + QLatin1Char(' ') + unit;
}

/// "Knee, dB"
QString titled(const QString& what, const QString& unit)
{
    return unit.isEmpty() ? what : QStringLiteral("%1, %2").arg(what, unit);
}

} // namespace

SweepView::SweepView(const Services& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    makeChoices(*column);
    m_meaning = paragraph({}, "faint");
    column->addWidget(m_meaning);
    auto* sheet = new Sheet;
    m_plot_place = new QVBoxLayout(sheet);
    m_plot_place->setContentsMargins(14, 8, 8, 6);
    m_nothing = label(tr("Here is drawn what is measured against what is set, beside the line that an honest "
                         "label would give."),
                      "faint");
    m_plot_place->addWidget(m_nothing, 1, Qt::AlignCenter);
    column->addWidget(sheet, 1);
    m_table = new QTableWidget;
    asFigures(*m_table, tr("set against measured"));
    QWidget* below = tableSheet(m_table);
    below->setFixedHeight(table_height);
    column->addWidget(below);
    connect(&m_services.job, &SweepJob::changed, this, &SweepView::refresh);
    fillCandidates();
    refresh();
}

void SweepView::makeChoices(QVBoxLayout& column)
{
    auto* row = new QHBoxLayout;
    const auto chooser = [&](const QString& name) {
        auto* box = new QComboBox;
        box->setAccessibleName(name);
        box->setMinimumWidth(120);
        row->addWidget(box, 1);
        return box;
    };
    m_candidate = chooser(tr("candidate to sweep"));
    m_parameter = chooser(tr("parameter to sweep"));
    row->addWidget(label(tr("against"), "faint"));
    m_figure = chooser(tr("figure to read"));
    m_steps = new QSpinBox;
    m_steps->setRange(bench::fewest_sweep_steps, bench::most_sweep_steps);
    m_steps->setValue(usual_steps);
    m_steps->setAccessibleName(tr("steps"));
    m_steps->setSuffix(tr(" steps"));
    row->addWidget(m_steps);
    m_start = (new Button(tr("Sweep")))->main();
    row->addWidget(m_start);
    column.addLayout(row);
    auto* second = new QHBoxLayout;
    second->addWidget(label(tr("and all of it at settings of"), "faint"));
    m_beside = new QComboBox;
    m_beside->setAccessibleName(tr("another parameter"));
    second->addWidget(m_beside);
    m_beside_steps = new QSpinBox;
    m_beside_steps->setRange(bench::fewest_sweep_steps, bench::most_beside_steps);
    m_beside_steps->setValue(usual_beside_steps);
    m_beside_steps->setAccessibleName(tr("settings of the other parameter"));
    m_beside_steps->setSuffix(tr(" settings"));
    second->addWidget(m_beside_steps);
    second->addStretch();
    m_state = label({}, "faint");
    second->addWidget(m_state);
    column.addLayout(second);

    for (const auto& [key, name] : gatheredFigures())
        m_figure->addItem(name, key);
    for (const bench::TestInfo& test : bench::allTests())
        for (const bench::FigureInfo& figure : test.figures())
            if (figure.shape == bench::FigureShape::Number && test.key != "cost")
                m_figure->addItem(
                    tr("%1: %2").arg(QString::fromStdString(test.name),
                                     QString::fromStdString(bench::titleOf(test.key, figure.key, figure))),
                    QString::fromStdString(test.key + '.' + figure.key));
    connect(m_candidate, &QComboBox::currentIndexChanged, this, &SweepView::fillParameters);
    connect(m_parameter, &QComboBox::currentIndexChanged, this, &SweepView::guessFigure);
    connect(m_figure, &QComboBox::activated, this, &SweepView::remember);
    connect(m_start, &QPushButton::clicked, this,
            [this] { m_services.job.isRunning() ? m_services.job.cancel() : start(); });
    connect(m_beside, &QComboBox::currentIndexChanged, this,
            [this] { m_beside_steps->setEnabled(m_beside->currentData().isValid()); });
}

void SweepView::fillCandidates()
{
    const QVariant before = m_candidate->currentData();
    const QSignalBlocker quiet(m_candidate);
    m_candidate->clear();
    for (const Contender& candidate : m_services.line_up.candidates())
        if (candidate.isOpen() && !candidate.info.parameters.empty())
            m_candidate->addItem(markLetter(candidate.mark) + QStringLiteral("  ") + candidate.calledHere(),
                                 QVariant::fromValue<quint64>(candidate.id));
    const int same = m_candidate->findData(before);
    m_candidate->setCurrentIndex(same < 0 ? 0 : same);
    if (same < 0 || m_parameter->count() == 0)
        fillParameters();
}

const Contender* SweepView::contender() const
{
    return m_services.line_up.find(m_candidate->currentData().value<quint64>());
}

std::optional<std::size_t> SweepView::parameter() const
{
    const Contender* of = contender();
    const auto index = of ? of->info.parameterIndex(m_parameter->currentData().toString().toStdString())
                          : std::optional<std::size_t>();
    return index;
}

void SweepView::fillParameters()
{
    {
        const QSignalBlocker quiet(m_parameter);
        m_parameter->clear();
        int promising = -1;
        if (const Contender* of = contender())
            for (const processors::ParameterInfo& p : of->info.parameters) {
                if (p.scale == processors::Scale::Toggle || p.hidden)
                    continue;
                if (promising < 0 && bench::promiseOf(p, of->info.kind))
                    promising = m_parameter->count();
                m_parameter->addItem(QString::fromStdString(p.name), QString::fromStdString(p.key));
            }
        m_parameter->setCurrentIndex(std::max(promising, 0));
    }
    guessFigure();
}

/// What can stand beside the one that is swept.
void SweepView::fillBeside()
{
    const QVariant before = m_beside->currentData();
    m_beside->clear();
    m_beside->addItem(tr("no other parameter"));
    for (int i = 0; i < m_parameter->count(); ++i)
        if (i != m_parameter->currentIndex())
            m_beside->addItem(m_parameter->itemText(i), m_parameter->itemData(i));
    m_beside->setCurrentIndex(std::max(0, before.isValid() ? m_beside->findData(before) : 0));
    m_beside_steps->setEnabled(m_beside->currentIndex() > 0);
}

/// What the user has once said this label means; it stands for the processor, not for its place here.
QString SweepView::meaningKey() const
{
    const Contender* of = contender();
    return of ? QStringLiteral("label/%1/%2")
                    .arg(QString::fromStdString(of->location.id), m_parameter->currentData().toString())
              : QString();
}

void SweepView::guessFigure()
{
    fillBeside();
    const auto index = parameter();
    m_start->setEnabled(index.has_value());
    if (!index)
        return m_meaning->setText(tr("No candidate has a parameter to sweep: add one from Find."));
    const processors::ParameterInfo& p = contender()->info.parameters[*index];
    const auto guessed = bench::promiseOf(p, contender()->info.kind);
    const QString told = m_services.store.setting(meaningKey());
    const QString wanted = !told.isEmpty() ? told
                           : guessed       ? QString::fromStdString(guessed->test + '.' + guessed->figure)
                                           : QString();
    const int at = wanted.isEmpty() ? -1 : m_figure->findData(wanted);
    m_figure->setCurrentIndex(std::max(at, 0));
    m_meaning->setText(
        !told.isEmpty() ? tr("What %1 means was told by you.").arg(QString::fromStdString(p.name))
        : guessed ? tr("What %1 means is guessed from its name and unit. If it means something else, choose "
                       "the figure: that is remembered.")
                        .arg(QString::fromStdString(p.name))
                  : tr("What %1 means is not known: choose the figure to read, which is remembered.")
                        .arg(QString::fromStdString(p.name)));
}

void SweepView::remember()
{
    if (!meaningKey().isEmpty())
        (void)m_services.store.setSetting(meaningKey(), m_figure->currentData().toString());
}

bench::Promise SweepView::promise() const
{
    const QString key = m_figure->currentData().toString();
    bench::Promise chosen{key.section(QLatin1Char('.'), 0, 0).toStdString(),
                          key.section(QLatin1Char('.'), 1).toStdString(), 1};
    const auto& p = contender()->info.parameters[*parameter()];
    if (const auto guessed = bench::promiseOf(p, contender()->info.kind);
        guessed && guessed->test == chosen.test && guessed->figure == chosen.figure)
        chosen.factor = guessed->factor;
    return chosen;
}

void SweepView::start()
{
    const auto index = parameter();
    if (!index)
        return;
    const Contender& of = *contender();
    const processors::ParameterInfo& p = of.info.parameters[*index];
    bench::SweepOrder order;
    order.swept = {*index, p.minimum, p.maximum, m_steps->value()};
    order.promise = promise();
    m_beside_name.clear();
    if (const auto other = of.info.parameterIndex(m_beside->currentData().toString().toStdString())) {
        const processors::ParameterInfo& beside = of.info.parameters[*other];
        order.beside = {*other, beside.minimum, beside.maximum, m_beside_steps->value()};
        m_beside_name = QString::fromStdString(beside.name);
        m_beside_unit = QString::fromStdString(beside.unit);
    }
    m_mark = of.mark;
    m_name = QString::fromStdString(p.name);
    m_set_unit = QString::fromStdString(p.unit);
    const auto* figure = bench::figureInfo(order.promise.test, order.promise.figure);
    m_figure_unit = figure ? QString::fromStdString(figure->unit)
                           : m_figure->currentText().section(QStringLiteral(", "), -1);
    m_digits = figure ? figure->digits : 2;
    m_wanted = bench::sweepPoints(of.described, order).size();
    m_nothing->hide();
    delete m_plot;
    const bool logarithmic = p.scale == processors::Scale::Logarithmic && p.minimum > 0;
    m_plot = new Plot({tr("set"), m_set_unit, logarithmic, 0, 2},
                      {tr("measured"), m_figure_unit, false, 1, m_digits});
    m_plot->setAccessibleName(tr("%1, measured against set").arg(m_name));
    m_plot_place->addWidget(m_plot, 1);
    m_services.job.start(of, order, m_services.conditions.now());
}

void SweepView::sweep(const QString& parameter)
{
    m_parameter->setCurrentIndex(m_parameter->findData(parameter));
    start();
}

void SweepView::refresh()
{
    m_start->setText(m_services.job.isRunning() ? tr("Stop") : tr("Sweep"));
    m_state->setText(stateText());
    if (m_plot)
        m_plot->setCurves(curves());
    fillTable();
}

QString SweepView::stateText() const
{
    const std::size_t done = m_services.job.points().size();
    return m_services.job.isRunning() ? tr("%1 of %2 settings measured").arg(done).arg(m_wanted)
           : done < m_wanted          ? tr("stopped after %1 of %2 settings").arg(done).arg(m_wanted)
                                      : QString();
}

/// What an honest label would give, and a line for each setting of the other parameter.
std::vector<Curve> SweepView::curves() const
{
    const QString letter = markLetter(m_mark) + QLatin1Char(' ');
    Curve honest{0, tr("honest"), {}};
    std::vector<Curve> measured;
    std::optional<double> beside;
    for (const bench::SweepPoint& point : m_services.job.points()) {
        if (measured.empty() || point.beside != beside) {
            beside = point.beside;
            measured.push_back({m_mark,
                                letter + (beside ? with(number(*beside, 2), m_beside_unit) : tr("measured")),
                                {},
                                {},
                                beside.has_value()});
        }
        if (measured.size() == 1)
            honest.points.emplace_back(point.set, point.honest);
        if (point.measured)
            measured.back().points.emplace_back(point.set, *point.measured);
    }
    measured.insert(measured.begin(), honest);
    return measured;
}

void SweepView::fillTable()
{
    const auto& points = m_services.job.points();
    const bool has_beside = !m_beside_name.isEmpty();
    QStringList header{titled(m_name.isEmpty() ? tr("set") : tr("%1 set").arg(m_name), m_set_unit),
                       titled(tr("measured"), m_figure_unit), titled(tr("off by"), m_figure_unit)};
    if (has_beside)
        header.prepend(titled(m_beside_name, m_beside_unit));
    setHeadings(*m_table, header, {});
    for (const bench::SweepPoint& point : points) {
        const QString about = point.unsure.empty() ? QString() : QStringLiteral("≈ ");
        QStringList texts{number(point.set, 2),
                          point.measured ? about + number(*point.measured, m_digits) : tr("none"),
                          point.measured ? signedNumber(*point.measured - point.honest, m_digits) : QString()};
        if (has_beside)
            texts.prepend(number(point.beside.value_or(0), 2));
        addRow(*m_table, texts, {});
        const QString why = QString::fromStdString(point.measured ? point.unsure : point.reason);
        for (int column = 0; column < texts.size() && !why.isEmpty(); ++column)
            m_table->item(m_table->rowCount() - 1, column)->setToolTip(why.toHtmlEscaped());
    }
}

} // namespace hr::app

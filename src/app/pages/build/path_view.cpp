// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/path_view.h"

#include "audition/harmonic_steps.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/segments.h"

#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

PathView::PathView(const BuildServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(m_told = new ElidedLabel);
    setRole(m_told, "faint");
    auto* which = new Segments(tr("along the chain"), {tr("Response"), tr("In and out")});
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    row->addWidget(which);
    m_measure = new Button(tr("Measure along the chain"));
    row->addWidget(m_measure);
    row->addStretch(1);
    column->addLayout(row);
    m_response = new Plot({tr("frequency"), tr("Hz"), true}, {tr("gain"), tr("dB"), false, 12});
    m_response->setAccessibleName(tr("response after each stage"));
    m_in_out = new Plot({tr("level in"), tr("dBFS")}, {tr("level out"), tr("dBFS"), false, 12});
    m_in_out->setAccessibleName(tr("level out after each stage"));
    auto* stack = new Stack;
    for (Plot* plot : {m_response, m_in_out}) {
        plot->setNothing(tr("Each stage thin, all of them full."));
        connect(plot, &Plot::told, &m_services.notices, &Notices::say);
        stack->addWidget(plot);
    }
    connect(which, &Segments::chosen, stack, &QStackedLayout::setCurrentIndex);
    column->addLayout(stack, 1);
    column->addWidget(m_harmonics = new ElidedLabel);
    setRole(m_harmonics, "faint");
    connect(m_measure, &QPushButton::clicked, this, [this] {
        if (m_services.study.path().isPending())
            m_services.study.cancelAnswers();
        else
            m_services.study.followPath();
    });
    connect(&m_services.study, &ChainStudy::answersChanged, this, &PathView::reload);
    reload();
}

QString PathView::ratios(const audition::AlongPath& path) const
{
    constexpr double least_bend = 0.02; // nearer to 1 : 1 is a stage that does not bend
    QStringList factors;
    double before = 1;
    for (const audition::PathPoint& point : path.points) {
        if (!point.ratio)
            continue;
        const double factor = *point.ratio / before;
        if (std::abs(factor - 1) > least_bend)
            factors << number(factor, 1);
        before = *point.ratio;
    }
    if (factors.isEmpty())
        return tr("ratio 1 : 1 at 1 kHz, −12 dBFS");
    return tr("ratio %1%2 : 1 at 1 kHz, −12 dBFS")
        .arg(factors.size() > 1 ? factors.join(tr(" × ")) + tr(" = ") : QString(), number(before, 1));
}

QString PathView::nameOf(const std::string& node) const
{
    const chain::Chain& chain = m_services.draft.chain();
    const chain::Node* stage = chain.node(node);
    return stage ? tr("%1 %2").arg(chain::stageNumber(chain, node)).arg(m_services.facts.nameOf(*stage))
                 : QString();
}

QString PathView::harmonics(const audition::AlongPath& path) const
{
    if (!m_services.draft.chain().isSeries())
        return {}; // what is behind a point is not of it alone
    QStringList told;
    std::size_t order = 0;
    for (const audition::HarmonicStep& step :
         audition::harmonicSteps(path, audition::PathQuestion().frequency_hz)) {
        const QString ordinal = step.order == 2   ? tr("2nd")
                                : step.order == 3 ? tr("3rd")
                                                  : tr("%1th").arg(step.order);
        if (step.adds || order != step.order || told.isEmpty())
            told << tr("%1 harmonic %2 dB from %3")
                        .arg(ordinal, signedNumber(step.level_db, 0), nameOf(step.after));
        else
            told.back() += tr(", %1 dB more by %2").arg(number(step.rise_db, 1), nameOf(step.after));
        order = step.order;
    }
    return told.join(QStringLiteral("; "));
}

std::vector<Curve> PathView::curvesOf(const audition::AlongPath& path, bool in_out) const
{
    std::vector<Curve> curves;
    for (const audition::PathPoint& point : path.points) {
        const auto& points = in_out ? point.in_out : point.response;
        if (points.empty() || &point == &path.points.front())
            continue;
        const bool all = &point == &path.points.back();
        const std::size_t number = chain::stageNumber(m_services.draft.chain(), point.after);
        Curve curve;
        curve.mark = 0;
        curve.thin = !all;
        curve.full = all;
        curve.label = all ? tr("all") : number == 0 ? QString() : QString::number(number);
        curve.points = points;
        curves.push_back(std::move(curve));
    }
    return curves;
}

void PathView::reload()
{
    const auto& path = m_services.study.path();
    m_measure->setText(path.isPending() ? tr("Cancel") : tr("Measure along the chain"));
    const QString told = path.found ? harmonics(*path.found) : QString();
    m_harmonics->setWhole(told);
    m_harmonics->setVisible(!told.isEmpty());
    m_response->setCurves(path.found ? curvesOf(*path.found, false) : std::vector<Curve>());
    m_in_out->setCurves(path.found ? curvesOf(*path.found, true) : std::vector<Curve>());
    if (path.found) {
        const audition::PathPoint& last = path.found->points.back();
        return m_told->setWhole(tr("%1 \u00b7 latency %2 samples \u00b7 %3 % of a core")
                                    .arg(ratios(*path.found))
                                    .arg(last.latency_samples)
                                    .arg(number(last.core_percent, 1)));
    }
    m_told->setWhole(path.isPending()           ? tr("%1 % measured").arg(number(100 * path.progress, 0))
                     : !path.why_none.isEmpty() ? path.why_none
                                                : tr("What the sound is like after each stage."));
}

} // namespace hr::app

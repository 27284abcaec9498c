// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/path_view.h"

#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/plot.h"

#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

PathView::PathView(const BuildServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(m_told = paragraph({}, "faint"));
    m_plot = new Plot({tr("frequency"), tr("Hz"), true}, {tr("gain"), tr("dB"), false, 12});
    m_plot->setAccessibleName(tr("response after each stage"));
    m_plot->setNothing(tr("Each stage thin, all of them full."));
    connect(m_plot, &Plot::told, &m_services.notices, &Notices::say);
    column->addWidget(m_plot, 1);
    m_measure = new Button(tr("Measure along the chain"));
    column->addWidget(m_measure, 0, Qt::AlignLeft);
    connect(m_measure, &QPushButton::clicked, this, [this] {
        if (m_services.study.path().isComing())
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

void PathView::reload()
{
    const auto& path = m_services.study.path();
    m_measure->setText(path.isComing() ? tr("Cancel") : tr("Measure along the chain"));
    std::vector<Curve> curves;
    if (path.found) {
        const auto& points = path.found->points;
        for (const audition::PathPoint& point : points) {
            if (point.response.empty() || &point == &points.front())
                continue;
            const bool all = &point == &points.back();
            const std::size_t number = chain::stageNumber(m_services.draft.chain(), point.after);
            Curve curve;
            curve.mark = 0;
            curve.thin = !all;
            curve.full = all;
            curve.label = all ? tr("all") : number == 0 ? QString() : QString::number(number);
            curve.points = point.response;
            curves.push_back(std::move(curve));
        }
        m_told->setText(
            tr("%1 \u00b7 latency %2 samples").arg(ratios(*path.found)).arg(points.back().latency_samples));
    } else {
        m_told->setText(path.isComing()            ? tr("%1 % measured").arg(number(100 * path.progress, 0))
                        : !path.why_none.isEmpty() ? path.why_none
                                                   : tr("What the sound is like after each stage."));
    }
    m_plot->setCurves(std::move(curves));
}

} // namespace hr::app

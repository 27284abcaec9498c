// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/level_ladder.h"

#include "theme/theme.h"

#include <QPainter>
#include <cmath>

namespace hr::app {

namespace {

constexpr double ladder_step_db = 6;
constexpr double least_span_db = 24;
constexpr int ladder_scale_px = 34;
constexpr int ladder_names_px = 16;
constexpr int ladder_head_px = 18;
/// Narrower than this, only every second step or fewer has its words.
constexpr double least_words_px = 84;

} // namespace

LevelLadder::LevelLadder(QWidget* parent) : QWidget(parent)
{
    setMinimumSize(260, 130);
    setAccessibleName(tr("levels after each stage"));
}

void LevelLadder::setSteps(std::vector<LadderStep> steps, const QString& remark, bool overload_heard)
{
    m_steps = std::move(steps);
    m_remark = remark;
    m_overload_heard = overload_heard;
    QStringList words;
    for (const LadderStep& step : m_steps)
        if (step.loudness_lufs && step.true_peak_dbtp)
            words << tr("%1: %2 LUFS, true peak %3 dBTP")
                         .arg(step.name, number(*step.loudness_lufs, 1), number(*step.true_peak_dbtp, 1));
    setAccessibleDescription(m_steps.empty() ? m_remark : words.join(QStringLiteral("; ")));
    setToolTip(words.join(QLatin1Char('\n')));
    update();
}

void LevelLadder::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(Theme::words(Theme::small_px));
    painter.setPen(p.faint);
    if (m_steps.empty()) {
        painter.drawText(rect().adjusted(ladder_scale_px, 0, 0, 0),
                         Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, m_remark);
        return;
    }
    double lowest_db = -least_span_db;
    double highest_db = 0;
    for (const LadderStep& step : m_steps)
        for (const auto& level : {step.loudness_lufs, step.true_peak_dbtp})
            if (level) {
                lowest_db = std::min(lowest_db, std::floor(*level / ladder_step_db) * ladder_step_db);
                highest_db = std::max(highest_db, std::ceil(*level / ladder_step_db) * ladder_step_db);
            }
    lowest_db = std::max(lowest_db, -72.0);
    const double top = ladder_head_px + 6;
    const bool named_elsewhere = m_steps.front().middle_px.has_value();
    const double bottom = height() - (named_elsewhere ? 4 : ladder_names_px) - 4;
    const auto y = [&](double db) {
        return top + (highest_db - std::max(db, lowest_db)) / (highest_db - lowest_db) * (bottom - top);
    };
    const double width_px = (width() - ladder_scale_px - 8.0) / static_cast<double>(m_steps.size());
    const auto x = [&](std::size_t i) {
        return m_steps[i].middle_px.value_or(ladder_scale_px + width_px * (static_cast<double>(i) + 0.5));
    };
    constexpr double least_apart_px = 13; // of two numbers of the scale
    const double most_lines = std::clamp(std::floor((bottom - top) / least_apart_px), 1.0, 5.0);
    const double lines = std::max(
        ladder_step_db, std::ceil((highest_db - lowest_db) / most_lines / ladder_step_db) * ladder_step_db);
    const auto tell = [&painter, &p](const QPointF& at, const QString& text) { // over no line
        const QFontMetrics metrics = painter.fontMetrics();
        painter.fillRect(QRectF(at.x() - 1, at.y() - metrics.ascent() + 1, metrics.horizontalAdvance(text) + 2,
                                metrics.ascent()),
                         p.sheet);
        painter.drawText(at, text);
    };
    for (double db = highest_db; db >= lowest_db; db -= lines) {
        painter.setPen(QPen(p.rule, 1));
        painter.drawLine(QPointF(ladder_scale_px, y(db)), QPointF(width(), y(db)));
        painter.setPen(p.faint);
        painter.setFont(Theme::figures(Theme::small_px));
        painter.drawText(QRectF(0, y(db) - 8, ladder_scale_px - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                         number(db, 0));
    }
    painter.setPen(QPen(p.fault, 1, Qt::DashLine));
    painter.drawLine(QPointF(ladder_scale_px, y(0)), QPointF(width(), y(0)));
    painter.setPen(p.faint);
    painter.setFont(Theme::words(Theme::small_px));
    painter.drawText(QRectF(ladder_scale_px, 0, width() - ladder_scale_px, ladder_head_px),
                     Qt::AlignRight | Qt::AlignVCenter, tr("●  loudness, LUFS    ━  true peak, dBTP"));

    const auto every = static_cast<std::size_t>(std::max(1.0, std::ceil(least_words_px / width_px)));
    bool arose = false;
    for (std::size_t i = 0; i < m_steps.size(); ++i) {
        const LadderStep& step = m_steps[i];
        const bool worded = named_elsewhere || i % every == 0 || i + 1 == m_steps.size();
        painter.setFont(Theme::figures(Theme::small_px));
        if (step.loudness_lufs) {
            const QPointF here(x(i), y(*step.loudness_lufs));
            painter.setPen(QPen(p.ink, 1.5));
            if (i > 0 && m_steps[i - 1].loudness_lufs) {
                const QPointF before(x(i - 1), y(*m_steps[i - 1].loudness_lufs));
                painter.drawLine(before, QPointF(here.x(), before.y()));
                painter.drawLine(QPointF(here.x(), before.y()), here);
            }
            painter.setBrush(p.ink);
            painter.drawEllipse(here, 3, 3);
            if (worded)
                tell(here + QPointF(7, here.y() + 14 < bottom ? 13 : -5), number(*step.loudness_lufs, 1));
        }
        if (step.true_peak_dbtp) {
            const bool over = *step.true_peak_dbtp > 0;
            const QPointF here(x(i), y(*step.true_peak_dbtp));
            painter.setPen(QPen(over ? p.fault : p.faint, 2.5));
            painter.drawLine(here - QPointF(8, 0), here + QPointF(8, 0));
            painter.setPen(over ? p.fault : p.faint);
            const QString level =
                over ? signedNumber(*step.true_peak_dbtp, 1) : number(*step.true_peak_dbtp, 1);
            const QString text = !over || arose     ? level
                                 : m_overload_heard ? tr("%1 overload arises here").arg(level)
                                                    : tr("%1 above full scale, not at the end").arg(level);
            const double text_px = painter.fontMetrics().horizontalAdvance(text);
            const bool in_words = text != level;
            const double beside = here.x() + 12 + text_px < width() ? 12 : -12 - text_px;
            if (worded || over) // words go above, where no peak beside it is
                tell(here + (in_words ? QPointF(std::min(-8.0, beside), -6) : QPointF(beside, 4)), text);
            arose = arose || over;
        }
        if (!worded || named_elsewhere)
            continue;
        painter.setPen(p.faint);
        painter.setFont(Theme::words(Theme::small_px));
        const QRectF place(x(i) - width_px * static_cast<double>(every) / 2, bottom + 3,
                           width_px * static_cast<double>(every), ladder_names_px);
        painter.drawText(place, Qt::AlignCenter,
                         painter.fontMetrics().elidedText(step.name, Qt::ElideRight, int(place.width()) - 6));
    }
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/abx_trial.h"

#include <random>

namespace hr::app {

QString AbxTrial::disabledReason(ContenderId first, ContenderId second) const
{
    if (!m_around.line_up.find(first) || !m_around.line_up.find(second) || first == second)
        return tr("A blind trial needs two that differ: add a candidate from Find.");
    return disabledReasonFor({first, second});
}

void AbxTrial::begin(ContenderId first, ContenderId second, int rounds)
{
    if (!disabledReason(first, second).isEmpty())
        return;
    m_sheet.emplace(rounds, std::random_device{}());
    start({first, second});
    m_x_as_first = addHidden(first);
    m_x_as_second = addHidden(second);
    hear(Which::First);
    askWhenReady();
}

void AbxTrial::hear(Which which)
{
    if (!isRunning())
        return;
    m_heard = which;
    m_around.line_up.hear(which == Which::First    ? first().id
                          : which == Which::Second ? second().id
                          : m_sheet->xIsSecond()   ? m_x_as_second
                                                   : m_x_as_first);
    emit changed();
}

void AbxTrial::answer(bool x_is_second)
{
    if (stage() != Stage::Asking)
        return;
    m_sheet->answer(x_is_second);
    if (m_sheet->isOver())
        return finish();
    hear(Which::First);
}

nlohmann::ordered_json AbxTrial::answers() const
{
    return {{"kind", "abx"},
            {"first", describe(first())},
            {"second", describe(second())},
            {"result", m_sheet->toJson()}};
}

} // namespace hr::app

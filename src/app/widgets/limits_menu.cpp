// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/limits_menu.h"

#include <algorithm>

namespace hr::app {

void addLimitsTo(QMenu& menu, QObject* receiver, const processors::ParameterInfo& parameter, double value,
                 const RandomLimits& now, const std::function<void(const RandomLimits&)>& take)
{
    const auto [low, high] = now.value_or(std::pair(parameter.minimum, parameter.maximum));
    const auto add = [&](const QString& words, const RandomLimits& limits) {
        menu.addAction(words, receiver, [take, limits] { take(limits); });
    };
    add(QMenu::tr("Random settings from here up"), std::pair(value, std::max(value, high)));
    add(QMenu::tr("Random settings up to here"), std::pair(std::min(value, low), value));
    if (now)
        add(QMenu::tr("Random settings anywhere"), std::nullopt);
}

} // namespace hr::app

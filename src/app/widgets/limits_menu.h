// SPDX-License-Identifier: GPL-3.0-or-later
//
// Between which random settings of a parameter stay, chosen from where it stands.
#pragma once

#include "processors/description.h"

#include <QMenu>
#include <functional>
#include <optional>

namespace hr::app {

using RandomLimits = std::optional<std::pair<double, double>>; ///< empty: anywhere

/// "From here up", "up to here" and, where there are limits, "anywhere"; `receiver` as of QMenu::addAction().
void addLimitsTo(QMenu& menu, QObject* receiver, const processors::ParameterInfo& parameter, double value,
                 const RandomLimits& now, const std::function<void(const RandomLimits&)>& take);

} // namespace hr::app

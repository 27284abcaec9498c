// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the cage refused a processor, as the catalogue keeps it.
#pragma once

#include "hosting/refusals.h"

#include <QString>

namespace hr::library {

/// {"wanted": ["network"], "path": "…"}; an empty text where nothing was refused.
QString refusalsText(const hosting::Refusals& refusals);
/// The inverse; nothing for what makes no sense.
hosting::Refusals refusalsFrom(const QString& text);

} // namespace hr::library

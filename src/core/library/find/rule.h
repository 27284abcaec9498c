// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a search asked for, as text: the rule of a collection or of a working set.
//
//     {"text": "warm", "choices": [{"facet": "kind", "value": "compressor", "not": true}], "order": "name"}
#pragma once

#include "library/find/asked.h"

namespace hr::library {

QString ruleText(const Asked& asked);

/// What it does not know is passed over; nothing where it is not a rule at all.
std::optional<Asked> askedFromRule(const QString& rule);

/// For people: "warm · compressor · not made by Fathom Audio".
QString inWords(const Asked& asked);

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a search asked for, as text: the rule of a collection or of a working set.
//
//     {"text": "warm", "choices": [{"facet": "kind", "value": "compressor", "not": true}], "order": "name"}
#pragma once

#include "library/find/query.h"

namespace hr::library {

QString ruleText(const Query& asked);

/// What it does not know is passed over; nothing where it is not a rule at all.
std::optional<Query> queryFromRule(const QString& rule);

/// For people: "warm · compressor · not made by Fathom Audio".
QString inWords(const Query& asked);

} // namespace hr::library

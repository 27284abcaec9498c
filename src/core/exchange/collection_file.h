// SPDX-License-Identifier: GPL-3.0-or-later
//
// A collection as a JSON file:
//
//     {"format": "honest-rack-collection", "version": 1, "name": "Brass bus",
//      "items": [{"kind": "processor", "id": "lv2:urn:…", "name": "…", "maker": "…",
//                 "settings": {"threshold_db": -24.0}},
//                {"kind": "chain", "id": "its name", "settings": {}, "chain": {…docs/chain.schema.json…}},
//                {"kind": "parts", "id": "their name", "settings": {}, "parts": {…docs/parts.schema.json…}}]}
//
// One that keeps itself up to date has a "rule" (library/find/rule.h) in place of items. `name` and `maker` are
// for people, and for finding the processor where it is not installed.
#pragma once

#include "library/store.h"

namespace hr::exchange {

/// Written beside and renamed, so that a failure leaves the old file.
Result<void> exportCollection(library::Store& store, qint64 collection, const std::filesystem::path& file);

/// Refuses what is not such a file, a newer version, and more than 100 000 items, and then changes
/// nothing. Items whose processor is not installed are kept. The row id of the new collection.
Result<qint64> importCollection(library::Store& store, const std::filesystem::path& file);

} // namespace hr::exchange

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A page of the notebook with everything filled in from the readings, as it is shown and exported: a report.
#pragma once

#include "library/store.h"

namespace hr::exchange {

/// One block filled in: {"kind": "text", "markdown"}, {"kind": "table", "heading", "columns", "rows", "note"},
/// {"kind": "plot", "heading", "x", "y", "curves", "stems"} or {"kind": "trial", "heading", "sentence",
/// "facts"}; "missing" says why there is nothing to show. One that is frozen is as it was then.
nlohmann::ordered_json resolveBlock(const library::Store& store, const nlohmann::ordered_json& page,
                                    const nlohmann::ordered_json& block);
/// {"format": "honest-rack-report", "version": 1, "title", "bench_version", "made", "subjects", "parts"}.
nlohmann::ordered_json resolve(const library::Store& store, const nlohmann::ordered_json& page);

} // namespace hr::exchange

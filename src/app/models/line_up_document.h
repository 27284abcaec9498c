// SPDX-License-Identifier: GPL-3.0-or-later
//
// A line-up as a document: for the session, to be saved under a name, and as a file (docs/file-formats.md).
#pragma once

#include "models/line_up.h"

#include <nlohmann/json.hpp>

namespace hr::app {

inline constexpr auto line_up_format = "honest-rack-line-up";
inline constexpr int line_up_version = 1;

/// On which sound; of no file where the document names none.
struct DocumentSource {
    QString file;
    std::optional<Passage> passage;
};
DocumentSource sourceOf(const nlohmann::ordered_json& document);

/// Whether both say the same; sections may differ by a millisecond.
bool isSame(const nlohmann::ordered_json& one, const nlohmann::ordered_json& other);

/// Who is compared, against what, matched by what; and on which source and section, where there is one.
nlohmann::ordered_json toDocument(const LineUp& line_up, const Transport& transport);

/// What is held, note values, the name of the preset and the snapshots of a candidate that is open.
void restoreExtras(const nlohmann::ordered_json& one, const Contender& contender, LineUp& line_up);

/// In the place of whoever is there, in their order and under their letters; what is not installed is kept, and
/// says so. Members that make no sense are passed over. The source is loaded, too, where it names one that is
/// there.
void fromDocument(const nlohmann::ordered_json& document, LineUp& line_up, Transport& transport);

} // namespace hr::app

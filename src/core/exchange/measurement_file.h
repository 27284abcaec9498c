// SPDX-License-Identifier: GPL-3.0-or-later
//
// A measurement as a document of its own: what `hrack measure` prints, and what it is of ("set_up": build,
// preset, whether at its defaults) and which tests were asked for ("tests"). See docs/file-formats.md.
#pragma once

#include "library/set_up.h"

#include "bench/suite.h"

namespace hr::exchange {

struct MeasurementFile {
    library::SetUp set_up;
    bench::Measurement measurement; ///< its processor: what the document says of it, without parameters
    std::string bench_version;
    std::vector<std::string> tests; ///< that were asked for
};

nlohmann::ordered_json measurementDocument(const library::SetUp& set_up, const bench::Measurement& measurement,
                                           const std::vector<std::string>& tests);
/// An Error where it is not such a document.
Result<MeasurementFile> measurementIn(const nlohmann::ordered_json& document);

} // namespace hr::exchange

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is measured, identified by what it is: the exact build of a processor with all of its values, or the
// content of a chain; never a title.
#pragma once

#include "library/catalogue.h"

#include <nlohmann/json.hpp>

namespace hr::library {

struct SetUp {
    QString processor;               ///< its id; of a chain, what stands for its structure
    QString build;                   ///< of its files, or of those of all stages
    QString preset;                  ///< by whose name it was asked for; its values are in the settings
    std::string state;               ///< what it begins with beside them; empty: its default
    nlohmann::ordered_json settings; ///< every value by its key
    bool at_defaults = false;        ///< which is what lists show

    /// Equal exactly for what is the same.
    QString key() const;
};

/// `values` are those of info.parameters. Builds are those of the last scan, or, of what the catalogue does not
/// know, of the files as they lie there.
SetUp setUpOf(const Catalogue& catalogue, const hosting::Location& location,
              const processors::ProcessorInfo& info, std::span<const double> values);

} // namespace hr::library

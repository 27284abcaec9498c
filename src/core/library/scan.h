// SPDX-License-Identifier: GPL-3.0-or-later
//
// Brings the catalogue up to date with what is installed: only bundles that are new or changed are
// tried, each find is recorded as it comes, so that a scan cut short has lost nothing.
#pragma once

#include "library/catalogue.h"

namespace hr::library {

struct ScanReport {
    int found = 0; ///< processors now in the catalogue from these folders
    int added = 0, changed = 0, unchanged = 0;
    std::vector<QuarantineEntry> quarantined;
    std::vector<Catalogue::LeftOut> left_out; ///< found, but not hosted
    /// What the newly tried put out beyond +60 dBFS, by their ids: they are used all the same.
    std::vector<std::pair<QString, double>> absurd_output_dbfs;
    QStringList claimed_twice; ///< ids that two bundles have: that of the first path is taken
    double seconds = 0;
    bool cancelled = false;
};

struct ScanOptions {
    std::vector<std::filesystem::path> folders; ///< as from hosting::searchFolders()
    hosting::ScanControl control;
    /// After each bundle tried: how many of how many, and which. On the calling thread.
    std::function<void(int done, int of, const QString& bundle)> progress;
};

/// Blocks; the catalogue's connection must belong to the calling thread.
Result<ScanReport> scan(Catalogue& catalogue, const ScanOptions& options);

struct TriedAgain {
    int now_well = 0;
    int still_failing = 0;
};

/// Tries these once more, whatever came of them before: what works leaves quarantine, what fails stays with its
/// newest reason. `progress` is told the share that is done; Once `cancel` asks to stop,
/// the one in hand counts as not tried.
Result<TriedAgain> tryAgain(Catalogue& catalogue, const QStringList& ids,
                            const hosting::TimeLimits& limits = {},
                            const std::function<void(double)>& progress = {},
                            const std::stop_token& cancel = {});

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The sounds at hand: those of the data directory (sources/sources.json) and files the user opened.
#pragma once

#include <QString>
#include <filesystem>
#include <vector>

namespace hr::app {

struct SourceInfo {
    QString file;
    QString name;
    QString role;
    double tempo_bpm = 0; ///< 0: none
};

class SourceList {
public:
    explicit SourceList(const std::filesystem::path& data_directory);

    /// Reads the data directory again; files that somebody has opened stay.
    void reload();

    /// Known by its file; one that is not in the list yet is added under its file name.
    SourceInfo of(const QString& file);
    /// 0: none.
    void setTempo(const QString& file, double bpm);
    /// The one after this that is there, round and round; empty where there is none.
    QString next(const QString& file) const;
    QString first() const; ///< empty where there is none

private:
    QString m_folder;
    std::vector<SourceInfo> m_sources;
};

} // namespace hr::app

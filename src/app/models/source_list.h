// SPDX-License-Identifier: GPL-3.0-or-later
//
// The sounds at hand: those of the data directory (sources/sources.json), files the user opened, and sounds
// that need no file (audition/generated_source.h).
#pragma once

#include <QString>
#include <filesystem>
#include <vector>

namespace hr::app {

enum class SourceOrigin { Delivered, Own, Generated };

struct SourceInfo {
    QString file; ///< or the name of a generated sound: what it is known by
    QString name;
    QString role;         ///< "drum", "voice", "full mix": the user's words
    double tempo_bpm = 0; ///< 0: none
    SourceOrigin origin = SourceOrigin::Own;
};

/// Whether it can be opened: a file that exists, or a generated sound.
bool isSourceThere(const QString& file);

class SourceList {
public:
    explicit SourceList(const std::filesystem::path& data_directory);

    /// Reads the data directory again; files that somebody has opened stay.
    void reload();

    const std::vector<SourceInfo>& all() const { return m_sources; }
    /// Known by its file; one that is not in the list has its file's name.
    SourceInfo of(const QString& file) const;
    bool has(const QString& file) const;
    /// Under its file's name, where it is not in the list yet.
    void add(const QString& file);
    /// 0: none.
    void setTempo(const QString& file, double bpm);
    void setRole(const QString& file, const QString& role);
    void remove(const QString& file);
    /// The one after this, or before it, that is there, round and round: of recordings, not of what is
    /// generated. Empty where there is none.
    QString next(const QString& file, int step = 1) const;
    QString first() const; ///< empty where there is none

private:
    QString m_folder;
    std::vector<SourceInfo> m_sources;
};

} // namespace hr::app

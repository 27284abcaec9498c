// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is installed, as one list over all formats, with what the user wrote about each. Nothing of it
// touches a processor's own files.
#pragma once

#include "hosting/scanner.h"
#include "library/changes.h"
#include "library/database.h"

#include <QHash>
#include <QStringList>
#include <vector>

namespace hr::library {

enum class State { Ready, Hidden, Quarantined };

QString word(State state);

/// What the user wrote about a processor; no scan touches it.
struct Written {
    QString alias; ///< the user's own name for it; empty where none was given
    QString note;
    QStringList tags;
    int rating = 0; ///< 1 to 5; 0: none given
    bool favourite = false;
    bool hidden = false; ///< "never offer it": State::Hidden
    QString own_kind;    ///< where the user places it (processors/kinds.h); empty: where its maker does

    friend bool operator==(const Written&, const Written&) = default;
};

struct Entry : Written {
    QString id;
    QString name; ///< the maker's
    QString maker;
    QString kind; ///< the user's, else as described
    QString format;
    QString version;
    QString bundle;
    int audio_in = 0;
    int audio_out = 0;
    int key_in = 0;
    State state = State::Ready;
    bool kind_proposed = false; ///< guessed; nobody has said so
    hosting::Refusals refusals; ///< what its cage has refused it
    hosting::Permissions permissions;

    const QString& title() const { return alias.isEmpty() ? name : alias; }
};

struct QuarantineEntry {
    QString id;
    QString bundle;
    hosting::Fault fault;
    QString at; ///< UTC, ISO 8601
};

class Catalogue {
public:
    /// Both must outlive it.
    Catalogue(Database& database, Changes& changes) : m_database(database), m_changes(changes) {}

    /// The bench's references and every processor whose bundle is there, by title.
    Result<std::vector<Entry>> entries() const;
    Result<Entry> entry(const QString& id) const;
    /// Description texts by id, of those that have one.
    Result<QHash<QString, QString>> help() const;

    /// The whole description, as last read, with the presets that other bundles have for it; an Error for an
    /// unknown id.
    Result<processors::ProcessorInfo> info(const QString& id) const;
    /// Where its files lie, and what it may do.
    Result<hosting::Location> location(const QString& id) const;
    /// The build of its files (hosting::buildOf) as of the last scan; of what no scan has seen, as they are
    /// now; of the bench's own, the bench's version.
    QString buildOf(const std::string& id, const std::filesystem::path& bundle) const;

    /// The last failure of each processor in quarantine.
    Result<std::vector<QuarantineEntry>> quarantine() const;
    /// All failures of one, newest first.
    Result<std::vector<QuarantineEntry>> faultsOf(const QString& id) const;

    /// Bundle path (hosting::pathText) -> signature at the last scan.
    Result<QHash<QString, QString>> signatures() const;

    /// Found, but not hosted: instruments, generators, what has no audio.
    struct LeftOut {
        QString id, name, bundle;
        QString reason; ///< "it has no audio input"
    };
    Result<std::vector<LeftOut>> leftOut() const;

    struct Recorded {
        int added = 0, changed = 0, unchanged = 0;
        QStringList claimed_twice; ///< ids that another bundle has, too: that of the first path is taken
    };
    /// What a scan found in one bundle, in one transaction. What the user wrote stays.
    Result<Recorded> record(const hosting::Bundle& bundle, const hosting::TriedBundle& tried);
    /// One of them tried again.
    Result<void> recordAgain(const hosting::Finding& finding);
    /// The bench's own processors, which need no scan.
    Result<void> recordReferences();
    /// Processors whose bundle is not among `paths` are no longer listed; what was written about them stays.
    Result<void> keepOnly(const QStringList& paths);

    /// By id, of those that are allowed anything.
    Result<QHash<QString, hosting::Permissions>> allowed() const;
    /// What the user allows it beyond its cage, which can be taken back.
    Result<void> allow(const QString& id, const hosting::Permissions& permissions);
    /// What it was refused while it was measured or heard, beside what is known.
    Result<void> noteRefusals(const QString& id, const hosting::Refusals& refusals);

    /// All of it or, where that fails, nothing. Ids that are not known are passed over; names and tags are
    /// trimmed, empty and double tags left out, ratings brought to 0 to 5.
    Result<void> write(const std::vector<std::pair<QString, Written>>& written);

    Database& database() const { return m_database; }

private:
    Result<Recorded> recordOne(const hosting::Bundle& bundle, const QString& path,
                               const hosting::Finding& finding);
    Result<void> putPresets(const QString& path, const std::vector<hosting::BundleContents::Preset>& presets);
    Result<Recorded> put(const processors::ProcessorInfo& info, const QString& path,
                         const std::optional<hosting::Fault>& fault, const hosting::Refusals& refusals = {});
    Result<void> putLeftOut(const QString& path, const std::vector<hosting::BundleContents::LeftOut>& left_out);
    Result<void> putBuild(const QString& path, const QString& signature, const QString& build);

    Database& m_database;
    Changes& m_changes;
};

} // namespace hr::library

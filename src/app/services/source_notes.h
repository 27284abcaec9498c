// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the user has said of sources: which files belong to the list, what each is for, and sections of them
// that have a name. Kept for the next start.
#pragma once

#include "actions/notices.h"
#include "audio/transport.h"
#include "models/source_list.h"
#include "services/source_rhythm.h"

#include <QUndoStack>
#include <map>

namespace hr::library {
class Store;
}

namespace hr::app {

class SourceTempo;

struct NamedSection {
    QString name; ///< no two of one source alike
    double first_s = 0;
    double length_s = 0;
};

/// What the edges of a section that is chosen in the waveform keep to.
enum class Snapping { Free, Onsets, Bars };

class SourceNotes : public QObject {
    Q_OBJECT
public:
    struct Services {
        library::Store& store;
        Transport& transport;
        SourceList& sources;
        SourceTempo& tempo;
        SourceRhythm& rhythm;
        QUndoStack& undo;
        Notices& notices;
    };
    explicit SourceNotes(const Services& services, QObject* parent = nullptr);

    /// Files, and what lies in these folders; the first of them is played.
    void add(const QStringList& files_or_folders);
    /// A file of the user's own leaves the list; it stays where it is on disk.
    void forget(const QString& file);
    /// Of the source that plays.
    void setRole(const QString& role);
    /// The next or the one before, of recordings.
    void step(int by);

    std::vector<NamedSection> sections() const; ///< of the source that plays
    /// What repeats now, under this name; in the place of one that has it already.
    void keepSection(const QString& name);
    void takeSection(const QString& name);
    void removeSection(const QString& name);
    /// "2.5 to 6", "bar 3 to 5"; what makes no sense is said.
    void typeSection(const QString& text);

    Snapping snapping() const { return m_snapping; }
    void setSnapping(Snapping snapping);
    /// Chosen by hand: it repeats, with its edges where they snap to.
    void choose(audition::Section section);

signals:
    void changed();

private:
    void recall();
    void keep();
    void setSections(const QString& file, std::vector<NamedSection> sections);
    void snapToOnsets(audition::Section section);

    const Services m_services;
    std::map<QString, std::vector<NamedSection>> m_sections; // by file
    QString m_forgotten;                                     // taken off the list last
    Snapping m_snapping = Snapping::Free;
};

} // namespace hr::app

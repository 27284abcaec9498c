// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whole settings of a contender, one after the other, each a step that can be taken back: presets, defaults,
// random settings, snapshots, another's settings. What is held stays; each is matched before it is heard.
#pragma once

#include "actions/notices.h"
#include "models/line_up.h"

#include <QUndoStack>
#include <random>

namespace hr::app {

class SettingsSteps : public QObject {
    Q_OBJECT
public:
    SettingsSteps(LineUp& line_up, library::Store& store, QUndoStack& undo, Notices& notices,
                  QObject* parent = nullptr);

    /// Of this contender, the defaults first; of a chain none.
    std::vector<library::Preset> presets(const Contender& contender) const;
    /// The preset that is so many further, round and round; the first where none has been taken.
    void stepPreset(ContenderId id, int steps);
    void takePreset(ContenderId id, const library::Preset& preset);
    void takeDefaults(ContenderId id);
    void takeRandom(ContenderId id);
    void storeSnapshot(ContenderId id, std::size_t place);
    void takeSnapshot(ContenderId id, std::size_t place);
    /// To be given to others of the same processor, in this line-up.
    void copy(ContenderId id);
    /// Why not, where not.
    QString pasteDisabledReason(ContenderId id) const;
    void paste(ContenderId id);

private:
    void take(const QString& words, ContenderId id, std::vector<double> values,
              std::optional<AppliedPreset> preset = {}, const std::optional<std::string>& state = {});

    LineUp& m_line_up;
    library::Store& m_store;
    QUndoStack& m_undo;
    Notices& m_notices;
    std::mt19937_64 m_random{std::random_device{}()};
    struct Copied {
        QString what; ///< the processor, or the chain's location
        std::vector<processors::Setting> settings;
    };
    std::optional<Copied> m_copied;
};

} // namespace hr::app

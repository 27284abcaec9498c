// SPDX-License-Identifier: GPL-3.0-or-later
//
// The blind trials that there are. At most one is under way, or shows its result.
#pragma once

#include "models/abx_trial.h"
#include "models/hidden_trial.h"

#include <array>

namespace hr::app {

class BlindTrials : public QObject {
    Q_OBJECT
public:
    explicit BlindTrials(const BlindTrial::Around& around, QObject* parent = nullptr);

    AbxTrial abx;
    PreferenceTrial preference;
    RatingTrial rating;

    /// The one that is under way, or shows its result; null: none.
    BlindTrial* current();
    bool isRunning() const;
    /// What is said to whoever would do meanwhile what would disturb it; empty while none is under way.
    QString disturbed() const;
    void stop();

signals:
    void changed();

private:
    std::array<BlindTrial*, 3> all() { return {&abx, &preference, &rating}; }
};

} // namespace hr::app

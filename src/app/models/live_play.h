// SPDX-License-Identifier: GPL-3.0-or-later
//
// The input that is watched, played live through whoever is heard: matched by the last ten seconds, as late as
// is told.
#pragma once

#include "audition/live/live_matching.h"
#include "models/line_up.h"
#include "models/outside_input.h"

#include <QTimer>

namespace hr::app {

class LivePlay : public QObject {
    Q_OBJECT
public:
    struct Services {
        Transport& transport;
        OutputSwitch& output;
        LineUp& line_up;
        OutsideInput& outside;
    };
    explicit LivePlay(const Services& services, QObject* parent = nullptr);

    /// Begins, or goes back to the source; does nothing where something stands in the way.
    void toggle();
    /// Why it cannot be begun; empty: it can.
    QString disabledReason() const;
    bool isOn() const { return m_services.transport.isLive(); }

    /// From the input's jack, or the other program, to the ear.
    struct Latency {
        double input_ms = 0;     ///< of its device
        double rack_ms = 0;      ///< here
        double processor_ms = 0; ///< of whoever is heard
        double output_ms = 0;    ///< of its device
        double all_ms = 0;
    };
    Latency latency() const;
    /// Whether enough has been played to match everybody by.
    bool isMatched() const;

signals:
    void changed(); ///< on, off, or its figures

private:
    void follow();
    void begin();
    void end();
    void update();

    /// Of one contender.
    struct Readers {
        std::uint32_t generation = 0;
        std::shared_ptr<audition::TapReader> in, out;
    };

    const Services m_services;
    std::optional<audition::LiveMatching> m_matching; // while it is on
    std::map<ContenderId, Readers> m_readers;
    QTimer m_timer;
};

} // namespace hr::app

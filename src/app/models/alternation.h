// SPDX-License-Identifier: GPL-3.0-or-later
//
// Switching by itself: the next of the line-up after so many seconds that played, or with every so many bars of
// the source; and whether switches, also those by hand, are in time with its bars.
#pragma once

#include "models/blind_trials.h"

namespace hr::app {

class Alternation : public QObject {
    Q_OBJECT
public:
    enum class Unit { Seconds, Bars };
    struct Every {
        double count = 0; ///< 0: it does not
        Unit unit = Unit::Seconds;

        friend bool operator==(const Every&, const Every&) = default;
    };

    Alternation(LineUp& line_up, Transport& transport, const BlindTrials& trials, SourceList& sources,
                QObject* parent = nullptr);

    const Every& every() const { return m_every; }
    /// Whether the source has bars to go by.
    bool hasBars() const;
    /// Bars of a source that has none are not gone by.
    void set(const Every& every);

    /// Whether each switch waits for the next bar, where the source has any.
    void setInTime(bool on);
    bool isInTime() const { return m_in_time; }
    /// The source has another tempo.
    void followTempo();

signals:
    void changed();

private:
    double barS() const;
    bool isLastBarOf(std::size_t frame, double bars) const;
    void follow(std::size_t frame);
    void hearNext();

    LineUp& m_line_up;
    Transport& m_transport;
    const BlindTrials& m_trials;
    SourceList& m_sources;
    Every m_every;
    bool m_in_time = false;
    std::optional<std::size_t> m_frame; // that was played last
    double m_played_s = 0;              // since the last switch
};

} // namespace hr::app

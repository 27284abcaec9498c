// SPDX-License-Identifier: GPL-3.0-or-later
//
// What passes through whoever is audible, for meters and live views: started over when another one is audible,
// and only while somebody looks.
#pragma once

#include "audio/transport.h"
#include "audition/live/gain_history.h"
#include "audition/live/live_history.h"
#include "audition/live/live_levels.h"
#include "audition/live/live_pitch.h"
#include "audition/live/live_spectrum.h"
#include "audition/live/loop_wave.h"
#include "models/line_up.h"

namespace hr::app {

class LiveTap : public QObject {
    Q_OBJECT
public:
    static constexpr double remembered_s = 8; ///< of the gain over time

    LiveTap(Transport& transport, LineUp& line_up, QObject* parent = nullptr);

    /// While `viewer` looks. One that is deleted looks away.
    void watch(QObject* viewer, bool on);

    /// Whose figures these are; no_contender: nobody's.
    ContenderId contender() const { return m_contender; }
    const audition::LiveLevels& levels() const { return m_live->levels; } ///< as it is heard, matched
    const audition::LiveSpectrum& inSpectrum() const { return m_live->in_spectrum; }
    const audition::LiveSpectrum& outSpectrum() const { return m_live->out_spectrum; } ///< matched
    const audition::GainHistory& gain() const { return m_live->gain; }                 ///< before matching
    const audition::LiveHistory& history() const { return m_live->history; }           ///< matched
    const audition::LoopWave& wave() const { return m_live->wave; }                    ///< out: matched
    std::optional<audition::Pitch> pitch() const { return m_live->pitch.read(); }      ///< of what comes out

    /// Of spectra, from now on.
    void setAveraging(double seconds);
    double averagingS() const { return m_averaging_s; }
    /// The highest so far begins again.
    void forgetPeaks();
    bool hasAny() const { return m_live.has_value(); }

signals:
    void updated();

private:
    void follow();
    void begin();
    void end();

    struct Live {
        Live(double rate_hz, const audition::Section& loop);
        audition::LiveLevels levels;
        audition::LiveSpectrum in_spectrum, out_spectrum;
        audition::GainHistory gain;
        audition::LiveHistory history;
        audition::LoopWave wave;
        audition::LivePitch pitch;
    };

    Transport& m_transport;
    LineUp& m_line_up;
    std::set<const QObject*> m_viewers;
    ContenderId m_contender = audition::no_contender;
    std::uint32_t m_generation = 0;
    std::shared_ptr<audition::TapReader> m_in, m_out, m_matched;
    std::optional<Live> m_live;
    double m_averaging_s = audition::LiveSpectrum::usual_averaging_s;
};

} // namespace hr::app

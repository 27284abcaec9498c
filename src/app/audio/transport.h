// SPDX-License-Identifier: GPL-3.0-or-later
//
// What plays: a source, the section of it that repeats, where it is, on which device. Holds the engine, and
// replaces it where a device wants another rate: source, section, position and everything that is heard stay.
#pragma once

#include "audio/output_meter.h"
#include "audio/output_switch.h"
#include "chain/company.h"

#include <QTimer>

namespace hr::app {

/// A part of a source, whatever the rate it is played at.
struct Passage {
    double first_s = 0;
    double length_s = 0;
    double level_db = 0; ///< that it goes into the candidates at, above or below its own
};

/// How often what played broke off, since the start.
struct Underruns {
    std::size_t of_lanes = 0;  ///< lanes had nothing ready
    std::size_t of_device = 0; ///< the server or the hardware went on without us

    std::size_t count() const { return of_lanes + of_device; }
};

struct OutputLevels {
    OutputMeter::Levels levels;
    bool limited = false;
    Underruns underruns;
};

class Transport : public QObject {
    Q_OBJECT
public:
    Transport(OutputSwitch& output, Jobs& jobs, QObject* parent = nullptr);
    ~Transport() override;

    double rateHz() const { return m_engine->rateHz(); }

    // --- what is played ---

    const std::shared_ptr<const audition::Source>& source() const { return m_engine->scene().source; }
    /// Whether there is a source, or one is being loaded.
    bool hasSource() const { return source() || m_asked; }
    const QString& sourceFile() const { return m_file; }
    audition::Section loop() const { return m_engine->scene().loop; }
    std::optional<Passage> passage() const; ///< the loop; empty without a source
    /// Loads in the background; sourceChanged() follows, or notice(). Of several asked for, the last.
    void load(const QString& file, std::optional<Passage> passage = {});
    void setLoop(audition::Section loop);
    void setPassage(const Passage& passage);
    /// At which the source goes into the candidates, above or below its own: what reacts to level reacts to it.
    void setLevel(double level_db);
    double levelDb() const;
    static constexpr double most_level_db = 24;

    /// The same for whoever is heard, until it is changed again.
    void setMonitor(const audition::Monitor& monitor);
    const audition::Monitor& monitor() const { return m_monitor; }
    /// What the reference leaves of whoever is heard, instead.
    void hearDifference(bool on);
    bool hearsDifference() const { return m_difference; }

    /// What comes in is heard in place of the source, at the rate that is played; null: the source again, from
    /// where it was left. Another source that is chosen ends it, as does another rate.
    void playLive(std::shared_ptr<const audition::RecentInput> input);
    bool isLive() const { return m_engine->scene().live != nullptr; }
    /// See audition::Engine.
    std::size_t liveLagFrames() const { return m_engine->liveLagFrames(); }

    void play(bool on);
    bool isPlaying() const { return m_engine->isPlaying(); }
    void seek(std::size_t frame); ///< of the source
    std::size_t position() const { return isLive() ? m_left_at : m_engine->position(); }
    /// The frames that blocks of what is heard are stamped with lie in it: the loop; live, ten seconds.
    audition::Section heardLoop() const;

    // --- through whom: the line-up's side ---

    void setContenders(std::vector<audition::ContenderSpec> contenders);
    void setParameter(audition::ContenderId id, std::size_t index, double value);
    void setGain(audition::ContenderId id, std::uint32_t generation, std::optional<double> gain_db);
    void setOffset(audition::ContenderId id, std::uint32_t generation, double samples);
    void setMix(audition::ContenderId id, std::uint32_t generation, audition::WetDry mix);
    void setReference(audition::ContenderId id);
    /// See audition::Mixer: beside whoever is heard, who stands at these linear gains meanwhile.
    void setAccompaniment(audition::ContenderId id, chain::SideGains gains = {});
    /// As soon as it is there and matched; what is audible stays until then.
    void hear(audition::ContenderId id, bool gently = false);
    /// Whether each switch begins the section again, so that the same sound is compared.
    void setRestarting(bool on);
    bool isRestarting() const { return m_restarting; }
    /// Switches wait for the next bar of this length, counted from the beginning of the source; 0: they do not.
    void setBar(double bar_s);
    audition::ContenderId audible() const { return m_engine->audible(); }
    std::vector<audition::Engine::LaneState> lanes() const { return m_engine->states(); }
    bool isSettled() const { return m_engine->isSettled(); }
    std::vector<float> stageGainsDb(audition::ContenderId id) const { return m_engine->stageGainsDb(id); }

    /// Looks at what is heard; goes on in vain once engineReplaced().
    std::shared_ptr<audition::TapReader> listen(audition::TapPoint point, audition::ContenderId id,
                                                std::size_t blocks = 64)
    {
        return m_engine->listen(point, id, blocks);
    }
    Underruns underruns();

signals:
    void sourceChanged(); ///< or its section, or the rate
    void playingChanged(bool on);
    void liveChanged();
    void monitorChanged();
    void positionMoved(std::size_t frame);
    void levelsMeasured(const hr::app::OutputLevels& levels);
    void audibleChanged();
    void lanesChanged(); ///< some are ready, or have failed
    void engineReplaced();
    void notice(const QString& text);

private:
    /// What was asked for last, until it is there.
    struct LoadRequest {
        QString file;
        std::optional<Passage> passage;
        bool for_another_rate = false;
    };
    void load(const LoadRequest& asked);
    void loaded(const LoadRequest& asked, const std::shared_ptr<const audition::Source>& source);
    void outputOpened(double rate_hz);
    void followRate(bool with_source);
    std::shared_ptr<audition::Engine> makeEngine(double rate_hz);
    /// The same scene through this source, which is of the new rate.
    void replaceEngine(const std::shared_ptr<const audition::Source>& source, std::optional<Passage> passage,
                       std::optional<double> position_s);
    void applyPending();
    void tick();
    void keepTicking();

    Jobs& m_jobs;
    OutputSwitch& m_output;
    LateCalls m_late{this};
    double m_rate_hz; // of the output that was opened last; the engine follows
    std::shared_ptr<audition::Engine> m_engine;
    std::unique_ptr<OutputMeter> m_meter;
    QString m_file;
    audition::Monitor m_monitor;
    bool m_difference = false;
    bool m_restarting = false;
    double m_bar_s = 0;
    audition::ContenderId m_reference = audition::no_contender;
    audition::ContenderId m_accompaniment = audition::no_contender;
    chain::SideGains m_side_gains;
    std::optional<LoadRequest> m_asked;
    bool m_problem_said = false; // of this source
    std::size_t m_left_at = 0;   // frame of it at which it went live
    audition::ContenderId m_wanted = audition::no_contender;
    audition::ContenderId m_audible_told = audition::no_contender;
    std::vector<audition::Engine::LaneState> m_lanes_told;
    std::size_t m_underruns_before = 0; // of engines that there were
    QTimer m_timer;
    int m_ticks_left = 0; // once nothing moves any more
};

} // namespace hr::app

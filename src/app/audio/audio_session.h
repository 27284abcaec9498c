// SPDX-License-Identifier: GPL-3.0-or-later
//
// The engine and the device it plays on, as the interface sees them. Lives in the interface's thread;
// a device that is lost is replaced by the silent one, so that time goes on and nothing stops.
#pragma once

#include "audition/engine.h"
#include "audition/output_device.h"
#include "signal/loudness.h"

#include <QObject>
#include <QTimer>

namespace hr::app {

/// How often what played broke off.
struct Underruns {
    std::size_t of_lanes = 0;  ///< lanes had nothing ready
    std::size_t of_device = 0; ///< the server or the hardware went on without us

    std::size_t count() const { return of_lanes + of_device; }
};

struct OutputLevels {
    std::optional<double> momentary_lufs;
    double peak_dbfs = -200; ///< of the last stretch
    bool limited = false;
    Underruns underruns; ///< since the start
};

class AudioSession : public QObject {
    Q_OBJECT
public:
    /// `choice` as it was last time; empty system: the best that answers.
    explicit AudioSession(const audition::DeviceChoice& choice, QObject* parent = nullptr);
    ~AudioSession() override;

    audition::Engine& engine() { return *m_engine; }
    double rateHz() const { return m_engine->rateHz(); }
    const audition::DeviceChoice& device() const { return m_device->choice(); }
    /// Another device; where it cannot be opened the present one stays and notice() says why. One with
    /// another sample rate takes effect at the next start.
    void choose(const audition::DeviceChoice& choice);

    void play(bool on);
    bool isPlaying() const { return m_engine->isPlaying(); }

signals:
    void playingChanged(bool on);
    void positionMoved(std::size_t frame);
    void levelsMeasured(const hr::app::OutputLevels& levels);
    void deviceChanged();
    void notice(const QString& text);

private:
    void tick();
    void countUnderruns();
    void startDevice(std::unique_ptr<audition::OutputDevice> device);

    std::unique_ptr<audition::Engine> m_engine;
    std::unique_ptr<audition::OutputDevice> m_device; // after the engine: it is stopped first
    signal::LoudnessMeter m_meter;
    std::vector<audition::Frame> m_taken;
    Underruns m_underruns;
    std::size_t m_xruns = 0; // of the present device, played or not
    QTimer m_timer;
    int m_ticks = 0;
};

} // namespace hr::app

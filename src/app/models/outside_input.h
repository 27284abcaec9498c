// SPDX-License-Identifier: GPL-3.0-or-later
//
// A sound from outside: while an input is watched its last two minutes are kept in memory, and can be taken as
// a source at any time; or what comes from now on.
#pragma once

#include "actions/notices.h"
#include "audition/input_device.h"
#include "audition/recent_input.h"
#include "jobs/jobs.h"
#include "jobs/late_calls.h"

#include <QTimer>
#include <filesystem>

namespace hr::app {

class OutsideInput : public QObject {
    Q_OBJECT
public:
    OutsideInput(const std::filesystem::path& data_directory, Jobs& jobs, Notices& notices,
                 QObject* parent = nullptr);
    ~OutsideInput() override;

    /// Asks the servers in the background; inputsFound() follows.
    void findInputs();
    /// At this rate, where its system converts to it.
    void watch(const audition::DeviceChoice& choice, double rate_hz);
    void stop();
    bool isWatching() const { return m_device != nullptr; }
    /// Why there is nothing of it to be taken or heard; empty: there is.
    QString disabledReason() const;
    /// "JACK: system"; empty: nothing is watched.
    QString watched() const;
    /// What of it is kept, and comes in; null: nothing is watched.
    std::shared_ptr<const audition::RecentInput> recent() const { return m_recent; }
    /// How old it is when it comes in, as far as its system tells.
    std::size_t latencyFrames() const { return m_device ? m_device->latencyFrames() : 0; }

    /// The last two minutes, or what there is of them, as a file; taken() follows.
    void takeLast();
    /// Begins to record; or ends it, and takes what has come since. It ends by itself after two minutes.
    void record();
    bool isRecording() const { return m_recording_from.has_value(); }

signals:
    void changed();
    void inputsFound(const std::vector<hr::audition::DeviceChoice>& choices);
    void taken(const QString& file);

private:
    void take(signal::AudioBuffer sound);

    const std::filesystem::path m_folder;
    Jobs& m_jobs;
    Notices& m_notices;
    std::shared_ptr<audition::RecentInput> m_recent;
    std::unique_ptr<audition::InputDevice> m_device;
    quint64 m_turn = 0; // what is told of an input that was watched before is not of this one
    std::optional<std::size_t> m_recording_from;
    QTimer m_recorded_enough;
    LateCalls m_late{this}; // last
};

} // namespace hr::app

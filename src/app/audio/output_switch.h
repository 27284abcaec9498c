// SPDX-License-Identifier: GPL-3.0-or-later
//
// The device that plays, and the way from one to another. Servers may take seconds to answer, or stand still:
// opening, starting and closing happen in the background, and the silent device keeps time meanwhile.
#pragma once

#include "audition/engine.h"
#include "audition/output_device.h"
#include "jobs/jobs.h"
#include "jobs/late_calls.h"

namespace hr::app {

class OutputSwitch : public QObject {
    Q_OBJECT
public:
    explicit OutputSwitch(Jobs& jobs, QObject* parent = nullptr);
    ~OutputSwitch() override;

    /// The silent one until another has been opened, and once that is lost.
    const audition::DeviceChoice& inUse() const { return m_device->choice(); }
    /// What somebody has chosen last, whether it can be opened now or not; empty: the best that answers.
    const audition::DeviceChoice& chosen() const { return m_chosen; }
    double rateHz() const { return m_device->rateHz(); }
    /// How long what is played takes to be heard, as far as the device tells.
    std::size_t latencyFrames() const { return m_feed ? m_device->latencyFrames() : 0; }
    /// How often a device has gone on without us, of the times at which this was called with `counts`.
    std::size_t xruns(bool counts);

    /// changed() follows, or notice() and the present one stays.
    void choose(const audition::DeviceChoice& choice);
    /// What is played from now on, at the rate of the device that was opened() last or, where there is none, of
    /// the one in use.
    void feed(std::shared_ptr<audition::Engine> engine);

    /// Lets go of the device, waiting at most so long; whether it has let go of us.
    bool end(std::chrono::milliseconds patience);

signals:
    /// A device of this rate is open and waits for feed().
    void opened(double rate_hz);
    void changed();
    void notice(const QString& text);

private:
    class Feed;
    using Device = std::shared_ptr<audition::OutputDevice>;

    void start(Device device);
    void startSilence();
    void replace(Device device, std::shared_ptr<Feed> feed);
    void closeElsewhere(Device device);
    void lost(const audition::OutputDevice* which);
    void stay(const Error& because);
    std::function<void()> whenLost(const Device& device);

    Jobs& m_jobs;
    audition::DeviceChoice m_chosen;
    std::shared_ptr<audition::Engine> m_engine;
    Device m_device;
    Device m_waiting;             // open, not started
    std::shared_ptr<Feed> m_feed; // of m_device; null: it has not been started
    std::size_t m_xruns = 0;
    std::size_t m_xruns_seen = 0; // of m_device
    LateCalls m_late{this};
};

} // namespace hr::app

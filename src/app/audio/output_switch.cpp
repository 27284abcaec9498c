// SPDX-License-Identifier: GPL-3.0-or-later
#include "audio/output_switch.h"

#include <algorithm>
#include <atomic>
#include <future>
#include <thread>

namespace hr::app {

namespace {

Result<std::shared_ptr<audition::OutputDevice>> open(const audition::DeviceChoice& choice)
{
    if (choice.system.empty())
        return std::shared_ptr(audition::openBestDevice());
    auto device = audition::openDevice(choice);
    if (!device)
        return tl::make_unexpected(device.error());
    return std::shared_ptr(std::move(*device));
}

} // namespace

/// From a device to an engine: shut from one moment to the next, so that a device that takes its time to end no
/// longer plays meanwhile, and never beside its successor.
class OutputSwitch::Feed {
public:
    explicit Feed(std::shared_ptr<audition::Engine> engine) : m_engine(std::move(engine)) {}

    /// The audio callback.
    void render(float* out, std::size_t frames) noexcept
    {
        m_inside.store(true, std::memory_order_seq_cst);
        if (m_open.load(std::memory_order_seq_cst))
            m_engine->render(out, frames);
        else
            std::fill_n(out, 2 * frames, 0.0F);
        m_inside.store(false, std::memory_order_release);
    }

    void open() { m_open.store(true, std::memory_order_seq_cst); }
    /// The engine is not called any more once this returns.
    void shut()
    {
        m_open.store(false, std::memory_order_seq_cst);
        while (m_inside.load(std::memory_order_seq_cst))
            std::this_thread::yield();
    }

private:
    const std::shared_ptr<audition::Engine> m_engine;
    std::atomic<bool> m_open{false};   // by the switch
    std::atomic<bool> m_inside{false}; // by the audio callback
};

OutputSwitch::OutputSwitch(Jobs& jobs, QObject* parent)
    : QObject(parent), m_jobs(jobs), m_device(std::move(*audition::openDevice({"silent", ""})))
{
}

OutputSwitch::~OutputSwitch()
{
    if (m_feed)
        m_feed->shut();
}

bool OutputSwitch::end(std::chrono::milliseconds patience)
{
    if (m_feed)
        m_feed->shut();
    const auto gone = std::make_shared<std::promise<void>>();
    auto future = gone->get_future();
    std::thread([gone, device = std::exchange(m_device, audition::openSilentDevice(rateHz()))]() mutable {
        device.reset();
        gone->set_value();
    }).detach();
    m_feed.reset();
    return future.wait_for(patience) == std::future_status::ready;
}

std::size_t OutputSwitch::xruns(bool counts)
{
    const std::size_t now = m_device->xruns();
    if (counts)
        m_xruns += now - m_xruns_seen;
    m_xruns_seen = now;
    return m_xruns;
}

void OutputSwitch::choose(const audition::DeviceChoice& choice)
{
    m_chosen = choice;
    const auto device = std::make_shared<Result<Device>>();
    JobOrder job;
    job.line = QStringLiteral("output");
    job.urgent = true;
    job.supersedes = true;
    job.owner = this;
    job.work = [device, choice](const JobControl&) { *device = open(choice); };
    job.finished = [this, device](JobEnd end) {
        if (end == JobEnd::Cancelled)
            return *device ? closeElsewhere(std::move(**device)) : void();
        if (!*device)
            return stay(device->error());
        closeElsewhere(std::exchange(m_waiting, std::move(**device)));
        emit opened(m_waiting->rateHz());
    };
    m_jobs.add(std::move(job));
}

void OutputSwitch::feed(std::shared_ptr<audition::Engine> engine)
{
    m_engine = std::move(engine);
    if (m_waiting)
        start(std::exchange(m_waiting, nullptr));
    else
        startSilence();
}

std::function<void()> OutputSwitch::whenLost(const Device& device)
{
    return m_late.to([this, which = device.get()] { lost(which); });
}

void OutputSwitch::start(Device device)
{
    const auto feed = std::make_shared<Feed>(m_engine);
    const auto began = std::make_shared<std::optional<Result<void>>>();
    const auto lost = whenLost(device);
    // Held once, so that whoever takes it out of here is the one who closes it.
    const auto held = std::make_shared<Device>(std::move(device));
    JobOrder job;
    job.line = QStringLiteral("output");
    job.urgent = true;
    job.owner = this;
    job.work = [held, feed, began, lost](const JobControl&) {
        *began = (*held)->start([feed](float* out, std::size_t frames) { feed->render(out, frames); }, lost);
    };
    job.finished = [this, held, feed, began](JobEnd) {
        Device started = std::move(*held);
        if (!*began) // another has been chosen meanwhile
            return closeElsewhere(std::move(started));
        if (!**began) {
            closeElsewhere(std::move(started));
            return stay((*began)->error());
        }
        if (!started->isAlive()) { // which was told before anybody held it
            const Error gone{Blame::Machine,
                             tr("%1 went away while it was being started: choose another device.")
                                 .arg(QString::fromStdString(started->choice().system))
                                 .toStdString()};
            closeElsewhere(std::move(started));
            return stay(gone);
        }
        replace(std::move(started), feed);
        emit changed();
    };
    m_jobs.add(std::move(job));
}

/// With the device in use, or, where the engine is made for another rate by now, the silent one.
void OutputSwitch::stay(const Error& because)
{
    if (m_engine && rateHz() != m_engine->rateHz())
        startSilence();
    emit notice(QString::fromStdString(because.text));
    emit changed(); // so that what is shown is the one in use
}

void OutputSwitch::startSilence()
{
    Device silence = audition::openSilentDevice(m_engine->rateHz());
    const auto feed = std::make_shared<Feed>(m_engine);
    // It only keeps time, which cannot fail.
    (void)silence->start([feed](float* out, std::size_t frames) { feed->render(out, frames); });
    replace(std::move(silence), feed);
    emit changed();
}

void OutputSwitch::replace(Device device, std::shared_ptr<Feed> feed)
{
    if (m_feed)
        m_feed->shut();
    std::swap(m_device, device);
    m_feed = std::move(feed);
    m_xruns_seen = m_device->xruns();
    m_feed->open();
    closeElsewhere(std::move(device));
}

/// A device may take its time to end.
void OutputSwitch::closeElsewhere(Device device)
{
    if (!device)
        return;
    const auto closed = std::make_shared<Device>(std::move(device));
    JobOrder job;
    job.urgent = true;
    job.work = [closed](const JobControl&) { closed->reset(); };
    m_jobs.add(std::move(job));
}

void OutputSwitch::lost(const audition::OutputDevice* which)
{
    if (m_device.get() != which)
        return;
    const QString name = QString::fromStdString(m_device->choice().system);
    startSilence();
    emit notice(
        tr("%1 has gone away. The silent device keeps time: choose another in the strip below.").arg(name));
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audio/audio_session.h"

#include "signal/levels.h"

#include <algorithm>

namespace hr::app {

namespace {

constexpr int tick_ms = 33;
constexpr int ticks_between_device_checks = 15;

std::unique_ptr<audition::OutputDevice> firstDevice(const audition::DeviceChoice& choice)
{
    if (!choice.system.empty())
        if (auto device = audition::openDevice(choice))
            return std::move(*device);
    return audition::openBestDevice();
}

} // namespace

AudioSession::AudioSession(const audition::DeviceChoice& choice, QObject* parent)
    : QObject(parent), m_device(firstDevice(choice)), m_meter(2, m_device->rateHz()), m_taken(8192)
{
    m_engine = std::make_unique<audition::Engine>(m_device->rateHz());
    startDevice(std::move(m_device));
    connect(&m_timer, &QTimer::timeout, this, &AudioSession::tick);
    m_timer.start(tick_ms);
}

AudioSession::~AudioSession()
{
    m_device.reset(); // before the engine it calls
}

void AudioSession::startDevice(std::unique_ptr<audition::OutputDevice> device)
{
    m_device = std::move(device);
    m_xruns = 0;
    audition::Engine* engine = m_engine.get();
    const auto render = [engine](float* out, std::size_t frames) { engine->render(out, frames); };
    if (auto started = m_device->start(render); !started) {
        emit notice(QString::fromStdString(started.error().text));
        m_device = std::move(*audition::openDevice({"silent", ""}));
        (void)m_device->start(render);
    }
    emit deviceChanged();
}

void AudioSession::choose(const audition::DeviceChoice& choice)
{
    auto device = audition::openDevice(choice);
    if (!device) {
        emit notice(QString::fromStdString(device.error().text));
        emit deviceChanged(); // so that the choice shown is the one in use
        return;
    }
    if ((*device)->rateHz() != rateHz()) {
        emit notice(
            tr("%1 runs at %2 Hz, this session at %3 Hz: close Honest Rack and start it again to use it.")
                .arg(QString::fromStdString(choice.system))
                .arg((*device)->rateHz())
                .arg(rateHz()));
        emit deviceChanged();
        return;
    }
    m_device.reset(); // the old one lets go of the engine first
    startDevice(std::move(*device));
}

void AudioSession::play(bool on)
{
    on ? m_engine->play() : m_engine->pause();
    emit playingChanged(on);
}

void AudioSession::countUnderruns()
{
    m_underruns.of_lanes = m_engine->underruns();
    const std::size_t xruns = m_device->xruns();
    if (isPlaying())
        m_underruns.of_device += xruns - m_xruns;
    m_xruns = xruns;
}

void AudioSession::tick()
{
    m_engine->tend();
    emit positionMoved(m_engine->position());

    OutputLevels levels;
    levels.limited = m_engine->takeLimiterActed();
    static_assert(sizeof(audition::Frame) == 2 * sizeof(float));
    while (const std::size_t count = m_engine->takeOutput(m_taken.data(), m_taken.size())) {
        const std::span samples(&m_taken[0].left, 2 * count);
        m_meter.add(samples.data(), count);
        levels.peak_dbfs = std::max(levels.peak_dbfs, signal::peakDbfs(std::span<const float>(samples)));
    }
    levels.momentary_lufs = m_meter.momentaryLufs();
    countUnderruns();
    levels.underruns = m_underruns;
    emit levelsMeasured(levels);

    if (++m_ticks % ticks_between_device_checks == 0 && !m_device->isAlive()) {
        const QString lost = QString::fromStdString(m_device->choice().system);
        m_device.reset();
        startDevice(std::move(*audition::openDevice({"silent", ""})));
        emit notice(
            tr("%1 has gone away. The silent device keeps time; choose another in the strip below.").arg(lost));
    }
}

} // namespace hr::app

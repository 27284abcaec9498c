// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/live_play.h"

#include <algorithm>

namespace hr::app {

namespace {

constexpr int update_ms = 200;

} // namespace

LivePlay::LivePlay(const Services& services, QObject* parent) : QObject(parent), m_services(services)
{
    m_timer.setInterval(update_ms);
    connect(&m_timer, &QTimer::timeout, this, &LivePlay::update);
    connect(&m_services.transport, &Transport::liveChanged, this, &LivePlay::follow);
    connect(&m_services.transport, &Transport::engineReplaced, this, [this] { m_readers.clear(); });
    connect(&m_services.outside, &OutsideInput::changed, this, [this] {
        if (isOn() && !m_services.outside.isWatching())
            m_services.transport.playLive(nullptr);
    });
}

QString LivePlay::disabledReason() const
{
    const OutsideInput& outside = m_services.outside;
    if (isOn() || !outside.isWatching())
        return isOn() ? QString() : outside.disabledReason();
    if (outside.recent()->rateHz() == m_services.transport.rateHz())
        return {};
    return tr("%1 runs at %2 Hz and the output at %3 Hz: choose an output of the same system, or watch the "
              "input "
              "again.")
        .arg(outside.watched())
        .arg(outside.recent()->rateHz())
        .arg(m_services.transport.rateHz());
}

void LivePlay::toggle()
{
    Transport& transport = m_services.transport;
    if (isOn())
        return transport.playLive(nullptr);
    if (!disabledReason().isEmpty() || m_services.line_up.isTried())
        return;
    transport.playLive(m_services.outside.recent());
    transport.play(true);
}

void LivePlay::follow()
{
    isOn() ? begin() : end();
    emit changed();
}

void LivePlay::begin()
{
    m_matching.emplace(m_services.transport.rateHz());
    m_readers.clear();
    m_timer.start();
    update();
}

void LivePlay::end()
{
    m_timer.stop();
    m_readers.clear();
    m_matching.reset();
    m_services.line_up.setLive({});
}

void LivePlay::update()
{
    const LineUp& line_up = m_services.line_up;
    std::erase_if(m_readers, [&](const auto& one) {
        if (line_up.find(one.first))
            return false;
        m_matching->forget(one.first);
        return true;
    });
    audition::TapBlock block;
    std::map<ContenderId, std::optional<double>> lufs;
    for (const Contender& contender : line_up.contenders()) {
        if (!contender.isOpen())
            continue;
        Readers& readers = m_readers[contender.id];
        if (!readers.in || readers.generation != contender.generation) {
            constexpr std::size_t blocks = 1024; // half a second at the shortest period
            const auto listen = [&](audition::TapPoint point) {
                return m_services.transport.listen(point, contender.id, blocks);
            };
            readers = {contender.generation, listen(audition::TapPoint::Input),
                       listen(audition::TapPoint::Output)};
        }
        while (readers.in->take(block))
            m_matching->addInput(block);
        while (readers.out->take(block))
            m_matching->addOutput(block);
    }
    m_matching->update();
    if (m_matching->inputLufs()) {
        const Contender& untreated = *line_up.find(LineUp::untreated);
        for (const Contender& contender : line_up.contenders())
            lufs[contender.id] = m_matching->loudnessOf(contender.id, untreated.loop, contender.loop);
    }
    m_services.line_up.setLive(std::move(lufs));
    emit changed();
}

LivePlay::Latency LivePlay::latency() const
{
    const Transport& transport = m_services.transport;
    const auto ms = [&](std::size_t frames) { return 1000 * static_cast<double>(frames) / transport.rateHz(); };
    Latency latency;
    latency.input_ms = ms(m_services.outside.latencyFrames());
    latency.rack_ms = ms(transport.liveLagFrames());
    latency.output_ms = ms(m_services.output.latencyFrames());
    for (const auto& lane : transport.lanes())
        if (lane.id == transport.audible())
            latency.processor_ms = ms(lane.latency_frames);
    latency.all_ms = latency.input_ms + latency.rack_ms + latency.processor_ms + latency.output_ms;
    return latency;
}

bool LivePlay::isMatched() const
{
    return m_matching &&
           std::ranges::all_of(m_services.line_up.contenders(), [this](const Contender& contender) {
               return !contender.isOpen() || m_matching->isMeasured(contender.id);
           });
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "tour/steps.h"

namespace hr::app {

namespace {

constexpr int look_ms = 20;
constexpr int longest_wait_ms = 240000;

} // namespace

Steps::Steps()
{
    m_timer.setInterval(look_ms);
    m_timer.callOnTimeout(this, &Steps::look);
}

void Steps::attempt(std::function<Result<void>()> go)
{
    m_steps.push_back({std::move(go), [] { return true; }, {}, longest_wait_ms});
}

void Steps::then(const std::function<void()>& go)
{
    attempt([go]() -> Result<void> {
        go();
        return {};
    });
}

void Steps::wait(const char* what, std::function<bool()> holds)
{
    m_steps.push_back({[]() -> Result<void> { return {}; }, std::move(holds), what, longest_wait_ms});
}

void Steps::pause(int ms)
{
    m_steps.push_back(
        {[]() -> Result<void> { return {}; }, [this, ms] { return m_waited_ms >= ms; }, {}, ms + 1000});
}

void Steps::start()
{
    m_timer.start();
    next();
}

void Steps::next()
{
    m_waited_ms = 0;
    if (m_steps.empty()) {
        m_timer.stop();
        return emit finished({});
    }
    if (const auto done = m_steps.front().go(); !done) {
        m_timer.stop();
        emit finished(QString::fromStdString(done.error().text));
    }
}

void Steps::look()
{
    m_waited_ms += look_ms;
    const Step& step = m_steps.front();
    if (step.holds()) {
        m_steps.pop_front();
        next();
    } else if (m_waited_ms > step.most_ms) {
        m_timer.stop();
        emit finished(QStringLiteral("The tour waited in vain for %1.").arg(QString::fromStdString(step.what)));
    }
}

} // namespace hr::app

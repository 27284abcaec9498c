// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

#include "hosting/worker_pool.h"

#include "signal/generators.h"
#include "signal/levels.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTest>
#include <algorithm>
#include <cmath>
#include <csignal>
#include <numbers>
#include <unistd.h>

namespace hr::test {

hosting::Location specimenAt(const std::string& name)
{
    return {specimen + name, specimens_bundle};
}

hosting::Location faultyAt(const std::string& name)
{
    return {"lv2:urn:honest-rack:tests:" + name, faulty_bundle};
}

signal::AudioBuffer tone(double frequency_hz, double level_dbfs, double seconds, double rate_hz)
{
    const auto frames = static_cast<std::size_t>(seconds * rate_hz);
    return signal::onChannels(signal::sine(frequency_hz, signal::dbToLinear(level_dbfs), rate_hz, frames), 2,
                              rate_hz);
}

double amplitudeAt(std::span<const float> samples, double frequency_hz, double rate_hz)
{
    double in_phase = 0;
    double quadrature = 0;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double angle = 2 * std::numbers::pi * frequency_hz / rate_hz * static_cast<double>(i);
        in_phase += static_cast<double>(samples[i]) * std::sin(angle);
        quadrature += static_cast<double>(samples[i]) * std::cos(angle);
    }
    return 2 * std::hypot(in_phase, quadrature) / static_cast<double>(samples.size());
}

TemporaryStore::TemporaryStore()
{
    auto opened = library::Store::open(path());
    if (opened)
        store = std::move(*opened);
}

std::filesystem::path TemporaryStore::path(const std::string& name) const
{
    return std::filesystem::path(directory.path().toStdString()) / name;
}

signal::AudioBuffer soundOf(const audition::Source& source)
{
    signal::AudioBuffer sound(2, source.frames(), source.rateHz());
    source.read(source.whole(), 0, sound.channel(0).data(), sound.channel(1).data(), source.frames());
    return sound;
}

namespace {

std::vector<pid_t> workers()
{
    std::vector<pid_t> found;
    for (const QString& process : QDir(QStringLiteral("/proc")).entryList(QDir::Dirs)) {
        QFile name(QStringLiteral("/proc/") + process + QStringLiteral("/comm"));
        QFile status(QStringLiteral("/proc/") + process + QStringLiteral("/stat"));
        if (!name.open(QIODevice::ReadOnly) || name.readAll().trimmed() != "hrack-worker")
            continue;
        QFile environment(QStringLiteral("/proc/") + process + QStringLiteral("/environ"));
        if (!environment.open(QIODevice::ReadOnly) ||
            !environment.readAll().contains("HR_TEST_TAG=" + qgetenv("HR_TEST_TAG")))
            continue;
        // A zombie has ended; whoever is its parent has yet to ask.
        if (status.open(QIODevice::ReadOnly) && !status.readAll().contains(") Z "))
            found.push_back(process.toInt());
    }
    return found;
}

} // namespace

int runningWorkers(Reserve reserve)
{
    if (reserve == Reserve::Ended)
        hosting::WorkerPool::shared().clear();
    return static_cast<int>(workers().size());
}

void signalWorkers(int signal)
{
    for (const pid_t worker : workers())
        ::kill(worker, signal);
}

void killWorkers()
{
    const std::vector<pid_t> victims = workers();
    for (const pid_t worker : victims)
        ::kill(worker, SIGKILL);
    // One that is still on its way out would be counted among those that run.
    const auto ended = [&] {
        return std::ranges::none_of(
            workers(), [&](pid_t worker) { return std::ranges::find(victims, worker) != victims.end(); });
    };
    QVERIFY(QTest::qWaitFor(ended));
}

Finished runProgram(const QString& name, const QStringList& arguments, const QStringList& environment)
{
    QProcess process;
    QStringList variables = QProcess::systemEnvironment();
    variables << environment;
    process.setEnvironment(variables);
    process.start(QStringLiteral(HR_BIN "/") + name, arguments);
    const bool ended = process.waitForFinished(240000); // the sanitizers are slow
    return {ended && process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
            process.readAllStandardOutput(), process.readAllStandardError()};
}

void forgetKilledJackServer()
{
    std::error_code ignored;
    std::filesystem::remove_all("/dev/shm/jack_db-" + std::to_string(getuid()), ignored);
}

} // namespace hr::test

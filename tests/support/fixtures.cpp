// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

#include "processors/reference/registry.h"

#include "bench/suite.h"
#include "chain/chain_json.h"
#include "hosting/worker_pool.h"
#include "processors/settings.h"

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

hosting::FaultOr<bench::Reading> readingOf(const std::string& test, const hosting::Location& location,
                                           const std::vector<processors::Setting>& settings,
                                           const bench::Conditions& conditions)
{
    auto opened = hosting::openInstance(location);
    if (!opened)
        return tl::make_unexpected(opened.error());
    const auto values = processors::resolveSettings((*opened)->info(), {}, settings);
    if (!values)
        qFatal("%s", values.error().text.c_str());
    opened->reset();
    auto subject = bench::Subject::open(location, *values, conditions);
    return subject ? bench::testsNamed({test})->front().run(*subject) : tl::make_unexpected(subject.error());
}

hosting::FaultOr<bench::Reading> readingOf(const std::string& test, const char* reference,
                                           const std::vector<processors::Setting>& settings,
                                           const bench::Conditions& conditions)
{
    return readingOf(test, hosting::Location{std::string("reference:") + reference, {}}, settings, conditions);
}

hosting::Location chainOf(const char* nodes, const char* edges)
{
    const auto made = chain::fromJson({{"format", chain::format_name},
                                       {"version", 2},
                                       {"name", "graph"},
                                       {"nodes", nlohmann::ordered_json::parse(nodes)},
                                       {"edges", nlohmann::ordered_json::parse(edges)}});
    if (!made)
        qFatal("%s", made.error().text.c_str());
    return chain::place(*made,
                        [](const std::string& id) -> Result<hosting::Location> {
                            return hosting::Location{id, id.starts_with(specimen) ? specimens_bundle
                                                                                  : std::filesystem::path()};
                        })
        .location;
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

void useOwnJackServer()
{
    qputenv("JACK_DEFAULT_SERVER", "honest-rack-" + QByteArray::number(getpid()));
}

void forgetKilledJackServer()
{
    std::error_code ignored;
    std::filesystem::remove_all("/dev/shm/jack_db-" + std::to_string(getuid()), ignored);
}

processors::ProcessorInfo infoOf(const std::string& reference_id)
{
    for (const processors::ProcessorInfo& info : processors::referenceInfos())
        if (info.id == reference_id)
            return info;
    qFatal("there is no %s", reference_id.c_str());
}

} // namespace hr::test

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What several tests need.
#pragma once

#include "audition/source.h"
#include "bench/reading.h"
#include "bench/subject.h"
#include "chain/chain.h"
#include "hosting/instance.h"
#include "library/store.h"
#include "signal/audio_buffer.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <vector>

/// Fails with the text of the error where a Result or FaultOr holds none.
#define HR_VERIFY(result)                                                                                      \
    do {                                                                                                       \
        const auto& hr_result = (result);                                                                      \
        QVERIFY2(hr_result.has_value(), qPrintable(hr::test::why(hr_result)));                                 \
    } while (false)

/// |actual - expected| <= allowed, and says all three where not.
#define HR_NEAR(actual, expected, allowed)                                                                     \
    do {                                                                                                       \
        const double hr_actual = (actual);                                                                     \
        const double hr_expected = (expected);                                                                 \
        QVERIFY2(std::abs(hr_actual - hr_expected) <= (allowed),                                               \
                 qPrintable(QStringLiteral("%1 is %2 instead of %3, allowed %4")                               \
                                .arg(QLatin1String(#actual))                                                   \
                                .arg(hr_actual, 0, 'g', 9)                                                     \
                                .arg(hr_expected, 0, 'g', 9)                                                   \
                                .arg(static_cast<double>(allowed))));                                          \
    } while (false)

namespace hr::test {

inline QString why(const Error& error)
{
    return QString::fromStdString(error.text);
}
inline QString why(const hosting::Fault& fault)
{
    return QString::fromStdString(hosting::sentence(fault));
}
template<class T, class E>
QString why(const tl::expected<T, E>& result)
{
    return result ? QString() : why(result.error());
}

inline const std::string specimen = "lv2:urn:honest-rack:specimens:";
inline const std::filesystem::path specimens_bundle =
    std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2";
inline const std::filesystem::path faulty_bundle = std::filesystem::path(HR_FAULTY_BUNDLES) / "faulty.lv2";

/// Honest ones with known answers; see tests/plugins/awkward.cpp.
/// To be measured: honest effects whose answers are known.
inline const std::filesystem::path awkward_bundle = std::filesystem::path(HR_FAULTY_BUNDLES) / "awkward.lv2";
inline const std::filesystem::path promises_bundle = std::filesystem::path(HR_FAULTY_BUNDLES) / "promises.lv2";
inline const std::filesystem::path designs_bundle = std::filesystem::path(HR_FAULTY_BUNDLES) / "designs.lv2";
inline const std::filesystem::path shapes_bundle = std::filesystem::path(HR_FAULTY_BUNDLES) / "shapes.lv2";
inline const std::filesystem::path odd_bundle = std::filesystem::path(HR_FAULTY_BUNDLES) / "odd.lv2";
inline const std::filesystem::path intruders_bundle =
    std::filesystem::path(HR_FAULTY_BUNDLES) / "intruders.lv2";

/// The specimen of this name, where the tests were built.
hosting::Location specimenAt(const std::string& name);
/// JACK clients and servers of this process, and of its children, meet under a name of their own: whatever else
/// runs on the machine is neither used nor disturbed.
void useOwnJackServer();

/// A plug-in made to fail in one way; see tests/plugins/faulty.cpp.
hosting::Location faultyAt(const std::string& name);

/// What one test of the bench reads on a processor.
hosting::FaultOr<bench::Reading> readingOf(const std::string& test, const hosting::Location& location,
                                           const std::vector<processors::Setting>& settings = {},
                                           const bench::Conditions& conditions = {});
/// The same of one of the bench's own.
hosting::FaultOr<bench::Reading> readingOf(const std::string& test, const char* reference,
                                           const std::vector<processors::Setting>& settings = {},
                                           const bench::Conditions& conditions = {});
/// A chain of references and specimens, from the nodes and edges of its file.
hosting::Location chainOf(const char* nodes, const char* edges);

/// The description of one of the bench's own.
processors::ProcessorInfo infoOf(const std::string& reference_id);

/// A stereo tone.
signal::AudioBuffer tone(double frequency_hz, double level_dbfs, double seconds, double rate_hz = 48000);
/// Amplitude of one frequency in a signal, by correlation over all of it.
double amplitudeAt(std::span<const float> samples, double frequency_hz, double rate_hz);

/// All of a source.
signal::AudioBuffer soundOf(const audition::Source& source);

/// A data directory of its own with everything in it opened.
struct TemporaryStore {
    TemporaryStore();
    std::filesystem::path path(const std::string& name = {}) const;
    QTemporaryDir directory;
    std::unique_ptr<library::Store> store;
};

/// Workers that this test, or a program it started, has started. Those in reserve are ended first, unless kept.
enum class Reserve { Ended, Kept };
int runningWorkers(Reserve reserve = Reserve::Ended);
void killWorkers();
void signalWorkers(int signal);

/// What a jackd that was killed leaves locked in shared memory, so that the next one, and its clients, would
/// wait for ever.
void forgetKilledJackServer();

struct Finished {
    int code = -1;
    QByteArray out, err;
};
/// One of our programs, to its end.
Finished runProgram(const QString& name, const QStringList& arguments, const QStringList& environment = {});

} // namespace hr::test

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Rows of a test that are figures known on paper, of effects made for the tests: every one within half of what
// is allowed.
#pragma once

#include "bench/suite.h"
#include "support/fixtures.h"

namespace hr::test {

inline bench::Reading measured(const std::filesystem::path& bundle, const QString& name, const char* test)
{
    const hosting::Location at{"lv2:urn:honest-rack:tests:" + name.toStdString(), bundle};
    auto reading = readingOf(test, at);
    if (!reading)
        qFatal("%s", hosting::sentence(reading.error()).c_str());
    return *reading;
}

/// By the key of the figure; "peaks.0.q" is one of a list.
using Known = std::map<std::string, double>;

inline void knownColumns()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("test");
    QTest::addColumn<hr::test::Known>("known");
}

inline void known(const char* name, const char* test, const Known& known)
{
    QTest::addRow("%s, %s", name, test) << QString::fromLatin1(name) << QString::fromLatin1(test) << known;
}

inline void verifyKnown(const std::filesystem::path& bundle)
{
    QFETCH(const QString, name);
    QFETCH(const QString, test);
    QFETCH(const hr::test::Known, known);
    const bench::Reading reading = measured(bundle, name, test.toLatin1());
    for (const auto& [key, expected] : known) {
        nlohmann::ordered_json value = reading.figures;
        const QStringList path = QString::fromStdString(key).split(QLatin1Char('.'));
        for (const QString& part : path)
            value = value.is_array() ? value.at(part.toUInt()) : value.at(part.toStdString());
        QVERIFY2(value.is_number(), (key + ": " + reading.figures.dump()).c_str());
        const auto* figure = bench::figureInfo(test.toStdString(), path.front().toStdString());
        // Of a list the error is that of its times; levels have that of a feedback.
        const double allowed = path.back() == QStringLiteral("level_db")       ? 0.1
                               : path.back() == QStringLiteral("gain_db")      ? 0.02
                               : path.back() == QStringLiteral("frequency_hz") ? 0.01 * expected
                               : path.back() == QStringLiteral("q")            ? 0.03 * expected
                                                                               : figure->allowed.at(expected);
        QVERIFY2(std::abs(value.get<double>() - expected) <= 0.5 * allowed + 1e-6,
                 qPrintable(QStringLiteral("%1: %2 instead of %3")
                                .arg(QString::fromStdString(key))
                                .arg(value.get<double>(), 0, 'g', 9)
                                .arg(expected)));
    }
}

} // namespace hr::test

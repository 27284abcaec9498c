// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/bench_check.h"

#include "bench/suite.h"
#include "processors/json_text.h"

#include <QDateTime>
#include <algorithm>
#include <cmath>
#include <limits>
#include <nlohmann/json.hpp>

namespace hr::library {

using nlohmann::ordered_json;

namespace {

QString checkKey()
{
    return QStringLiteral("bench-check");
}

/// What is no number (a figure that was not found) is null there.
ordered_json toJson(const bench::Check& check)
{
    return {{"reference", check.reference},
            {"figure", check.figure},
            {"known", check.known},
            {"measured", check.measured},
            {"allowed", check.allowed},
            {"name", check.name},
            {"unit", check.unit}};
}

bench::Check checkFrom(const ordered_json& kept)
{
    const ordered_json& measured = kept.at("measured");
    return {kept.at("reference"),
            kept.at("figure"),
            kept.at("known"),
            measured.is_null() ? std::numeric_limits<double>::quiet_NaN() : measured.get<double>(),
            kept.at("allowed"),
            kept.at("name"),
            kept.at("unit")};
}

} // namespace

BenchCheck benchCheckOf(const std::vector<bench::Check>& checks)
{
    const auto passed = std::ranges::count_if(checks, &bench::Check::pass);
    return {QString::fromStdString(bench::benchVersion()),
            QDateTime::currentDateTimeUtc().toString(Qt::ISODate), static_cast<int>(passed),
            static_cast<int>(checks.size()) - static_cast<int>(passed), checks};
}

Result<void> keepBenchCheck(Store& store, const BenchCheck& check)
{
    ordered_json checks = ordered_json::array();
    for (const bench::Check& one : check.checks)
        checks.push_back(toJson(one));
    const ordered_json kept{{"bench_version", check.bench_version.toStdString()},
                            {"taken", check.taken.toStdString()},
                            {"passed", check.passed},
                            {"failed", check.failed},
                            {"checks", checks}};
    return store.setSetting(checkKey(), QString::fromStdString(kept.dump()));
}

std::optional<BenchCheck> lastBenchCheck(const Store& store)
try {
    const ordered_json kept = processors::orderedJsonFrom(store.setting(checkKey()).toStdString());
    BenchCheck check{QString::fromStdString(kept.at("bench_version")),
                     QString::fromStdString(kept.at("taken")),
                     kept.at("passed"),
                     kept.at("failed"),
                     {}};
    for (const ordered_json& one : kept.value("checks", ordered_json::array())) // empty: kept before they were
        check.checks.push_back(checkFrom(one));
    return check.taken.isEmpty() || check.passed + check.failed < 1 ? std::nullopt : std::optional(check);
} catch (const ordered_json::exception&) {
    return std::nullopt;
}

} // namespace hr::library

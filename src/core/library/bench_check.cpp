// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/bench_check.h"

#include "bench/suite.h"

#include <QDateTime>
#include <QJsonDocument>
#include <QJsonObject>
#include <algorithm>

namespace hr::library {

namespace {

QString checkKey()
{
    return QStringLiteral("bench-check");
}

} // namespace

BenchCheck benchCheckOf(const std::vector<bench::Check>& checks)
{
    const auto passed = std::ranges::count_if(checks, &bench::Check::pass);
    return {QString::fromStdString(bench::benchVersion()),
            QDateTime::currentDateTimeUtc().toString(Qt::ISODate), static_cast<int>(passed),
            static_cast<int>(checks.size()) - static_cast<int>(passed)};
}

Result<void> keepBenchCheck(Store& store, const BenchCheck& check)
{
    const QJsonObject kept{{QStringLiteral("bench_version"), check.bench_version},
                           {QStringLiteral("taken"), check.taken},
                           {QStringLiteral("passed"), check.passed},
                           {QStringLiteral("failed"), check.failed}};
    return store.setSetting(checkKey(), QString::fromUtf8(QJsonDocument(kept).toJson(QJsonDocument::Compact)));
}

std::optional<BenchCheck> lastBenchCheck(const Store& store)
{
    const QJsonObject kept = QJsonDocument::fromJson(store.setting(checkKey()).toUtf8()).object();
    const BenchCheck check{
        kept.value(QStringLiteral("bench_version")).toString(), kept.value(QStringLiteral("taken")).toString(),
        kept.value(QStringLiteral("passed")).toInt(), kept.value(QStringLiteral("failed")).toInt()};
    return check.taken.isEmpty() || check.passed + check.failed < 1 ? std::nullopt : std::optional(check);
}

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
#include "playbar/source_list.h"

#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <algorithm>

namespace hr::app {

SourceList::SourceList(const std::filesystem::path& data_directory)
{
    const QString folder = QString::fromStdString((data_directory / "sources").string());
    QFile list(folder + QStringLiteral("/sources.json"));
    if (!list.open(QIODevice::ReadOnly))
        return;
    for (const QJsonValue value : QJsonDocument::fromJson(list.readAll()).array()) {
        const QJsonObject one = value.toObject();
        m_sources.push_back({folder + QLatin1Char('/') + one.value(QStringLiteral("file")).toString(),
                             one.value(QStringLiteral("name")).toString(),
                             one.value(QStringLiteral("role")).toString(),
                             one.value(QStringLiteral("tempo_bpm")).toDouble()});
    }
}

SourceInfo SourceList::of(const QString& file)
{
    const auto found = std::ranges::find(m_sources, file, &SourceInfo::file);
    if (found != m_sources.end())
        return *found;
    m_sources.push_back({file, QFileInfo(file).completeBaseName(), {}, 0});
    return m_sources.back();
}

QString SourceList::next(const QString& file) const
{
    const auto found = std::ranges::find(m_sources, file, &SourceInfo::file);
    if (m_sources.empty())
        return {};
    return found == m_sources.end() || found + 1 == m_sources.end() ? m_sources.front().file
                                                                    : (found + 1)->file;
}

} // namespace hr::app

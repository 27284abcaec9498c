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
    : m_folder(QFile::decodeName((data_directory / "sources").c_str()))
{
    reload();
}

void SourceList::reload()
{
    QFile list(m_folder + QStringLiteral("/sources.json"));
    if (!list.open(QIODevice::ReadOnly))
        return;
    for (const QJsonValue value : QJsonDocument::fromJson(list.readAll()).array()) {
        const QJsonObject one = value.toObject();
        const QString file = m_folder + QLatin1Char('/') + one.value(QStringLiteral("file")).toString();
        if (std::ranges::find(m_sources, file, &SourceInfo::file) == m_sources.end())
            m_sources.push_back({file, one.value(QStringLiteral("name")).toString(),
                                 one.value(QStringLiteral("role")).toString(),
                                 one.value(QStringLiteral("tempo_bpm")).toDouble()});
    }
}

QString SourceList::first() const
{
    for (const SourceInfo& source : m_sources)
        if (QFile::exists(source.file))
            return source.file;
    return {};
}

SourceInfo SourceList::of(const QString& file)
{
    const auto found = std::ranges::find(m_sources, file, &SourceInfo::file);
    if (found != m_sources.end())
        return *found;
    m_sources.push_back({file, QFileInfo(file).completeBaseName(), {}, 0});
    return m_sources.back();
}

void SourceList::setTempo(const QString& file, double bpm)
{
    (void)of(file);
    std::ranges::find(m_sources, file, &SourceInfo::file)->tempo_bpm = bpm;
}

QString SourceList::next(const QString& file) const
{
    const auto found = std::ranges::find(m_sources, file, &SourceInfo::file);
    const auto at = found == m_sources.end() ? 0 : static_cast<std::size_t>(found - m_sources.begin()) + 1;
    for (std::size_t i = 0; i < m_sources.size(); ++i)
        if (const QString& one = m_sources[(at + i) % m_sources.size()].file; QFile::exists(one))
            return one;
    return {};
}

} // namespace hr::app
